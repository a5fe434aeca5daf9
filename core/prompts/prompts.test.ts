import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isoDate, parseIsoDate } from '../calendar/index.ts';
import { runQuery } from '../engine/index.ts';
import { plainMemberLabel } from '../format/index.ts';
import { datasetSchema, promptSchema, reportSchema, type Filter, type Prompt, type Report } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import {
  branchesChoice,
  choiceOf,
  conditionsFor,
  daysOfChoice,
  exclusion,
  initialReaderScope,
  isAnswered,
  periodChoiceText,
  PROMPT_KINDS,
  promptFaults,
  promptKindOf,
  promptValues,
  promptWords,
  readPeriodChoice,
  startingWith,
  swapsFor,
  unanswered,
} from './index.ts';

const days = { first: parseIsoDate('2025-01-01')!, last: parseIsoDate('2026-02-28')! };
const wording = { dataset: workedDataset, label: plainMemberLabel(workedDataset, 'en-GB'), locale: 'en-GB', days };
const context = { dataset: workedDataset, days };
const prompt = (part: object): Prompt => promptSchema.parse({ id: 'p', ...part });
const conditionOf = (own: Prompt, choice: string[]): Filter | null => promptKindOf(own).condition?.(own, choice, context) ?? null;
const isChoice = (own: Prompt, choice: string[]): boolean => promptKindOf(own).isChoice(own, choice, workedDataset);
const words = (own: Prompt, choice: string[]): string => promptWords(own, { scope: {}, choices: { p: choice } }, wording);
const reportOf = (prompts: object[], part: object = {}): Report =>
  reportSchema.parse({ schemaVersion: 1, id: 'r', title: 'R', dataset: workedDataset.name, exhibits: [], prompts, ...part });

/** The records of the worked example that are left under a condition. */
function records(filter: Filter | null): number {
  const { sets } = runQuery(workedDataset, workedStore(), { fact: 'sales', filter, levels: [], sets: [[]], aggregates: [] });
  return sets[0].records[0] ?? 0;
}
const ALL = 8;

describe('documents of old', () => {
  it('do not say the kind of prompts for members, and are read as such', () => {
    expect(prompt({ fields: ['region', 'country'] })).toEqual({
      id: 'p',
      kind: 'members',
      fields: ['region', 'country'],
      multiple: true,
      initial: {},
    });
    expect(promptSchema.safeParse({ id: 'p', kind: 'unknown', fields: ['region'] }).success).toBe(false);
  });
});

describe('members', () => {
  const own = prompt({ fields: ['region', 'country'] });
  it('left out leave the rest, and together make all', () => {
    const but = conditionOf(own, [exclusion('country', ['Sweden', 'Denmark'])]);
    expect(records(but)).toBe(2);
    expect(records(but) + records({ op: 'in', field: 'country', values: ['Sweden', 'Denmark'] })).toBe(ALL);
    expect(words(own, [exclusion('country', ['Sweden', 'Denmark'])])).toBe('every region, every country but Sweden and Denmark');
  });
  it.each([[['["city","Malmö"]']], [['not json']], [['{"field":"country"}']], [['["country",3]']]])(
    '%j is no choice of theirs',
    (choice) => {
      expect(isChoice(own, choice)).toBe(false);
    },
  );
});

describe('branches', () => {
  const own = prompt({ kind: 'branches', fields: ['region', 'country', 'city'] });
  it('stand at any level, and all but some are the rest', () => {
    const some = [['Atlantic'], ['Nordic', 'Denmark']];
    expect(records(conditionOf(own, branchesChoice(some, false)))).toBe(4);
    expect(records(conditionOf(own, branchesChoice(some, true)))).toBe(4);
    expect(words(own, branchesChoice(some, false))).toBe('Atlantic and Denmark');
    expect(words(own, [])).toMatch(/^the whole /);
  });
  it('and the rest are never counted twice, whichever are chosen', () => {
    const paths = [
      ['Nordic'],
      ['Atlantic'],
      ['Nordic', 'Sweden'],
      ['Nordic', 'Denmark'],
      ['Nordic', 'Sweden', 'Malmö'],
      ['Atlantic', 'France', 'Lyon'],
    ];
    fc.assert(
      fc.property(fc.subarray(paths, { minLength: 1 }), (some) => {
        const [inside, outside] = [false, true].map((isLeftOut) => records(conditionOf(own, branchesChoice(some, isLeftOut))));
        expect(inside + outside).toBe(ALL);
      }),
    );
  });
  it('longer than the hierarchy are no choice', () => {
    expect(isChoice(own, branchesChoice([['a', 'b', 'c', 'd']], false))).toBe(false);
  });
});

describe('numbers from one to another', () => {
  const own = prompt({ kind: 'range', field: 'unit_price', initial: { low: 100 } });
  it.each([
    [['100', '300'], { op: 'between', field: 'unit_price', low: 100, high: 300 }, '100 to 300', 4],
    [['100', ''], { op: 'ge', field: 'unit_price', value: 100 }, 'from 100', 6],
    [['', '50'], { op: 'le', field: 'unit_price', value: 50 }, 'up to 50', 2],
  ])('%j', (choice, filter, text, count) => {
    expect(conditionOf(own, choice)).toEqual(filter);
    expect(words(own, choice)).toBe(text);
    expect(records(filter as Filter)).toBe(count);
  });
  it('start as written, and refuse what is no number', () => {
    expect(choiceOf(own, {})).toEqual(['100', '']);
    expect(
      [
        ['x', ''],
        [' ', ''],
        ['1', '2', '3'],
        ['Infinity', ''],
      ].map((choice) => isChoice(own, choice)),
    ).toEqual([false, false, false, false]);
  });
});

describe('dates from one to another', () => {
  const own = prompt({ kind: 'dates', field: 'date' });
  it('are days of ISO 8601', () => {
    expect(conditionOf(own, ['2026-01-01', '2026-01-31'])).toEqual({ op: 'between', field: 'date', low: '2026-01-01', high: '2026-01-31' });
    expect(words(own, ['2026-01-01', '2026-01-31'])).toBe('1 January 2026 to 31 January 2026');
    expect(['2026-02-30', '2026-1-1', 'yesterday'].map((text) => isChoice(own, [text, '']))).toEqual([false, false, false]);
  });
});

describe('periods', () => {
  const own = prompt({ kind: 'period', calendar: 'calendar' });
  const [calendar] = workedDataset.dimensions.filter((one) => one.kind === 'calendar');
  const span = (choice: string[], last: string): string => {
    const range = daysOfChoice(calendar, readPeriodChoice(choice)!, { ...days, last: parseIsoDate(last)! });
    return range ? `${isoDate(range.first)} ${isoDate(range.last)}` : 'none';
  };
  // Worked out by hand from the calendar.
  it.each([
    [['month', '2026-01', '2026-03'], '2026-02-28', '2026-01-01 2026-03-31'],
    [['month', '2026-03', '2026-01'], '2026-02-28', '2026-01-01 2026-03-31'],
    [['last', '3', 'month'], '2026-02-28', '2025-12-01 2026-02-28'],
    [['last', '3', 'month'], '2026-02-27', '2025-11-01 2026-01-31'],
    [['last', '1', 'quarter'], '2026-02-28', '2025-10-01 2025-12-31'],
    [['last', '2', 'iso_week'], '2026-01-04', '2025-12-22 2026-01-04'],
    [['to_date', 'year'], '2026-02-10', '2026-01-01 2026-02-10'],
    [['to_date', 'quarter'], '2026-05-10', '2026-04-01 2026-05-10'],
    [['complete', 'month'], '2026-02-27', '2025-01-01 2026-01-31'],
    [['complete', 'month'], '2024-02-29', '2025-01-01 2024-02-29'],
  ])('%j with data to %s are the days %s', (choice, last, expected) => {
    expect(span(choice, last)).toBe(expected);
  });
  it.each([
    [['month', '2026-01', '2026-01'], 'January 2026'],
    [['quarter', '2025-Q3', '2026-Q1'], 'Q3 2025 to Q1 2026'],
    [['last', '1', 'month'], 'the last complete month'],
    [['last', '3', 'month'], 'the last 3 complete months'],
    [['to_date', 'year'], 'the year to date'],
    [['complete', 'month'], 'everything up to the last full month'],
    [[], 'all dates'],
  ])('%j read %s', (choice, expected) => {
    expect(words(own, choice)).toBe(expected);
  });
  it.each([
    [['month', '2026-13', '2026-01']],
    [['weekday', '1', '2']],
    [['last', '0', 'month']],
    [['last', '1.5', 'month']],
    [['to_date', 'age']],
    [['x']],
  ])('%j is no period', (choice) => {
    expect(isChoice(own, choice)).toBe(false);
  });
  it('come back from their texts', () => {
    for (const choice of [
      { unit: 'month', from: '2026-01', to: '2026-02' },
      { last: 3, unit: 'week' },
      { toDate: 'year' },
      { complete: 'month' },
    ] as const)
      expect(readPeriodChoice(periodChoiceText(choice))).toEqual(choice);
  });
  it('are conditions on the calendar', () => {
    expect(records(conditionOf(own, ['month', '2026-01', '2026-01']))).toBe(2);
    expect(records(conditionOf(own, ['last', '1', 'year']))).toBe(4);
    expect(records(conditionOf(own, ['to_date', 'year']))).toBe(4);
  });
});

describe('texts', () => {
  const own = prompt({ kind: 'text', field: 'city' });
  it('are found whatever their case', () => {
    expect(records(conditionOf(own, ['HOLM']))).toBe(2);
    expect(records(conditionOf(own, ['malmö']))).toBe(2);
    expect(conditionOf(own, [])).toBeNull();
    expect(words(own, ['holm'])).toBe('city with “holm”');
  });
});

describe('measures and levels to show', () => {
  const measure = { id: 'm', kind: 'measure', measures: ['net', 'goal'] };
  const levels = {
    id: 'd',
    kind: 'dimension',
    choices: [
      { label: 'Territory', fields: ['region', 'country'] },
      { label: 'Channel', fields: ['channel'] },
    ],
  };
  const exhibit = {
    kind: 'crosstab',
    id: 'x',
    title: 'X',
    side: { fields: ['region', 'country', 'city'] },
    top: { fields: ['year'] },
    cells: [{ measure: 'net' }],
  };
  const report = reportOf([measure, levels], { exhibits: [exhibit] });
  it('stand in the place of others only where the reader chose so', () => {
    expect(swapsFor(report, {}, report.exhibits[0])).toEqual([]);
    const [first, second] = swapsFor(report, { m: ['goal'], d: ['Channel'] }, report.exhibits[0]);
    expect([...first.measures]).toEqual([
      ['net', 'goal'],
      ['goal', 'net'],
    ]);
    expect(second.fields).toEqual([{ from: ['region', 'country'], to: ['channel'] }]);
  });
  it('are those that the prompt offers', () => {
    expect(isChoice(prompt(measure), ['avg_price'])).toBe(false);
    expect(isChoice(prompt(levels), ['Customer'])).toBe(false);
  });
});

describe('values for formulas', () => {
  const report = reportOf([
    { id: 'discount', kind: 'number', initial: 0.1, min: 0, max: 0.5, percent: true },
    { id: 'returns', kind: 'switch', name: 'with_returns', on: 'with returns', off: 'without returns', initial: true },
    { id: 'territory', fields: ['region', 'country'] },
    { id: 'channel', fields: ['channel'] },
  ]);
  it('are the first choices until the reader chooses, and missing where nothing or several are chosen', () => {
    expect(promptValues(report, initialReaderScope(report))).toEqual({
      ...{ discount: { type: 'number', value: 0.1 }, with_returns: { type: 'boolean', value: 1 } },
      ...{ region: { type: 'text', value: null }, country: { type: 'text', value: null }, channel: { type: 'text', value: null } },
    });
    const chosen = promptValues(report, {
      scope: { channel: ['Online'], region: ['Nordic', 'Atlantic'] },
      choices: { discount: ['0.25'], returns: ['off'] },
    });
    expect([chosen.channel.value, chosen.region.value, chosen.discount.value, chosen.with_returns.value]).toEqual([
      'Online',
      null,
      0.25,
      0,
    ]);
  });
  it('keep to their limits, which a band includes', () => {
    const [number] = report.prompts;
    expect(['0', '0.5', '0.51', '-0.01', '', 'x'].map((text) => isChoice(number, [text]))).toEqual([
      true,
      true,
      false,
      false,
      false,
      false,
    ]);
    expect(promptWords(number, { scope: {}, choices: { discount: ['0.125'] } }, wording)).toMatch(/^12.5\s?%$/);
  });
});

describe('what a prompt is about', () => {
  const pages = [
    { id: 'one', title: 'One' },
    { id: 'two', title: 'Two' },
  ];
  const exhibits = ['a', 'b'].map((id, index) => ({
    ...{ kind: 'crosstab', id, title: id, page: pages[index].id },
    ...{ side: { fields: [] }, top: { fields: [] }, cells: [] },
  }));
  const report = reportOf(
    [
      { id: 'channel', fields: ['channel'], reach: { pages: ['one'] } },
      { id: 'price', kind: 'range', field: 'unit_price', initial: { low: 100 }, reach: { exhibits: ['b'] } },
    ],
    { pages, exhibits },
  );
  const asked = { scope: { channel: ['Online'], region: ['Nordic'] }, choices: {}, where: null };
  it('is narrowed by it, and nothing else', () => {
    const [first, second] = report.exhibits.map((exhibit) => conditionsFor(report, asked, context, exhibit));
    expect(first).toEqual({ scope: { channel: ['Online'], region: ['Nordic'] }, where: null });
    expect(second).toEqual({ scope: { region: ['Nordic'] }, where: { op: 'ge', field: 'unit_price', value: 100 } });
  });
});

describe('required prompts', () => {
  const report = reportOf([
    { id: 'channel', fields: ['channel'], required: true },
    { id: 'when', kind: 'period', calendar: 'calendar', required: true },
  ]);
  it('wait for an answer', () => {
    expect(unanswered(report, { scope: {}, choices: {} }).map(({ id }) => id)).toEqual(['channel', 'when']);
    expect(unanswered(report, { scope: { channel: ['Online'] }, choices: { when: ['to_date', 'year'] } })).toEqual([]);
    expect(isAnswered(report.prompts[0], { scope: {}, choices: { channel: [exclusion('channel', ['Online'])] } })).toBe(true);
  });
});

describe('the words for what is chosen', () => {
  const { prompts } = reportOf([{ id: 'territory', fields: ['region', 'country'] }]);
  it.each([
    [{ scope: {}, choices: {} }, 'every region'],
    [{ scope: { region: ['Nordic'] }, choices: {} }, 'Nordic'],
    [{ scope: { region: ['Nordic'], country: ['Sweden', 'Denmark'] }, choices: {} }, 'Nordic, Sweden and Denmark'],
  ])('%j', (state, expected) => {
    expect(promptWords(prompts[0], state, wording)).toBe(expected);
  });
});

describe('faults', () => {
  it.each([
    [{ fields: ['gone'] }, 'gone'],
    [{ kind: 'range', field: 'channel' }, 'holds none'],
    [{ kind: 'dates', field: 'channel' }, 'holds none'],
    [{ kind: 'text', field: 'unit_price' }, 'holds none'],
    [{ kind: 'period', calendar: 'moon' }, 'moon'],
    [{ kind: 'measure', measures: ['net', 'gone'] }, 'gone'],
    [{ kind: 'number', initial: 5, max: 3 }, 'outside its limits'],
    [{ kind: 'switch', on: 'a', off: 'b', filter: { op: 'eq', field: 'gone', value: 1 } }, 'gone'],
  ])('%j: %s', (part, expected) => {
    expect(promptFaults(reportOf([{ id: 'p', ...part }]), workedDataset).join()).toContain(expected);
  });
});

describe('every kind', () => {
  const demo = datasetSchema.parse(JSON.parse(readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8')));
  const abouts = [undefined, 'country', 'order_date', 'day', 'unit_price', 'customer', 'net_sales', 'calendar'];
  it.each(Object.values(PROMPT_KINDS))('$kind makes prompts that are sound, have words, and start with what is chosen', (kind) => {
    const made = abouts.flatMap((about) => kind.create({ id: 'p', dataset: demo, about }) ?? []) as Prompt[];
    expect(made.length).toBeGreaterThan(0);
    for (const own of made) {
      expect(promptSchema.parse(JSON.parse(JSON.stringify(own)))).toEqual(own);
      expect(promptFaults({ prompts: [own] }, demo)).toEqual([]);
      const state = { scope: {}, choices: {} };
      expect(promptWords(own, state, { ...wording, dataset: demo, label: plainMemberLabel(demo, 'en-GB') })).not.toBe('');
      expect(promptKindOf(own).isChoice(own, choiceOf(own, {}), demo)).toBe(true);
      expect(startingWith(own, state)).toMatchObject({ id: 'p', kind: own.kind });
    }
  });
});
