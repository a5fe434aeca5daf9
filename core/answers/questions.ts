import type { z } from 'zod';
import {
  cellRecordsRequestSchema,
  cellRecordsSchema,
  commonScaleRequestSchema,
  commonScaleSchema,
  chartRequestSchema,
  chartResponseSchema,
  crosstabRequestSchema,
  crosstabResponseSchema,
  explainRequestSchema,
  explanationSchema,
  formulaRequestSchema,
  formulaResponseSchema,
  kpiRequestSchema,
  kpiResponseSchema,
  listRequestSchema,
  listResponseSchema,
  spreadRequestSchema,
  spreadResponseSchema,
  varianceRequestSchema,
  varianceResponseSchema,
  type Path,
  type ViewState,
} from '../api/index.ts';
import { parsePathKey, placedOnSide, withAggregations } from '../crosstab/index.ts';
import type { IsVisiblePath } from '../exhibits/index.ts';
import { withMarkMeasures } from '../marks/index.ts';
import {
  allOf,
  asCrosstab,
  findField,
  type CellExhibit,
  type Crosstab,
  type DataExhibit,
  type Dataset,
  type Order,
  type Variance,
} from '../model/index.ts';
import { placedInBranch } from './branches.ts';
import { namingWhatIsLarge } from './too-large.ts';
import type { AnswerContext } from './context.ts';
import { crosstabWindow } from './crosstab-window.ts';
import { AnswerError } from './errors.ts';
import { chartCells } from './chart-cells.ts';
import { commonScale } from './common-scale.ts';
import { cellRecords } from './cell-records.ts';
import type { CellPlace } from './drill-through.ts';
import { explainCell } from './explanation.ts';
import { formulaSteps } from './formula-steps.ts';
import { kpiValues, spreadOfMembers } from './kpis.ts';
import { listPage } from './list-page.ts';
import { askedFilter, type Asked } from './scope.ts';
import { explainedFields, varianceTable } from '../variance/index.ts';
import { varianceOf } from './variance.ts';
import { chartThumbnail, crosstabThumbnail, kpiThumbnail, listThumbnail, type ThumbnailDrawing } from './thumbnail.ts';

type ExhibitOf<Kind extends DataExhibit['kind']> = Extract<DataExhibit, { kind: Kind }>;

/** A question that an exhibit answers: where it is asked, what is asked, and how the answer is calculated. */
export interface ExhibitQuestion<Kind extends DataExhibit['kind'] = DataExhibit['kind'], Request = unknown, Answer = unknown> {
  /** The kinds of exhibits that it can be asked about. */
  kinds: readonly Kind[];
  /** Last part of its address. */
  path: string;
  summary: string;
  request: z.ZodType<Request>;
  response: z.ZodType<Answer>;
  /** Other reports that it looks into. */
  reports?(exhibit: ExhibitOf<Kind>): string[];
  /** The request as far as it speaks of what the reader may see. Throws AnswerError where nothing is left of it. */
  visible(exhibit: ExhibitOf<Kind>, request: Request, isVisible: IsVisiblePath): Promise<Request>;
  answer(context: AnswerContext, exhibit: ExhibitOf<Kind>, asked: Asked, request: Request): Promise<Answer>;
  /** Whether only those are answered who compose reports. */
  composing?: boolean;
  /** How exhibits of one of its kinds are drawn small of this answer; of one question of each kind. */
  thumbnail?: ThumbnailDrawing<ExhibitOf<Kind>, Request, Answer>;
}

const asAsked = <Request>(_exhibit: unknown, request: Request): Promise<Request> => Promise.resolve(request);

function question<Kind extends DataExhibit['kind'], Request, Answer>(
  kinds: Kind | readonly Kind[],
  path: string,
  summary: string,
  schemas: { request: z.ZodType<Request>; response: z.ZodType<Answer> },
  work: Pick<ExhibitQuestion<Kind, Request, Answer>, 'reports' | 'visible' | 'answer' | 'composing' | 'thumbnail'>,
): ExhibitQuestion {
  // The registry is read by kind; what each question takes is checked by its own schema.
  return { kinds: [kinds].flat(), path, summary, ...schemas, ...work } as unknown as ExhibitQuestion;
}

/** An exhibit that has cells, or of whose fields each makes a table of cells. */
type Tabular = CellExhibit | Variance;

const noSuchField = (): AnswerError =>
  new AnswerError('question-invalid', 'This exhibit does not look through that field. Reload the page to see what it looks through now.');

/** The cross-tab that a cell is asked about in, with the dataset that knows its measures. Throws AnswerError `question-invalid`. */
function tableOf(dataset: Dataset, exhibit: Tabular, along: string | undefined): { dataset: Dataset; exhibit: Crosstab } {
  if (exhibit.kind !== 'variance') return { dataset, exhibit: asCrosstab(exhibit) };
  if (along === undefined || !explainedFields(exhibit).includes(along)) throw noSuchField();
  return varianceTable(dataset, exhibit, along);
}

/** Measures that are counted in another way, and conditions of rules, are measures of the dataset while cells are answered. */
function aggregated<Answer>(
  context: AnswerContext,
  written: Tabular,
  work: (context: AnswerContext, exhibit: Crosstab) => Promise<Answer>,
  along?: string,
): Promise<Answer> {
  const table = tableOf(context.dataset, written, along);
  const own = withAggregations(table.dataset, table.exhibit);
  return work({ ...context, dataset: withMarkMeasures(own.dataset, own.exhibit.cells) }, own.exhibit);
}

/** Answers a question about a cell in the cross-tab that it is in: that of a branch, where it is below one. */
const inItsBranch =
  <Request extends { side: Path; viewState?: ViewState }, Answer>(
    answer: (context: AnswerContext, exhibit: Crosstab, asked: Asked, request: Request) => Promise<Answer>,
    asked: Asked,
    request: Request,
  ) =>
  (context: AnswerContext, exhibit: Crosstab): Promise<Answer> => {
    const placed = placedInBranch(exhibit, request);
    return answer(context, placed.exhibit, asked, placed.request);
  };

/** What answers in cells. */
const CELLS = ['crosstab', 'chart'] as const;
/** What has cells to be asked about, one by one. */
const TABLES = [...CELLS, 'variance'] as const;

const cellNotVisible = (): AnswerError =>
  new AnswerError('scope-unknown', 'The chosen cell is not in this cross-tab, or not among what you may see. Choose another one.');

const memberNotVisible = (): AnswerError =>
  new AnswerError('scope-unknown', 'This exhibit compares two members, and one of them is not in the data, or not among what you may see.');

/** Whether a path along an axis is one that the reader may see, also below a member that was opened by a level of its own. */
async function isVisibleOn(exhibit: CellExhibit, which: 'side' | 'top', path: Path, isVisible: IsVisiblePath): Promise<boolean> {
  const own = which === 'side' ? placedOnSide(exhibit, path) : { fields: exhibit.top.fields, path };
  return own !== null && (await isVisible(own.fields, own.path));
}

/** How a table stands, without opened members and orders that are not the reader's to see. */
async function visibleViewState<Own extends ViewState>(exhibit: CellExhibit, viewState: Own, isVisible: IsVisiblePath): Promise<Own> {
  const order = async (fields: string[], asked: Order | null): Promise<Order | null> =>
    asked?.by === 'measure' && !(await isVisible(fields, asked.at)) ? null : asked;
  const axis = async (which: 'side' | 'top', across: 'side' | 'top'): Promise<ViewState['side']> => {
    const { open, order: asked, hideEmpty } = viewState[which];
    const exceptions: string[] = [];
    for (const key of open.exceptions) if (await isVisibleOn(exhibit, which, parsePathKey(key), isVisible)) exceptions.push(key);
    return { open: { ...open, exceptions }, order: await order(exhibit[across].fields, asked), hideEmpty };
  };
  return { ...viewState, side: await axis('side', 'top'), top: await axis('top', 'side') };
}

/** A cell that is asked about, as far as it is one that the reader may see. Throws AnswerError where it is not. */
async function visibleCell<Request extends Pick<CellPlace, 'side' | 'top' | 'viewState'> & { along?: string }>(
  exhibit: Tabular,
  request: Request,
  isVisible: IsVisiblePath,
): Promise<Request> {
  if (exhibit.kind === 'variance') {
    if (request.along === undefined || !explainedFields(exhibit).includes(request.along)) throw noSuchField();
    const { between } = exhibit;
    const isColumn = between
      ? request.top.length === 1 &&
        (await isVisible([between.field], request.top)) &&
        [between.before, between.after].includes(request.top[0] ?? '')
      : request.top.length === 0;
    if (isColumn && (await isVisible([request.along], request.side))) return { ...request, viewState: undefined };
    throw cellNotVisible();
  }
  if ((await isVisibleOn(exhibit, 'side', request.side, isVisible)) && (await isVisibleOn(exhibit, 'top', request.top, isVisible)))
    return { ...request, viewState: request.viewState && (await visibleViewState(exhibit, request.viewState, isVisible)) };
  throw cellNotVisible();
}

/** Every question about an exhibit. */
export const EXHIBIT_QUESTIONS: readonly ExhibitQuestion[] = [
  question(
    'kpis',
    'kpis',
    'The figures and states of a KPI strip',
    { request: kpiRequestSchema, response: kpiResponseSchema },
    {
      visible: asAsked,
      answer: (context, strip, asked) => kpiValues(context, strip, askedFilter(asked)),
      thumbnail: kpiThumbnail,
    },
  ),
  question(
    CELLS,
    'crosstab',
    'A window of cells of a cross-tab, as opened and ordered',
    { request: crosstabRequestSchema, response: crosstabResponseSchema },
    {
      visible: visibleViewState,
      answer: (context, exhibit, asked, request) =>
        aggregated(context, exhibit, (own, crosstab) =>
          namingWhatIsLarge(own, crosstab, askedFilter(asked), () => crosstabWindow(own, crosstab, askedFilter(asked), request)),
        ),
      thumbnail: crosstabThumbnail,
    },
  ),
  question(
    'chart',
    'chart',
    'What a chart draws',
    { request: chartRequestSchema, response: chartResponseSchema },
    {
      visible: visibleViewState,
      answer: (context, exhibit, asked, request) =>
        aggregated(context, exhibit, (own, crosstab) =>
          namingWhatIsLarge(own, crosstab, askedFilter(asked), () => chartCells(own, crosstab, askedFilter(asked), request, exhibit.chart)),
        ),
      thumbnail: chartThumbnail,
    },
  ),
  question(
    'chart',
    'common-scale',
    'Between which values a chart lies in all sections by a level',
    { request: commonScaleRequestSchema, response: commonScaleSchema },
    {
      async visible(exhibit, { field, ...request }, isVisible) {
        return { ...(await visibleViewState(exhibit, request, isVisible)), field };
      },
      async answer(context, exhibit, asked, request) {
        if (!findField(context.dataset, request.field)) throw noSuchField();
        const own = withAggregations(context.dataset, exhibit);
        const whole = { ...context, dataset: withMarkMeasures(own.dataset, own.exhibit.cells) };
        return commonScale(whole, own.exhibit, askedFilter(asked), request);
      },
    },
  ),
  question(
    TABLES,
    'explain',
    'Why a cell shows its number',
    { request: explainRequestSchema, response: explanationSchema },
    {
      reports: (exhibit) => ('drills' in exhibit ? exhibit.drills.flatMap(({ report }) => report ?? []) : []),
      visible: visibleCell,
      answer: (context, exhibit, asked, request) => aggregated(context, exhibit, inItsBranch(explainCell, asked, request), request.along),
    },
  ),
  question(
    TABLES,
    'records',
    'The records behind a cell',
    { request: cellRecordsRequestSchema, response: cellRecordsSchema },
    {
      visible: visibleCell,
      answer: (context, exhibit, asked, request) => aggregated(context, exhibit, inItsBranch(cellRecords, asked, request), request.along),
    },
  ),
  question(
    CELLS,
    'formula',
    'What a formula comes to in a cell, with the parts that lead to it',
    { request: formulaRequestSchema, response: formulaResponseSchema },
    {
      composing: true,
      visible: visibleCell,
      answer: (context, exhibit, asked, request) => aggregated(context, exhibit, inItsBranch(formulaSteps, asked, request)),
    },
  ),
  question(
    [...CELLS, 'kpis'],
    'spread',
    'Where members would stand under an indicator',
    { request: spreadRequestSchema, response: spreadResponseSchema },
    {
      composing: true,
      visible: asAsked,
      answer: (context, exhibit, asked, request) => spreadOfMembers(context, request, allOf(askedFilter(asked), exhibit.filter)),
    },
  ),
  question(
    'variance',
    'variance',
    'What changed, and which members made the difference',
    { request: varianceRequestSchema, response: varianceResponseSchema },
    {
      async visible({ between }, request, isVisible) {
        for (const member of between ? [between.before, between.after] : [])
          if (member !== '' && !(await isVisible([between!.field], [member]))) throw memberNotVisible();
        return request;
      },
      answer: (context, exhibit, asked) => varianceOf(context, exhibit, askedFilter(asked)),
    },
  ),
  question(
    'list',
    'list',
    'A page of a list, with its totals',
    { request: listRequestSchema, response: listResponseSchema },
    {
      visible: asAsked,
      answer: (context, list, asked, request) => listPage(context, list, askedFilter(asked), request),
      thumbnail: listThumbnail,
    },
  ),
];

/** The question whose answer an exhibit of some kind is drawn small of; undefined for what is not drawn. */
export function thumbnailQuestion(kind: DataExhibit['kind']): (ExhibitQuestion & Required<Pick<ExhibitQuestion, 'thumbnail'>>) | undefined {
  return EXHIBIT_QUESTIONS.find(
    (one): one is ExhibitQuestion & Required<Pick<ExhibitQuestion, 'thumbnail'>> => one.thumbnail?.kind === kind,
  );
}
