import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { chartSchema, crosstabSchema, namingOf, reportSchema, varianceSchema, type Exhibit } from '../model/index.ts';
import { exhibitWithoutHidden, withoutHidden, type Sight } from './hidden-members.ts';

/** Of the members of each field one is seen. */
const SEEN: Record<string, string> = { region: 'Nordic', country: 'Sweden', line: 'Wardrobes', model: 'Fjord' };
const sight: Sight = {
  value: (field, value) => Promise.resolve(SEEN[field] === value),
  path: (fields, path) => Promise.resolve(path.length <= fields.length && path.every((member, level) => SEEN[fields[level]] === member)),
};
const seenOf = (exhibit: Exhibit): Promise<Exhibit> => exhibitWithoutHidden(exhibit, sight);

const order = (...at: string[]) => ({ by: 'measure', measure: 'net_sales', at, direction: 'desc' });
const pick = (...at: string[]) => ({ count: 3, from: 'top', measure: 'net_sales', at, per: 'parent', others: true });
const table = (part: object): Exhibit =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['line'] }, top: { fields: [] } },
    ...{ cells: [{ measure: 'net_sales' }], ...part },
  });

describe('a table names no member that is not seen', () => {
  it.each([
    ['down the side', 'side', 'top'],
    ['across the top', 'top', 'side'],
  ])('where it is ordered by, cut to or classed at a path %s', async (_where, along, ordered) => {
    const at = (...path: string[]): Exhibit =>
      table({
        [along]: { fields: ['region', 'country'] },
        [ordered]: {
          ...{ fields: ['line', 'model'], order: order(...path) },
          levels: { model: { order: order(...path), pick: pick(...path), classes: { measure: 'net_sales', at: path } } },
        },
      });
    expect(await seenOf(at('Nordic', 'Sweden'))).toEqual(at('Nordic', 'Sweden'));
    expect(await seenOf(at('Nordic', 'Norway'))).toEqual(at());
    expect(await seenOf(at('Atlantic'))).toEqual(at());
  });

  it('in orders by hand, groups and what is taken off them, branches, conditions and links', async () => {
    const named = (regions: string[], countries: string[], branches: string[][]): Exhibit =>
      table({
        side: {
          ...{ fields: ['region', 'country'], order: { by: 'hand', members: regions } },
          branches: branches.map((path) => ({ path, fields: ['region', 'country'] })),
          levels: {
            country: {
              order: { by: 'hand', members: countries },
              groups: [{ id: 'g', label: 'Some', members: countries, less: countries }],
            },
          },
        },
        filter: {
          op: 'or',
          items: [
            { op: 'in', field: 'region', values: regions },
            { op: 'not', item: { op: 'in', field: 'country', values: countries } },
            { op: 'in', field: 'line', values: ['Wardrobes'] },
          ],
        },
      });
    const seen = named(['Nordic'], ['Sweden'], [['Nordic']]);
    expect(await seenOf(named(['Atlantic', 'Nordic'], ['Norway', 'Sweden', 'Ireland'], [['Nordic'], ['Atlantic']]))).toEqual(seen);
    expect(await seenOf(seen)).toEqual(seen);
  });
});

it('what changed names neither of two members that are not seen', async () => {
  const between = (before: string, after: string): Exhibit =>
    varianceSchema.parse({
      ...{ kind: 'variance', id: 'changed', title: 'Changed', measure: 'net_sales', fields: ['line'] },
      between: { field: 'region', before, after },
    });
  expect(await seenOf(between('Nordic', 'Atlantic'))).toEqual(between('Nordic', ''));
  expect(await seenOf(between('Atlantic', 'Nordic'))).toEqual(between('', 'Nordic'));
});

it('a chart has no series and no note of a member that is not seen', async () => {
  const drawn = (part: object, through?: object): Exhibit =>
    chartSchema.parse({
      ...{ kind: 'chart', id: 'drawn', title: 'Drawn', side: { fields: ['line'] } },
      ...{ top: { fields: through ? ['model', 'region', 'country'] : ['region', 'country'] } },
      ...{ cells: [{ measure: 'net_sales' }, { measure: 'target' }], chart: { kind: 'line', through, ...part } },
    });
  const series = {
    'net_sales Nordic/Sweden': { colour: 1 },
    'target Nordic/Sweden': { hidden: true },
    target: { dashed: true },
  };
  const others = { 'net_sales Atlantic/Ireland': { colour: 2 }, 'gone Atlantic/Ireland': { colour: 3 } };
  const note = (side: string[], top: string[]): object => ({ side, top, measure: 'net_sales', text: 'Campaign' });
  const notes = [note(['Wardrobes'], ['Nordic']), note([], [])];
  const hidden = [note(['Beds'], ['Nordic']), note(['Wardrobes'], ['Atlantic'])];
  expect(await seenOf(drawn({ series: { ...others, ...series }, notes: [...hidden, ...notes] }))).toEqual(drawn({ series, notes }));
  expect(await seenOf(drawn({ series: { ...others, ...series } }, {}))).toEqual(drawn({ series }, {}));
});

describe('prompts begin with no member that is not seen', () => {
  const report = (prompt: object): z.infer<typeof reportSchema> =>
    reportSchema.parse({ schemaVersion: 1, id: 'r', title: 'R', dataset: 'd', exhibits: [], prompts: [{ id: 'where', ...prompt }] });
  const seenIn = (prompt: object): Promise<unknown> => withoutHidden(reportSchema, report(prompt), sight);

  it.each([
    ['members', (...regions: string[]) => ({ fields: ['region', 'country'], initial: { region: regions } })],
    ['branches', (...regions: string[]) => ({ kind: 'branches', fields: ['region', 'country'], initial: regions.map((one) => [one]) })],
    ['conditions', (...values: string[]) => ({ kind: 'switch', on: 'On', off: 'Off', filter: { op: 'in', field: 'region', values } })],
  ])('among %s', async (_kind, prompt) => {
    expect(await seenIn(prompt('Atlantic', 'Nordic'))).toEqual(report(prompt('Nordic')));
  });
});

describe('a setting that is new', () => {
  /** Texts that are free to hold anything and name no member, each with why; wording is what people write and read. */
  const NO_MEMBERS = new Set(
    [
      ...[
        'wording: title',
        'wording: label',
        'wording: heading',
        'wording: spanning',
        'wording: words',
        'wording: note',
        'wording: text',
        'wording: on',
      ],
      ...[
        'wording: off',
        'wording: subtitle',
        'wording: blank',
        'wording: folder',
        'wording: description',
        'wording: head',
        'wording: foot',
      ],
      ...['names: field', 'names: dataset', 'names: key'],
      // A formula is checked where it is written; who reads the measure reads its formula.
      ...['formula: formula'],
      // Periods are those of the calendar, which everyone sees.
      ...['period: from', 'period: to'],
      // A part of a text that is searched for.
      ...['searched: initial'],
    ].map((one) => one.split(': ')[1]),
  );

  /** Names of settings whose texts may be anything, whatever stands around them, and that are not marked as naming members. */
  function freeTexts(schema: z.core.$ZodType, name: string, known: Set<z.core.$ZodType>): string[] {
    if (known.has(schema) || namingOf(schema)) return [];
    known.add(schema);
    if (schema instanceof z.ZodObject)
      return Object.entries(schema.shape as Record<string, z.core.$ZodType>).flatMap(([own, part]) => freeTexts(part, own, new Set(known)));
    if (schema instanceof z.ZodUnion) return schema.options.flatMap((one) => freeTexts(one as z.core.$ZodType, name, known));
    if (schema instanceof z.ZodArray) return freeTexts(schema.element as z.core.$ZodType, name, known);
    if (schema instanceof z.ZodRecord) return freeTexts(schema.valueType as z.core.$ZodType, name, known);
    if (schema instanceof z.ZodLazy) return freeTexts(schema.unwrap() as z.core.$ZodType, name, known);
    if (
      schema instanceof z.ZodOptional ||
      schema instanceof z.ZodNullable ||
      schema instanceof z.ZodDefault ||
      schema instanceof z.ZodPrefault
    )
      return freeTexts(schema.unwrap() as z.core.$ZodType, name, known);
    // Ids, names and addresses have a form of their own.
    return schema instanceof z.ZodString && schema.format === null ? [name] : [];
  }

  it('whose texts are free is marked as naming members, or said here to name none', () => {
    const free = new Set(freeTexts(reportSchema, '', new Set()));
    expect([...free].filter((name) => !NO_MEMBERS.has(name))).toEqual([]);
    expect([...NO_MEMBERS].filter((name) => !free.has(name))).toEqual([]);
  });

  it('and is not known to the schema is not shown', async () => {
    const report = reportSchema.parse({ schemaVersion: 1, id: 'r', title: 'R', dataset: 'd', exhibits: [] });
    expect(await withoutHidden(reportSchema, { ...report, secret: 'Atlantic' } as typeof report, sight)).toEqual(report);
  });
});
