import { civilOf, isoWeekday, type Day } from '@bold-compass/core/calendar';
import type { Customer, Employee } from './people.ts';
import type { Model } from './products.ts';
import { randomFrom, weightedPicker, type Random } from './random.ts';
import { FIRST_DAY, TODAY, type Showroom } from './territory.ts';

export interface OrderLine {
  order: number;
  date: Day;
  showroom: Showroom;
  model: Model;
  /** Null where the till did not record it. */
  channel: string | null;
  customer: Customer;
  adviser: Employee | null;
  quantity: number;
  /** In cents, like the other amounts. */
  unitPrice: number;
  discount: number;
  cost: number;
  status: 'Delivered' | 'Open' | 'Cancelled' | 'Returned';
}

const LINES = 400_000;
/** Sales by month: a school-year peak in late summer and a gift peak in December. */
export const SEASON = [0.86, 0.8, 0.88, 0.86, 0.88, 0.84, 0.86, 1.28, 1.36, 1.0, 1.06, 1.52];
const WEEKDAY = [0.9, 0.92, 0.96, 1.0, 1.18, 1.42, 0.3];
/** Growth a year that the plan reckons with. */
export const PLANNED_GROWTH = 1.035;

export const yearsSinceStart = (day: Day): number => (day - FIRST_DAY) / 365.25;

/** How much a place sells on a day beside what size and season say: the stories of the territory. */
function story(room: Showroom, day: Day): number {
  if (day < room.opened || (room.closed !== null && day > room.closed)) return 0;
  const years = yearsSinceStart(day);
  if (room.region === 'Mediterranean' && years > 1.6) return Math.max(0.68, 1.04 - 0.14 * (years - 1.6));
  if (room.country === 'Netherlands') return 1 + 0.02 * years;
  if (room.region === 'Nordic') return 0.98 + 0.022 * years;
  if (room.region === 'Atlantic' && years > 3) return 0.965;
  // A new showroom needs a year to find its customers.
  return Math.min(1, 0.35 + (day - room.opened) / 420 + (room.opened === FIRST_DAY ? 1 : 0));
}

const CHANNELS = ['Showroom', 'Online', 'Schools', 'Rental'];

function channelOf(random: Random, day: Day, online: number): string {
  const month = civilOf(day).month;
  const schools = month === 8 || month === 9 ? 0.26 : 0.13;
  const at = weightedPicker([0.6, online, schools, 0.09])(random);
  return CHANNELS[at];
}

/** Days by showroom, drawn in proportion to what is sold. */
function dayPicker(room: Showroom): (random: Random) => number {
  const weights: number[] = [];
  for (let day = FIRST_DAY; day <= TODAY; day++) {
    weights.push(SEASON[civilOf(day).month - 1] * WEEKDAY[isoWeekday(day) - 1] * PLANNED_GROWTH ** yearsSinceStart(day) * story(room, day));
  }
  const pick = weightedPicker(weights);
  return (random) => FIRST_DAY + pick(random);
}

/** All order lines, one showroom after another. */
export function* orderLines(rooms: Showroom[], range: Model[], everyone: Customer[], staff: Employee[]): Generator<OrderLine> {
  const random = randomFrom(53);
  const pickModel = weightedPicker(range.map((model) => model.popularity));
  const handDrums = range.map((model, index) => ({ model, index })).filter(({ model }) => model.family === 'Hand drums');
  const total = rooms.reduce((sum, room) => sum + room.size, 0);
  const byCountry = groupBy(everyone, (customer) => customer.country);
  const advisersOf = groupBy(
    staff.filter((person) => person.title.endsWith('dviser')),
    (person) => person.showroom,
  );
  let order = 700_000;
  for (const room of rooms) {
    const pickDay = dayPicker(room);
    const share = Math.round((room.size / total) * LINES * (room.closed !== null ? 0.6 : room.opened > FIRST_DAY ? 0.55 : 1));
    const clients = byCountry.get(room.country)!;
    const advisers = advisersOf.get(room.id)!;
    for (let n = 0; n < share;) {
      const date = pickDay(random);
      const years = yearsSinceStart(date);
      const online = 0.16 + 0.02 * years;
      const channel = channelOf(random, date, online);
      const customer = clients[Math.floor(random.next() ** 1.6 * clients.length)];
      const adviser = channel === 'Online' ? null : random.pick(advisers);
      const lines = 1 + Math.floor(random.next() ** 2 * 4);
      order++;
      for (let line = 0; line < lines && n < share; line++, n++) {
        // One family grows through Online: hand drums, from little to a tenth of all lines sold there.
        const drums = channel === 'Online' && random.next() < 0.03 * years;
        const model = drums ? random.pick(handDrums).model : range[pickModel(random)];
        yield {
          order,
          date,
          showroom: room,
          model,
          customer,
          adviser,
          channel: random.next() < 0.002 ? null : channel,
          ...amounts(random, model, channel, customer, date),
        };
      }
    }
  }
}

function amounts(
  random: Random,
  model: Model,
  channel: string,
  customer: Customer,
  date: Day,
): Pick<OrderLine, 'quantity' | 'unitPrice' | 'discount' | 'cost' | 'status'> {
  const small = model.listPrice < 100;
  const bulk = channel === 'Schools' || customer.segment === 'School';
  const quantity = 1 + (small ? random.below(4) : 0) + (bulk && model.listPrice < 1500 ? random.below(5) : 0);
  const inflation = 1 + 0.018 * yearsSinceStart(date);
  const rental = channel === 'Rental' ? 0.14 : 1;
  const unitPrice = Math.round(model.listPrice * inflation * rental * 100);
  const rate = random.next() < 0.55 ? 0 : bulk ? 0.05 + 0.13 * random.next() : 0.02 + 0.09 * random.next();
  const discount = Math.round(unitPrice * quantity * rate);
  const cost = Math.round(model.cost * inflation * rental * 100 * (0.97 + 0.06 * random.next())) * quantity;
  const draw = random.next();
  const recent = date > TODAY - 12;
  const status = draw < 0.022 ? 'Cancelled' : draw < 0.047 ? 'Returned' : recent && draw < 0.6 ? 'Open' : 'Delivered';
  return { quantity, unitPrice, discount, cost, status };
}

/** Items by a key, in their order. */
function groupBy<Item, Key>(items: readonly Item[], key: (item: Item) => Key): Map<Key, Item[]> {
  const groups = new Map<Key, Item[]>();
  for (const item of items) {
    const own = key(item);
    const group = groups.get(own);
    if (group) group.push(item);
    else groups.set(own, [item]);
  }
  return groups;
}
