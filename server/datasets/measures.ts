import type { MeasureUse } from '@bold-compass/core/api';
import { namesIn } from '@bold-compass/core/formula';
import type { Report } from '@bold-compass/core/model';
import { isNull } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { maySee, type Caller } from '../people/index.ts';

const usesMeasure = (report: Report, measure: string): boolean => JSON.stringify(report.exhibits).includes(`"${measure}"`);

/** All measures of all datasets that a person sees, and where each is used. */
export async function allMeasures(db: Database, caller: Caller): Promise<MeasureUse[]> {
  const [datasets, reports] = await Promise.all([
    db.select().from(tables.datasets).orderBy(tables.datasets.name),
    db.select({ draft: tables.reports.draft }).from(tables.reports).where(isNull(tables.reports.deletedAt)).orderBy(tables.reports.id),
  ]);
  const seen = datasets.filter((dataset) => maySee(caller, dataset));
  return seen.flatMap(({ definition }) =>
    definition.measures.map(({ name, label, description, formula, fact }): MeasureUse => ({
      ...{ dataset: definition.name, datasetLabel: definition.label, name, label, formula },
      description: description ?? '',
      fact: definition.facts.find((one) => one.name === fact)?.label ?? '',
      usedBy: reports
        .map(({ draft }) => draft)
        .filter((report) => report.dataset === definition.name && usesMeasure(report, name))
        .map(({ id, title }) => ({ id, title })),
      usedIn: definition.measures
        .filter((other) => other.name !== name && namesIn(other.formula).has(name.toLowerCase()))
        .map((other) => other.label),
    })),
  );
}
