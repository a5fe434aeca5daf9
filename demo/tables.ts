import { isoDate } from '@bold-compass/core/calendar';
import { customers, employees, models, orderLines, repairs, schoolVisits, showrooms, SoldSoFar } from './company/index.ts';

type Cell = string | number | boolean | null;

/** A table of the demo company: its columns in SQL, and its rows one by one. */
export interface DemoTable {
  name: string;
  columns: string;
  rows: Iterable<Cell[]>;
}

const money = (cents: number): string => (cents / 100).toFixed(2);
const day = (value: number | null): string | null => (value === null ? null : isoDate(value));

/** All tables, to be loaded in this order: targets are set from what the order lines add up to. */
export function demoTables(): DemoTable[] {
  const rooms = showrooms();
  const range = models();
  const staff = employees(rooms);
  const clients = customers(rooms);
  const sold = new SoldSoFar();
  let orderLine = 0;
  return [
    {
      name: 'showrooms',
      columns:
        'showroom_id integer PRIMARY KEY, showroom text NOT NULL, city text NOT NULL, country text NOT NULL, region text NOT NULL, opened date NOT NULL, closed date, latitude numeric(8,4) NOT NULL, longitude numeric(8,4) NOT NULL',
      rows: rooms.map(({ id, name, city, country, region, opened, closed, latitude, longitude }) => [
        ...[id, name, city, country, region, day(opened), day(closed)],
        ...[latitude.toFixed(4), longitude.toFixed(4)],
      ]),
    },
    {
      name: 'models',
      columns:
        'model_id integer PRIMARY KEY, model text NOT NULL, family text NOT NULL, line text NOT NULL, list_price numeric(12,2) NOT NULL, cost numeric(12,2) NOT NULL',
      rows: range.map((model) => [model.id, model.name, model.family, model.line, model.listPrice.toFixed(2), model.cost.toFixed(2)]),
    },
    {
      name: 'employees',
      columns: 'employee_id integer PRIMARY KEY, employee text NOT NULL, title text NOT NULL, manager_id integer, showroom_id integer',
      rows: staff.map((person) => [person.id, person.name, person.title, person.manager, person.showroom]),
    },
    {
      name: 'customers',
      columns: 'customer_id integer PRIMARY KEY, customer text NOT NULL, segment text, country text NOT NULL',
      rows: clients.map((client) => [client.id, client.name, client.segment || null, client.country]),
    },
    {
      name: 'order_lines',
      columns:
        'order_line_id integer PRIMARY KEY, order_number integer NOT NULL, order_date date NOT NULL, showroom_id integer NOT NULL, model_id integer NOT NULL, channel text, customer_id integer NOT NULL, adviser_id integer, quantity integer NOT NULL, unit_price numeric(12,2) NOT NULL, discount numeric(12,2) NOT NULL, net_amount numeric(12,2) NOT NULL, cost numeric(12,2) NOT NULL, status text NOT NULL',
      rows: (function* (): Generator<Cell[]> {
        for (const line of orderLines(rooms, range, clients, staff)) {
          sold.add(line);
          const { showroom, model, customer, adviser } = line;
          yield [
            ++orderLine,
            line.order,
            isoDate(line.date),
            showroom.id,
            model.id,
            line.channel,
            customer.id,
            adviser?.id ?? null,
            line.quantity,
            money(line.unitPrice),
            money(line.discount),
            money(line.quantity * line.unitPrice - line.discount),
            money(line.cost),
            line.status,
          ];
        }
      })(),
    },
    {
      name: 'targets',
      columns:
        'country text NOT NULL, line text NOT NULL, month date NOT NULL, revenue numeric(14,2) NOT NULL, units integer NOT NULL, PRIMARY KEY (country, line, month)',
      rows: (function* (): Generator<Cell[]> {
        for (const target of sold.targets())
          yield [target.country, target.line, isoDate(target.month), money(target.revenue), target.units];
      })(),
    },
    {
      name: 'repairs',
      columns:
        'repair_id integer PRIMARY KEY, received date NOT NULL, promised date NOT NULL, returned date, promise_kept boolean, showroom_id integer NOT NULL, family text NOT NULL, satisfaction integer',
      rows: (function* (): Generator<Cell[]> {
        for (const { id, received, promised, returned, showroom, family, satisfaction } of repairs(rooms, range)) {
          yield [
            id,
            isoDate(received),
            isoDate(promised),
            day(returned),
            returned === null ? null : returned <= promised,
            showroom.id,
            family,
            satisfaction,
          ];
        }
      })(),
    },
    {
      name: 'school_visits',
      columns:
        'visit_id integer PRIMARY KEY, adviser_id integer NOT NULL, showroom_id integer NOT NULL, visit_date date NOT NULL, hours numeric(4,1) NOT NULL, pupils integer NOT NULL, instruments_lent integer NOT NULL',
      rows: (function* (): Generator<Cell[]> {
        for (const visit of schoolVisits(rooms, staff))
          yield [visit.id, visit.adviser.id, visit.showroom.id, isoDate(visit.date), visit.hours, visit.pupils, visit.lent];
      })(),
    },
  ];
}
