import { z } from 'zod';
import { composedViewState } from '../answers/index.ts';
import {
  viewStateSchema,
  type ChartRequest,
  type ChartResponse,
  type CrosstabRequest,
  type CrosstabResponse,
  type KpiResponse,
  type ListRequest,
  type ListResponse,
  type VarianceResponse,
  type ViewState,
} from '../api/index.ts';
import { chartFigure, chartWords, legendSeries, notesBelow, noteWords, shownChart } from '../chart/index.ts';
import { figureText } from '../format/index.ts';
import { readingWords } from '../indicators/index.ts';
import {
  asCrosstab,
  listSchema,
  measureNamed,
  type Chart,
  type Crosstab,
  type DataExhibit,
  type KpiStrip,
  type List,
  type ReaderScope,
  type Variance,
} from '../model/index.ts';
import { cellsOf } from '../table/index.ts';
import { crosstabExport, type ExportLook } from './crosstab-export.ts';
import type { ChartPart, ExportFigure, FiguresPart, TablePart } from './document.ts';
import { listExport } from './list-export.ts';
import { varianceExport } from './variance-export.ts';

type Drawn = Omit<TablePart, 'id' | 'width' | 'startsPage' | 'title' | 'section' | 'number' | 'note'>;
type DrawnFigures = Omit<FiguresPart, 'id' | 'width' | 'startsPage' | 'title' | 'section' | 'number' | 'note'>;
type DrawnChart = Omit<ChartPart, 'id' | 'width' | 'startsPage' | 'title' | 'section' | 'number' | 'note'>;

/** All that a question is asked under. */
export type AskedForExport = ReaderScope & { draft: boolean };

/** How an exhibit of a kind leaves the application: what is asked for it, piece by piece, and what the answers are made into. */
export interface ExportedKind<Own extends DataExhibit = DataExhibit, State = unknown, Answer = unknown> {
  /** Which of the questions about exhibits it is. */
  path: string;
  /** What a reader changed of it, as it is sent along. */
  state: z.ZodType<State>;
  /** The same where the reader changed nothing. */
  composed(exhibit: Own): State;
  /** The question for some of its lines. */
  request(asked: AskedForExport, state: State, from: number, count: number): unknown;
  /** How many lines it has in all, and how many values each; one line where it is answered at once. */
  extent(answer: Answer, exhibit: Own): { lines: number; width: number };
  /** Answers for its lines, in their order, as one. */
  joined(answers: readonly Answer[]): Answer;
  /** What it shows. `exhibit` has its measures as they are counted in it. Throws UnknownNameError. */
  draw(look: ExportLook, exhibit: Own, answer: Answer, state: State): Drawn | DrawnFigures | DrawnChart;
}

const atOnce = <Answer>() => ({
  extent: () => ({ lines: 1, width: 1 }),
  joined: ([first]: readonly Answer[]): Answer => first,
});

const crosstab: ExportedKind<Crosstab, ViewState, CrosstabResponse> = {
  path: 'crosstab',
  state: viewStateSchema,
  composed: composedViewState,
  request: (asked, { side, top }, from, count): CrosstabRequest => ({
    ...asked,
    ...{ side, top, rows: { from, count }, columns: { from: 0, count: Number.MAX_SAFE_INTEGER } },
  }),
  extent: ({ rows, columns, measures }) => ({ lines: rows.total, width: columns.total * measures.length }),
  joined(answers) {
    const [first] = answers;
    /** Rows of all answers, one after the other; those of one that has none are empty. */
    const rows = <Value>(of: (answer: CrosstabResponse) => Value[][] | undefined): Value[][] | undefined =>
      answers.some((answer) => of(answer) !== undefined)
        ? answers.flatMap((answer) => of(answer) ?? answer.rows.items.map((): Value[] => []))
        : undefined;
    const keys = new Map(
      answers.flatMap(({ marks = [] }) => marks.map(({ measure, index }) => [`${measure} ${index}`, { measure, index }])),
    );
    const marks = [...keys.values()].map(({ measure, index }) => {
      const isOwn = (one: { measure: number; index: number }): boolean => one.measure === measure && one.index === index;
      return { measure, index, values: rows(({ marks: own }) => own?.find(isOwn)?.values) ?? [] };
    });
    return {
      ...first,
      rows: { ...first.rows, items: answers.flatMap((answer) => answer.rows.items) },
      cells: answers.flatMap(({ cells }) => cells),
      texts: rows(({ texts }) => texts),
      states: rows(({ states }) => states),
      bearings: rows(({ bearings }) => bearings),
      marks: marks.length > 0 ? marks : undefined,
    };
  },
  draw: (look, exhibit, answer) => ({ kind: 'table', sentences: [], tables: [crosstabExport(look, exhibit, cellsOf(answer))] }),
};

const chartStateSchema = viewStateSchema.extend({
  hidden: z.array(z.string().max(2_000)).max(500).default([]),
  period: z.string().max(500).optional(),
});
type ChartState = z.infer<typeof chartStateSchema>;

const chart: ExportedKind<Chart, ChartState, ChartResponse> = {
  path: 'chart',
  state: chartStateSchema,
  composed: (exhibit) => ({ ...composedViewState(asCrosstab(exhibit)), hidden: [] }),
  request: (asked, { side, top }): ChartRequest => ({ ...asked, side, top }),
  ...atOnce<ChartResponse>(),
  draw(look, exhibit, answer, { hidden, period }): DrawnChart {
    const { dataset, dataTo, locale } = look;
    const whole = { ...chartFigure(dataset, exhibit, answer, { locale, dataTo }), beyond: look.beyond ?? null };
    const shown = shownChart(whole, exhibit.chart, { hidden: new Set(hidden), period });
    const measures = exhibit.cells.map(({ measure }) => measure);
    const words = [chartWords(shown.figure), ...noteWords(shown.figure, shown.settings.notes, measures)].join(' ');
    const named = legendSeries({ ...(shown.composed[0] ?? whole), kind: shown.settings.kind }, shown.settings.map);
    return {
      ...{ kind: 'chart', shown, measures, words, height: exhibit.height, notes: notesBelow(shown) },
      legend: named.length > 1 && shown.settings.legend !== 'none' && !shown.panels ? named : [],
      warns: exhibit.cells.length > 0 && measureNamed(dataset, exhibit.cells[0].measure).direction === 'higher',
      table: crosstabExport(look, asCrosstab(exhibit), cellsOf(answer)),
    };
  },
};

const list: ExportedKind<List, Pick<List, 'order'>, ListResponse> = {
  path: 'list',
  state: listSchema.pick({ order: true }),
  composed: ({ order }) => ({ order }),
  request: (asked, { order }, offset, limit): ListRequest => ({ ...asked, order, offset, limit }),
  extent: ({ lines }, { columns }) => ({ lines, width: columns.filter(({ hidden }) => !hidden).length }),
  joined: (answers) => ({ ...answers[0], rows: answers.flatMap(({ rows }) => rows) }),
  draw: (look, exhibit, answer) => ({ kind: 'table', sentences: [], tables: [listExport(look, exhibit, answer)] }),
};

const noStateSchema = z.object({});
type NoState = z.infer<typeof noStateSchema>;

const kpis: ExportedKind<KpiStrip, NoState, KpiResponse> = {
  path: 'kpis',
  state: noStateSchema,
  composed: () => ({}),
  request: (asked) => asked,
  ...atOnce<KpiResponse>(),
  draw({ dataset, locale }, exhibit, answer): DrawnFigures {
    const readings = new Map(answer.map((reading) => [reading.id, reading]));
    return {
      kind: 'figures',
      figures: exhibit.kpis.map((kpi): ExportFigure => {
        const { value = null, attainment = null, reason = '', state = 'none', bearing = null } = readings.get(kpi.id) ?? {};
        const format = kpi.format ?? measureNamed(dataset, kpi.measure).format;
        return {
          ...{ label: kpi.label, value, format, text: figureText(value, format, locale), state, bearing },
          words: readingWords(dataset, kpi, { attainment, reason }, format, locale),
        };
      }),
    };
  },
};

const variance: ExportedKind<Variance, NoState, VarianceResponse> = {
  path: 'variance',
  state: noStateSchema,
  composed: () => ({}),
  request: (asked) => asked,
  ...atOnce<VarianceResponse>(),
  draw: (look, exhibit, answer) => ({ kind: 'table', sentences: answer.sentences, tables: varianceExport(look, exhibit, answer) }),
};

/** How each kind of exhibit that answers from data leaves the application. */
const EXPORTED_KINDS: { [Kind in DataExhibit['kind']]: ExportedKind<Extract<DataExhibit, { kind: Kind }>, never, never> } = {
  crosstab: crosstab as never,
  chart: chart as never,
  list: list as never,
  kpis: kpis as never,
  variance: variance as never,
};

/** How an exhibit leaves the application. */
export const exportedKind = (kind: DataExhibit['kind']): ExportedKind => EXPORTED_KINDS[kind] as unknown as ExportedKind;
