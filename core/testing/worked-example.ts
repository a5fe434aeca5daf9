import { columnFrom, rollupName, type Column, type Store, type Table } from '../engine/index.ts';
import { parseIsoDate } from '../calendar/index.ts';
import { datasetSchema, type Dataset } from '../model/index.ts';

/** The worked example of docs/formulas.md: eight records, five targets, every figure calculated by hand. */
const RECORDS = `
Nordic   Sweden  Stockholm 2025-01-15 Online   2 100.00
Nordic   Sweden  Malmö     2025-02-10 Showroom 1 300.00
Nordic   Sweden  Stockholm 2026-01-20 Online   3 100.00
Nordic   Sweden  Malmö     2026-02-28 Showroom 2 300.00
Nordic   Denmark Aarhus    2025-02-05 Showroom 4  50.00
Nordic   Denmark Aarhus    2026-01-31 Online   5  50.00
Atlantic France  Lyon      2025-01-03 Showroom 1 500.00
Atlantic France  Lyon      2026-02-14 Online   2 450.00`;

const TARGETS = `
Sweden 2026-01 400
Sweden 2026-02 500
Denmark 2026-01 300
France 2026-01 400
France 2026-02 400`;

const table = (text: string): string[][] =>
  text
    .trim()
    .split('\n')
    .map((line) => line.trim().split(/\s+/));

export const workedDataset: Dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'worked',
  label: 'Worked example',
  dimensions: [
    {
      kind: 'table',
      name: 'territory',
      label: 'Territory',
      table: 'cities',
      key: 'city',
      levels: [
        { name: 'region', label: 'Region', plural: 'regions', column: 'region', type: 'text' },
        { name: 'country', label: 'Country', plural: 'countries', column: 'country', type: 'text' },
        { name: 'city', label: 'City', plural: 'cities', column: 'city', type: 'text' },
      ],
    },
    {
      kind: 'calendar',
      name: 'calendar',
      label: 'Calendar',
      levels: [
        { name: 'year', label: 'Year', plural: 'years', period: 'year' },
        { name: 'quarter', label: 'Quarter', plural: 'quarters', period: 'quarter' },
        { name: 'month', label: 'Month', plural: 'months', period: 'month' },
        { name: 'day', label: 'Day', plural: 'days', period: 'day' },
      ],
    },
  ],
  facts: [
    {
      name: 'sales',
      label: 'Sales',
      record: { one: 'sale', many: 'sales' },
      table: 'sales',
      links: [
        { dimension: 'territory', column: 'city' },
        { dimension: 'calendar', column: 'date' },
      ],
      fields: [
        { name: 'channel', label: 'Channel', column: 'channel', type: 'text' },
        { name: 'quantity', label: 'Quantity', column: 'quantity', type: 'integer' },
        { name: 'unit_price', label: 'Unit price', column: 'unit_price', type: 'decimal', scale: 2 },
      ],
    },
    {
      name: 'targets',
      label: 'Targets',
      record: { one: 'target', many: 'targets' },
      table: 'targets',
      grain: 'Targets are set per country and month',
      links: [
        { dimension: 'territory', column: 'country', level: 'country' },
        { dimension: 'calendar', column: 'month', level: 'month' },
      ],
      fields: [{ name: 'target', label: 'Target', column: 'target', type: 'integer' }],
    },
  ],
  measures: [
    { name: 'net', label: 'Net', formula: 'sum(quantity * unit_price)' },
    { name: 'goal', label: 'Goal', formula: 'sum(target)' },
    { name: 'attainment', label: 'Attainment', formula: 'net / goal' },
    { name: 'average_price', label: 'Average price', formula: 'avg(unit_price)' },
    { name: 'cities_sold', label: 'Cities', formula: 'count_distinct(city)', fact: 'sales' },
    { name: 'online_share', label: 'Online share', formula: "sum(quantity * unit_price where channel = 'Online') / net" },
  ],
});

/** References to the rows of a table by one of its columns' texts; 0 is none. */
const references = (keys: string[], values: string[]): Int32Array => Int32Array.from(values, (value) => keys.indexOf(value) + 1);

/** The example in memory. */
export function workedStore(): Store {
  const records = table(RECORDS);
  const targets = table(TARGETS);
  const cities = [...new Map(records.map(([region, country, city]) => [city, { region, country, city }])).values()];
  const countries = [...new Map(cities.map(({ region, country }) => [country, { region, country }])).values()];
  const first = parseIsoDate('2025-01-01')!;
  const day = (iso: string): number => parseIsoDate(iso)! - first + 1;
  const texts = (values: string[]): Column => columnFrom('text', values);
  const dimension: Table = {
    rows: cities.length,
    columns: {
      region: texts(cities.map((one) => one.region)),
      country: texts(cities.map((one) => one.country)),
      city: texts(cities.map((one) => one.city)),
    },
  };
  return {
    version: 'worked@1',
    calendar: { first, days: parseIsoDate('2026-12-31')! - first + 1 },
    dimensions: { territory: dimension },
    rollups: {
      [rollupName('territory', 'country')]: {
        rows: countries.length,
        columns: { region: texts(countries.map((one) => one.region)), country: texts(countries.map((one) => one.country)) },
      },
    },
    facts: {
      sales: {
        rows: records.length,
        columns: {
          channel: texts(records.map((record) => record[4])),
          quantity: columnFrom(
            'integer',
            records.map((record) => record[5]),
          ),
          unit_price: columnFrom(
            'decimal',
            records.map((record) => record[6]),
            2,
          ),
        },
        links: {
          territory: references(
            cities.map((one) => one.city),
            records.map((record) => record[2]),
          ),
          calendar: Int32Array.from(records, (record) => day(record[3])),
        },
      },
      targets: {
        rows: targets.length,
        columns: {
          target: columnFrom(
            'integer',
            targets.map((target) => target[2]),
          ),
        },
        links: {
          territory: references(
            countries.map((one) => one.country),
            targets.map((target) => target[0]),
          ),
          calendar: Int32Array.from(targets, (target) => day(`${target[1]}-01`)),
        },
      },
    },
  };
}
