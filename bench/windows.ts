import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from '@bold-compass/core/answers';
import { crosstabRequestSchema, type CrosstabResponse } from '@bold-compass/core/api';
import { columnFrom, type Store } from '@bold-compass/core/engine';
import { crosstabSchema, datasetSchema } from '@bold-compass/core/model';

/**
 * What windows of long cross-tabs cost: the first one, which puts the table together and sorts it, and one that follows.
 * Run alone: `node --import tsx bench/windows.ts`.
 */

const out = (text: string): void => void process.stdout.write(`${text}\n`);

const dataset = datasetSchema.parse({
  ...{ schemaVersion: 1, name: 'long', label: 'Long' },
  dimensions: [
    {
      ...{ kind: 'table', name: 'people', label: 'People', table: 'people', key: 'id' },
      levels: [{ name: 'person', label: 'Person', plural: 'people', column: 'id', labelColumn: 'name', type: 'text' }],
    },
  ],
  facts: [
    {
      ...{ name: 'visits', label: 'Visits', record: { one: 'visit', many: 'visits' }, table: 'visits' },
      links: [{ dimension: 'people', column: 'id' }],
      fields: [{ name: 'hours', label: 'Hours', column: 'hours', type: 'integer' }],
    },
  ],
  measures: [{ name: 'hours_spent', label: 'Hours', formula: 'sum(hours)', fact: 'visits' }],
});

/** Each person has five visits, and a name whose order is not that of their ids. */
function storeOf(people: number): Store {
  const visits = people * 5;
  const link = new Int32Array(visits);
  for (let visit = 0; visit < visits; visit++) link[visit] = (visit % people) + 1;
  const ids = Array.from({ length: people }, (_, index) => `p${String(index).padStart(7, '0')}`);
  const names = Array.from({ length: people }, (_, index) => `Person ${(index * 7_919) % people} of ${people}`);
  return {
    ...{ version: `long ${people}@1`, calendar: { first: 0, days: 0 }, rollups: {} },
    dimensions: { people: { rows: people, columns: { person: columnFrom('text', ids), 'person label': columnFrom('text', names) } } },
    facts: {
      visits: {
        rows: visits,
        columns: {
          hours: columnFrom(
            'integer',
            Array.from({ length: visits }, (_, index) => String(index % 9)),
          ),
        },
        links: { people: link },
      },
    },
  };
}

const exhibit = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'long', title: 'Long', side: { fields: ['person'] }, top: { fields: [] } },
  cells: [{ measure: 'hours_spent' }],
});
const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'crosstab')!;
const axis = { open: { depth: 0, exceptions: [] }, hideEmpty: true };
const request = (from: number): unknown =>
  crosstabRequestSchema.parse({ side: axis, top: axis, rows: { from, count: 80 }, columns: { from: 0, count: 40 } });

out('| rows | first window | one that follows |');
out('|---|---|---|');
for (const people of [10_000, 100_000, 300_000]) {
  const store = storeOf(people);
  const context: AnswerContext = {
    ...{ dataset, data: new ColumnsData(dataset, store), tables: new Map(), locale: 'en-GB' },
    report: () => Promise.resolve(null),
  };
  const ask = async (from: number): Promise<number> => {
    const started = performance.now();
    const answer = (await question.answer(context, exhibit, { scope: {}, where: null }, request(from))) as CrosstabResponse;
    if (answer.rows.total !== people + 1) throw new Error(`There are ${answer.rows.total} rows instead of ${people + 1}.`);
    return performance.now() - started;
  };
  const first = await ask(0);
  const following: number[] = [];
  for (let turn = 1; turn <= 9; turn++) following.push(await ask(Math.floor((people / 10) * turn)));
  const median = following.toSorted((a, b) => a - b)[4];
  out(`| ${people.toLocaleString('en-GB')} | ${first.toFixed(0)} ms | ${median.toFixed(1)} ms |`);
}
