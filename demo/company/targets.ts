import { civilOf, dayOf, type Day } from '@bold-compass/core/calendar';
import { PLANNED_GROWTH, SEASON, yearsSinceStart, type OrderLine } from './orders.ts';
import { randomFrom } from './random.ts';
import { FIRST_DAY, TODAY } from './territory.ts';

export interface Target {
  country: string;
  line: string;
  /** First day of the month. */
  month: Day;
  /** In cents. */
  revenue: number;
  units: number;
}

/** Adds up what was sold by country and line, to set targets from. */
export class SoldSoFar {
  private readonly sold = new Map<string, { country: string; line: string; revenue: number; units: number }>();

  add({ showroom: { country }, model: { line }, quantity, unitPrice, discount, status }: OrderLine): void {
    if (status === 'Cancelled' || status === 'Returned') return;
    const key = `${country}|${line}`;
    let entry = this.sold.get(key);
    if (!entry) this.sold.set(key, (entry = { country, line, revenue: 0, units: 0 }));
    entry.revenue += quantity * unitPrice - discount;
    entry.units += quantity;
  }

  /** Targets per country, line and month: season and planned growth, but none of the stories, which the plan did not foresee. */
  targets(): Target[] {
    const random = randomFrom(61);
    const months: { first: Day; weight: number }[] = [];
    for (let day = FIRST_DAY; day <= TODAY;) {
      const { year, month } = civilOf(day);
      months.push({ first: day, weight: SEASON[month - 1] * (PLANNED_GROWTH + 0.018) ** yearsSinceStart(day) });
      day = month === 12 ? dayOf(year + 1, 1, 1) : dayOf(year, month + 1, 1);
    }
    const total = months.reduce((sum, month) => sum + month.weight, 0);
    return [...this.sold.values()].flatMap(({ country, line, revenue, units }) => {
      const ambition = 0.985 + 0.05 * random.next();
      return months.map(({ first, weight }) => {
        const part = (weight / total) * ambition * (0.97 + 0.06 * random.next());
        return { country, line, month: first, revenue: Math.round((revenue * part) / 10_000) * 10_000, units: Math.round(units * part) };
      });
    });
  }
}
