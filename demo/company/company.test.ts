import { createHash } from 'node:crypto';
import { civilOf } from '@bold-compass/core/calendar';
import { describe, expect, it } from 'vitest';
import { demoTables } from '../tables.ts';
import { customers, employees, models, orderLines, repairs, showrooms, UNSOLD, type OrderLine } from './index.ts';

const rooms = showrooms();
const range = models();
const staff = employees(rooms);
const clients = customers(rooms);
const lines: OrderLine[] = [...orderLines(rooms, range, clients, staff)];
const counted = lines.filter((line) => line.status !== 'Cancelled' && line.status !== 'Returned');
const net = (line: OrderLine): number => line.quantity * line.unitPrice - line.discount;
const year = (line: OrderLine): number => civilOf(line.date).year;
const month = (line: OrderLine): number => civilOf(line.date).month;
const total = (some: OrderLine[]): number => some.reduce((sum, line) => sum + net(line), 0);

describe('Hollin & Marsh', () => {
  it('is the same each time', () => {
    const digest = (): string => {
      const hash = createHash('sha256');
      for (const table of demoTables()) {
        let rows = 0;
        for (const row of table.rows) {
          hash.update(row.join('|'));
          if (++rows === 20_000) break;
        }
      }
      return hash.digest('hex');
    };
    expect(digest()).toBe(digest());
  });

  it('has the size it is described with', () => {
    expect(rooms).toHaveLength(110);
    expect(new Set(rooms.map((room) => room.city)).size).toBe(60);
    expect(new Set(rooms.map((room) => room.country)).size).toBe(19);
    expect(new Set(rooms.map((room) => room.region)).size).toBe(4);
    expect(range).toHaveLength(190);
    expect(new Set(range.map((model) => model.family)).size).toBe(24);
    expect(staff).toHaveLength(420);
    expect(clients.length).toBeGreaterThan(11_800);
    expect(lines.length).toBeGreaterThan(390_000);
    expect(lines.length).toBeLessThan(410_000);
  });

  it('has a reporting line of four to six levels that ends at one director', () => {
    const byId = new Map(staff.map((person) => [person.id, person]));
    const depth = (id: number): number => {
      const { manager } = byId.get(id)!;
      return manager === null ? 1 : 1 + depth(manager);
    };
    const advisers = staff.filter((person) => person.title === 'Adviser').map((person) => depth(person.id));
    expect([Math.min(...advisers), Math.max(...advisers)]).toEqual([5, 6]);
    expect(staff.filter((person) => person.manager === null)).toHaveLength(1);
  });
});

describe('its stories are in the numbers', () => {
  it('a school-year peak in late summer and a gift peak in December', () => {
    const byMonth = Array.from({ length: 12 }, (_, index) =>
      total(counted.filter((line) => year(line) === 2025 && month(line) === index + 1)),
    );
    const quiet = byMonth[4];
    expect(byMonth[8]).toBeGreaterThan(quiet * 1.3);
    expect(byMonth[11]).toBeGreaterThan(quiet * 1.4);
  });

  it('one region slides', () => {
    const inRegion = (region: string, of: number): number =>
      total(counted.filter((line) => line.showroom.region === region && year(line) === of && month(line) <= 10));
    expect(inRegion('Mediterranean', 2026)).toBeLessThan(inRegion('Mediterranean', 2024) * 0.9);
    expect(inRegion('Nordic', 2026)).toBeGreaterThan(inRegion('Nordic', 2024));
  });

  it('one family grows through Online', () => {
    const share = (of: number): number => {
      const online = counted.filter((line) => line.channel === 'Online' && year(line) === of);
      return online.filter((line) => line.model.family === 'Hand drums').length / online.length;
    };
    expect(share(2026)).toBeGreaterThan(share(2023) + 0.05);
  });

  it('one country misses what it promised for repairs', () => {
    const late = (country: string): number => {
      const done = [...repairs(rooms, range)].filter((repair) => repair.showroom.country === country && repair.returned !== null);
      return done.filter((repair) => repair.returned! > repair.promised).length / done.length;
    };
    expect(late('Italy')).toBeGreaterThan(0.25);
    expect(late('Germany')).toBeLessThan(0.13);
  });

  it('a showroom opened in 2024, one closed in 2025, a model nobody bought, missing values', () => {
    const opened = rooms.find((room) => civilOf(room.opened).year === 2024)!;
    const closed = rooms.find((room) => room.closed !== null)!;
    expect(civilOf(closed.closed!).year).toBe(2025);
    expect(lines.filter((line) => line.showroom === opened && line.date < opened.opened)).toEqual([]);
    expect(lines.filter((line) => line.showroom === closed && line.date > closed.closed!)).toEqual([]);
    expect(lines.filter((line) => line.showroom === opened).length).toBeGreaterThan(500);
    expect(lines.filter((line) => line.model.name === UNSOLD)).toEqual([]);
    expect(lines.some((line) => line.channel === null)).toBe(true);
    expect(lines.some((line) => line.adviser === null)).toBe(true);
  });
});
