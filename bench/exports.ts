import { spawnSync } from 'node:child_process';
import { cpus } from 'node:os';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import type { ChartResponse, CrosstabResponse, Header } from '@bold-compass/core/api';
import { axisOver, chartSchema, crosstabSchema } from '@bold-compass/core/model';
import { workedDataset } from '@bold-compass/core/testing/worked-example';

/**
 * `npm run bench:exports`: how long files take to be written, and what memory that takes, each format in a process of its own over the
 * same document: a table of 4,000 rows and 20 columns (80,000 cells) and 20 charts.
 */
const [ROWS, COLUMNS, CHARTS] = [4_000, 10, 20];

const header = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: path.length === 1, canOpen: path.length === 1 },
  ...part,
});
const value = (row: number, column: number): number => ((row * 7919 + column * 104_729) % 9_999_991) / 100;

function tableAnswer(): CrosstabResponse {
  const rows = Array.from({ length: ROWS }, (_, row) =>
    row % 20 === 0 ? header([`Region ${row / 20}`]) : header([`Region ${Math.floor(row / 20)}`, `Country ${row}`]),
  );
  const columns = Array.from({ length: COLUMNS }, (_, column) => header([String(2000 + column)], { canOpen: false, open: false }));
  return {
    ...{ rows: { total: ROWS, from: 0, items: rows }, columns: { total: COLUMNS, from: 0, items: columns }, milliseconds: 0 },
    measures: ['net', 'goal'].map((measure) => ({ measure, side: 2, top: 1, available: true, reason: '' })),
    cells: rows.map((_, row) => Array.from({ length: COLUMNS * 2 }, (_own, column) => value(row, column))),
  };
}

function chartAnswer(): ChartResponse {
  const { rows, columns, measures, cells, milliseconds } = tableAnswer();
  const items = rows.items.filter((_, row) => row % 20 === 0).slice(0, 24);
  return {
    ...{ measures: measures.slice(0, 1), milliseconds, root: { path: [], labels: [] }, totals: [1] },
    rows: { total: items.length, from: 0, items },
    columns: { ...columns, total: 2, items: columns.items.slice(0, 2) },
    cells: items.map((_, row) => cells[row].slice(0, 2)),
  };
}

function gathered(): object {
  const axes = { side: axisOver(['region', 'country']), top: axisOver(['year']) };
  const table = crosstabSchema.parse({
    ...axes,
    kind: 'crosstab',
    id: 'table',
    title: 'Table',
    cells: [{ measure: 'net' }, { measure: 'goal' }],
  });
  const kinds = ['line', 'column', 'bar', 'area'] as const;
  const charts = Array.from({ length: CHARTS }, (_, at) =>
    chartSchema.parse({
      ...axes,
      kind: 'chart',
      id: `chart-${at}`,
      title: `Chart ${at}`,
      cells: [{ measure: 'net' }],
      chart: { kind: kinds[at % 4] },
    }),
  );
  const common = { note: '', dataset: workedDataset, dataTo: '2026-10-31' };
  const parts = [
    ...charts.map((exhibit, at) => ({
      ...{ kind: 'data', ...common, exhibit, title: exhibit.title, number: at + 1, answers: [chartAnswer()], state: { hidden: [] } },
    })),
    { kind: 'data', ...common, exhibit: table, title: 'Table', number: CHARTS + 1, answers: [tableAnswer()], state: {} },
  ];
  return {
    ...{
      title: 'Benchmark',
      subtitle: '',
      scope: 'Everything',
      dataAsOf: '31 October 2026',
      edition: 'Draft',
      madeFor: 'Nobody',
      access: '',
    },
    ...{ madeAt: '2026-11-03T08:00:00Z', note: '', measures: [], pictures: {}, pages: [{ title: '', parts }] },
  };
}

/** Writes one format in this process, and says how long that took and what it took. */
async function write(format: string): Promise<void> {
  const worker = (await import(pathToFileURL(process.argv[3]).href)) as {
    default(task: object): Promise<{ answer: { bytes: Uint8Array; contents: string } }>;
  };
  const { port1, port2 } = new MessageChannel();
  const task = { gathered: gathered(), format, port: port2 };
  const before = performance.now();
  const { answer } = await worker.default(task);
  const seconds = (performance.now() - before) / 1_000;
  port1.close();
  const peak = process.resourceUsage().maxRSS / 1_000;
  process.stdout.write(
    `| ${format} | ${seconds.toFixed(1)} s | ${Math.round(peak)} MB | ${Math.round(answer.bytes.byteLength / 1_000)} kB | ${answer.contents} |\n`,
  );
}

const [, , format, worker] = process.argv;
if (worker) await write(format);
else {
  process.stdout.write(
    `${cpus().length} cores (${cpus()[0].model}), Node.js ${process.versions.node}\n\n| format | time | peak | file | holds |\n| --- | --- | --- | --- | --- |\n`,
  );
  const built = process.env.BOLD_COMPASS_THREADS ?? '';
  for (const name of ['csv', 'json', 'xlsx', 'pptx', 'pdf'])
    spawnSync(process.execPath, ['--import', 'tsx', fileURLToPath(import.meta.url), name, `${built}/export-worker.js`], {
      stdio: 'inherit',
    });
}
