import { isoWeekday, type Day } from '@bold-compass/core/calendar';
import type { Employee } from './people.ts';
import type { Model } from './products.ts';
import { randomFrom, weightedPicker } from './random.ts';
import { FIRST_DAY, TODAY, type Showroom } from './territory.ts';

export interface Repair {
  id: number;
  received: Day;
  promised: Day;
  /** Null while the instrument is in the workshop. */
  returned: Day | null;
  showroom: Showroom;
  family: string;
  /** 1 to 5; null where nobody answered. */
  satisfaction: number | null;
}

const REPAIRS = 40_000;
/** The country whose workshops keep missing their promise. */
const LATE_COUNTRY = 'Italy';

export function* repairs(rooms: Showroom[], range: Model[]): Generator<Repair> {
  const random = randomFrom(71);
  const families = [...new Set(range.filter((model) => model.line !== 'Care and accessories').map((model) => model.family))];
  const pickRoom = weightedPicker(rooms.map((room) => room.size));
  for (let id = 1; id <= REPAIRS; id++) {
    const showroom = rooms[pickRoom(random)];
    const last = showroom.closed ?? TODAY;
    const received = showroom.opened + random.below(last - showroom.opened + 1);
    const promised = received + 5 + random.below(18);
    const lateChance = showroom.country === LATE_COUNTRY ? 0.31 : showroom.region === 'Nordic' ? 0.05 : 0.09;
    const late = random.next() < lateChance;
    const done = late ? promised + 1 + random.below(14) : promised - random.below(5);
    const returned = done <= TODAY ? done : null;
    const score = Math.round(Math.min(5, Math.max(1, (late ? 2.7 : 4.3) + 0.8 * random.normal())));
    yield {
      id,
      received,
      promised,
      returned,
      showroom,
      family: random.pick(families),
      satisfaction: returned === null || random.next() < 0.22 ? null : score,
    };
  }
}

export interface SchoolVisit {
  id: number;
  adviser: Employee;
  showroom: Showroom;
  date: Day;
  hours: number;
  pupils: number;
  lent: number;
}

const VISITS = 9_000;

export function* schoolVisits(rooms: Showroom[], staff: Employee[]): Generator<SchoolVisit> {
  const random = randomFrom(83);
  const advisers = staff.filter((person) => person.title.endsWith('dviser'));
  const roomById = new Map(rooms.map((room) => [room.id, room]));
  for (let id = 1; id <= VISITS;) {
    const adviser = random.pick(advisers);
    const showroom = roomById.get(adviser.showroom!)!;
    const date = FIRST_DAY + random.below(TODAY - FIRST_DAY + 1);
    if (isoWeekday(date) > 5 || date < showroom.opened || (showroom.closed !== null && date > showroom.closed)) continue;
    const pupils = 8 + random.below(60);
    yield { id: id++, adviser, showroom, date, hours: 1 + random.below(10) / 2, pupils, lent: Math.round(pupils * 0.3 * random.next()) };
  }
}
