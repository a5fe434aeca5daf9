import type {
  ChartRequest,
  ChartResponse,
  CrosstabRequest,
  CrosstabResponse,
  KpiResponse,
  ListRequest,
  ListResponse,
  Thumbnail,
  ThumbnailPart,
} from '../api/index.ts';
import { chartFigure, chartSketch, chartsOfPeriods, firstShown, misfitOf } from '../chart/index.ts';
import { kindOf } from '../exhibits/index.ts';
import { figureText } from '../format/index.ts';
import {
  asCrosstab,
  factNamed,
  isDataExhibit,
  measureNamed,
  type Chart,
  type Crosstab,
  type DataExhibit,
  type Dataset,
  type Exhibit,
  type KpiStrip,
  type List,
  type Report,
} from '../model/index.ts';
import { composedViewState } from './crosstab-window.ts';
import { cellsOf, CrosstabTable, listColumns, listLine } from '../table/index.ts';

/** What a small picture of an exhibit is drawn with. */
export interface ThumbnailLook {
  /** The dataset that the exhibit answers from. */
  dataset: Dataset;
  /** Last day that there is data for, as an ISO 8601 date. */
  dataTo: string;
  locale: string;
}

/** How an exhibit is drawn small: what is asked for it, and what of the answer is shown. */
export interface ThumbnailDrawing<Own extends Exhibit, Request, Answer> {
  /** The kind that it draws, of those that its question is about. */
  kind: Own['kind'];
  request(exhibit: Own): Request;
  draw(look: ThumbnailLook, exhibit: Own, answer: Answer): Partial<ThumbnailPart>;
}

/** Lines and columns that there is room for. */
const LINES = 22;
const COLUMNS = 12;
const EXHIBITS = 8;

export const crosstabThumbnail: ThumbnailDrawing<Crosstab, CrosstabRequest, CrosstabResponse> = {
  kind: 'crosstab',
  request(exhibit) {
    const window = { rows: { from: 0, count: LINES }, columns: { from: 0, count: COLUMNS } };
    return { scope: {}, choices: {}, where: null, draft: false, ...composedViewState(exhibit), ...window };
  },
  draw({ dataset, dataTo, locale }, exhibit, answer) {
    const table = new CrosstabTable(dataset, exhibit, cellsOf(answer), dataTo, locale);
    const measures = table.measures.map((_, position) => position);
    const columns = answer.columns.items.flatMap((header, column) =>
      table.stacked ? [{ column, measure: 0, header }] : measures.map((measure) => ({ column, measure, header })),
    );
    const shown = columns.slice(0, COLUMNS);
    const lines = answer.rows.items.flatMap((header, row) =>
      (table.stacked ? measures : [0]).map((measure) => ({
        label: table.stacked && measure > 0 ? table.measures[measure].heading : table.headings.row(header),
        depth: Math.max(0, header.depth - 1),
        strong: header.role !== 'member' || (header.depth === 1 && exhibit.side.fields.length > 1),
        cells: shown.map((one) => table.cell(row, one.column, table.stacked ? measure : one.measure).text),
      })),
    );
    const heading = ({ header, measure }: (typeof columns)[number]): string =>
      table.measures.length > 1 && !table.stacked ? table.measures[measure].heading : table.headings.column(header);
    return { table: { columns: shown.map(heading), lines: lines.slice(0, LINES) } };
  },
};

export const chartThumbnail: ThumbnailDrawing<Chart, ChartRequest, ChartResponse> = {
  kind: 'chart',
  request: (exhibit) => ({ scope: {}, choices: {}, where: null, draft: false, ...composedViewState(asCrosstab(exhibit)) }),
  draw({ dataset, dataTo, locale }, exhibit, answer) {
    const figure = chartFigure(dataset, exhibit, answer, { locale, dataTo });
    const shown = chartsOfPeriods(figure)[firstShown(figure.periods ?? [])] ?? figure;
    const { better, isImpossible = false } = misfitOf(shown) ?? {};
    return { chart: chartSketch(isImpossible && better?.kind ? { ...shown, kind: better.kind } : shown) };
  },
};

export const listThumbnail: ThumbnailDrawing<List, ListRequest, ListResponse> = {
  kind: 'list',
  request: ({ order }) => ({ scope: {}, choices: {}, where: null, draft: false, order, offset: 0, limit: LINES }),
  draw({ dataset, locale }, list, { rows }) {
    const columns = listColumns(dataset, list).slice(0, COLUMNS);
    const fact = factNamed(dataset, list.fact);
    const lines = rows.map((row) => {
      const line = listLine(list, fact, columns, row, locale);
      const isGroup = line.kind !== 'record';
      const [first, ...rest] = line.cells.map(({ text }) => text);
      return { label: isGroup ? line.group : (first ?? ''), depth: line.depth, strong: isGroup, cells: rest };
    });
    return { table: { columns: columns.slice(1).map(({ heading }) => heading), lines } };
  },
};

export const kpiThumbnail: ThumbnailDrawing<KpiStrip, unknown, KpiResponse> = {
  kind: 'kpis',
  request: () => ({ scope: {}, choices: {}, where: null, draft: false }),
  draw({ dataset, locale }, { kpis }, answer) {
    const readings = new Map(answer.map((reading) => [reading.id, reading]));
    return {
      figures: kpis.map(({ id, label, measure, format }) => ({
        label,
        value: figureText(readings.get(id)?.value ?? null, format ?? measureNamed(dataset, measure).format, locale),
        state: readings.get(id)?.state ?? 'none',
      })),
    };
  },
};

/** The exhibits that stand on the first page. */
function onFirstPage({ pages, exhibits }: Report): Exhibit[] {
  const first = pages[0]?.id;
  return exhibits.filter(({ page }) => (page ?? first) === first);
}

/**
 * The first page of a report made small. `draw` asks an exhibit for what it shows and draws it; what cannot be calculated
 * stays an empty place. `fill` writes values into its texts.
 */
export async function thumbnailOf(
  report: Report,
  draw: (exhibit: DataExhibit) => Promise<Partial<ThumbnailPart>>,
  fill: (text: string) => string,
): Promise<Thumbnail> {
  const parts = onFirstPage(report)
    .slice(0, EXHIBITS)
    .map(async (exhibit): Promise<ThumbnailPart> => {
      const { text, picture } = kindOf(exhibit).glance?.(exhibit) ?? {};
      const drawn = isDataExhibit(exhibit) ? await draw(exhibit).catch(() => ({})) : {};
      return {
        ...{ width: exhibit.width, title: isDataExhibit(exhibit) ? fill(exhibit.title) : '' },
        ...(text === undefined ? {} : { text: fill(text).slice(0, 600) }),
        ...(picture === undefined ? {} : { picture }),
        ...drawn,
      };
    });
  return { title: fill(report.title), parts: await Promise.all(parts) };
}
