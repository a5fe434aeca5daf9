import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from '@bold-compass/core/answers';
import { crosstabRequestSchema, type CrosstabResponse } from '@bold-compass/core/api';
import { columnFrom, type Store } from '@bold-compass/core/engine';
import { hoursOf, idOf, longCrosstab, longDataset, nameOf, VISITS, windowAt } from './long.ts';

/**
 * What windows of long cross-tabs cost: the first one, which puts the table together and sorts it, and one that follows.
 * Run alone: `node --import tsx bench/windows.ts`.
 */

const out = (text: string): void => void process.stdout.write(`${text}\n`);

function storeOf(people: number): Store {
  const visits = people * VISITS;
  const everyone = Array.from({ length: people }, (_, person) => person);
  const hours = Array.from({ length: visits }, (_, visit) => String(hoursOf(visit)));
  const columns = {
    person: columnFrom('text', everyone.map(idOf)),
    'person label': columnFrom(
      'text',
      everyone.map((person) => nameOf(person, people)),
    ),
  };
  return {
    ...{ version: `long ${people}@1`, calendar: { first: 0, days: 0 }, rollups: {} },
    dimensions: { people: { rows: people, columns } },
    facts: {
      visits: {
        rows: visits,
        columns: { hours: columnFrom('integer', hours) },
        links: { people: Int32Array.from({ length: visits }, (_, visit) => (visit % people) + 1) },
      },
    },
  };
}

const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'crosstab')!;

out('| rows | first window | one that follows |');
out('|---|---|---|');
for (const people of [10_000, 100_000, 300_000]) {
  const store = storeOf(people);
  const context: AnswerContext = {
    ...{ dataset: longDataset, data: new ColumnsData(longDataset, store), tables: new Map(), locale: 'en-GB' },
    report: () => Promise.resolve(null),
  };
  const ask = async (from: number): Promise<number> => {
    const started = performance.now();
    const answer = (await question.answer(
      context,
      longCrosstab,
      { scope: {}, where: null },
      crosstabRequestSchema.parse(windowAt(from)),
    )) as CrosstabResponse;
    if (answer.rows.total !== people + 1) throw new Error(`There are ${answer.rows.total} rows instead of ${people + 1}.`);
    return performance.now() - started;
  };
  const first = await ask(0);
  const following: number[] = [];
  for (let turn = 1; turn <= 9; turn++) following.push(await ask(Math.floor((people / 10) * turn)));
  const median = following.toSorted((a, b) => a - b)[4];
  out(`| ${people.toLocaleString('en-GB')} | ${first.toFixed(0)} ms | ${median.toFixed(1)} ms |`);
}
