import { z } from 'zod';
import {
  LINK_PLACES,
  assetDataSchema,
  choicesSchema,
  listSchema,
  datasetSchema,
  filterSchema,
  isFreeName,
  indicatorSchema,
  orderSchema,
  readerScopeSchema,
  reportSchema,
  scopeSchema,
  summarySchema,
  totalsSchema,
} from '../model/index.ts';
import type { Shapes } from '../shapes/index.ts';

/** Requests and answers of the API: one definition for browser, server, tests and the OpenAPI document. */

export const roleSchema = z.enum(['analyst', 'manager', 'steward']);
export type Role = z.infer<typeof roleSchema>;

export const personSchema = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  role: roleSchema,
  /** What they do, in words: "Country lead, Sweden". */
  title: z.string(),
  groups: z.array(z.string()),
});
export type Person = z.infer<typeof personSchema>;

export const signInSchema = z.object({ email: z.string().trim().min(1).max(200), password: z.string().min(1).max(200) });
export const demoSignInSchema = z.object({ person: z.string().min(1).max(100) });
export const sessionSchema = z.object({ person: personSchema.nullable(), demo: z.boolean() });
export type Session = z.infer<typeof sessionSchema>;
export const demoPeopleSchema = z.array(personSchema);

/** Problem details (RFC 9457), with a message a person can act on. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string(),
  code: z.string(),
  /** Places and values that the problem is about, for the interface. */
  about: z.record(z.string(), z.unknown()).optional(),
});
export type Problem = z.infer<typeof problemSchema>;

export const reportSummarySchema = z.object({
  id: z.string(),
  title: z.string(),
  folder: z.string(),
  note: z.string(),
  dataset: z.string(),
  edition: z.number().nullable(),
  publishedAt: z.string().nullable(),
  updatedAt: z.string(),
  favourite: z.boolean(),
  /** When the caller opened it last. */
  openedAt: z.string().nullable(),
  /** Kinds of its exhibits, each once. */
  kinds: z.array(z.string()),
});
export type ReportSummary = z.infer<typeof reportSummarySchema>;

/** Choices in a report that a person keeps under a name: the parts of its address. */
export const viewQuerySchema = z
  .record(z.string().min(1).max(200), z.array(z.string().max(4_000)).max(5_000))
  .refine((query) => JSON.stringify(query).length <= 100_000, 'This is more than a view can hold. Choose fewer members.');
export const saveViewSchema = z.object({
  name: z.string().trim().min(1).max(80),
  query: viewQuerySchema,
  isStart: z.boolean().default(false),
});
export type SaveView = z.infer<typeof saveViewSchema>;
export const savedViewSchema = z.object({ id: z.string(), name: z.string(), query: viewQuerySchema, isStart: z.boolean() });
export type SavedView = z.infer<typeof savedViewSchema>;

export const reportViewSchema = z.object({
  report: reportSchema,
  dataset: datasetSchema,
  /** Datasets of exhibits that have another one, by name. */
  datasets: z.record(z.string(), datasetSchema),
  /** Datasets that exhibits answer from and that are not there any more. */
  gone: z.array(z.string()),
  edition: z.number().nullable(),
  publishedAt: z.string().nullable(),
  revision: z.number(),
  canCompose: z.boolean(),
  /** First and last day that the data spans, ISO 8601. */
  dataFrom: z.string(),
  dataTo: z.string(),
  /** What is chosen before the reader chooses, as far as it hangs on the data and on who they are. */
  start: z.object({ scope: scopeSchema, choices: choicesSchema }),
  /** The views that the reader keeps of it. */
  views: z.array(savedViewSchema),
  /** Access rules of the reader, in words; empty when everything is theirs. */
  access: z.string(),
});
export type ReportView = z.infer<typeof reportViewSchema>;

export const pathSchema = z.array(z.string().nullable()).max(20);
export type Path = z.infer<typeof pathSchema>;

const openSchema = z.object({ depth: z.number().int().min(0).max(20), exceptions: z.array(z.string().max(2000)).max(5000) });
const windowSchema = z.object({ from: z.number().int().min(0), count: z.number().int().min(0).max(400) });

const scoped = { ...readerScopeSchema.shape, draft: z.boolean().default(false) };

/** How a reader has an axis stand; the order is null where they left it as composed. */
export const axisRequestSchema = z.object({ open: openSchema, order: orderSchema.nullable().default(null), hideEmpty: z.boolean() });

export const crosstabRequestSchema = z.object({
  ...scoped,
  side: axisRequestSchema,
  top: axisRequestSchema,
  rows: windowSchema,
  columns: windowSchema,
});
export type CrosstabRequest = z.infer<typeof crosstabRequestSchema>;

export const headerSchema = z.object({
  path: pathSchema,
  /** The words for each member of the path; empty for the total of the axis. */
  labels: z.array(z.string()),
  role: z.enum(['member', 'subtotal', 'total', 'summary']),
  summary: summarySchema.optional(),
  /** How many members a member that stands for all others puts together. */
  others: z.number().optional(),
  depth: z.number(),
  open: z.boolean(),
  canOpen: z.boolean(),
  /** Shows no figures: those of its member stand in another line, or nowhere. */
  bare: z.boolean().optional(),
});
export type Header = z.infer<typeof headerSchema>;

export const stateSchema = z.enum(['ahead', 'on', 'drifting', 'off', 'far', 'none']);

export const crosstabResponseSchema = z.object({
  rows: z.object({ total: z.number(), from: z.number(), items: z.array(headerSchema) }),
  columns: z.object({ total: z.number(), from: z.number(), items: z.array(headerSchema) }),
  measures: z.array(
    z.object({
      measure: z.string(),
      /** Levels down to which the measure has values. */
      side: z.number(),
      top: z.number(),
      /** Why there are no values below those levels, or none at all. */
      reason: z.string(),
      available: z.boolean(),
    }),
  ),
  /** Row by row: column after column, each with its measures. */
  cells: z.array(z.array(z.number().nullable())),
  /** Like `cells`, of those that hold texts, or dates as ISO 8601. Left out where no measure gives any. */
  texts: z.array(z.array(z.string().nullable())).optional(),
  /** Like `cells`; null where a measure has no indicator. Left out where no measure has one. */
  states: z.array(z.array(stateSchema.nullable())).optional(),
  /** Like `states`: where their needles point, in degrees from straight up. */
  bearings: z.array(z.array(z.number().nullable())).optional(),
  /** What is drawn with the figures of a measure (its position, and that of the mark): row by row, in each column. */
  marks: z.array(z.object({ measure: z.number(), index: z.number(), values: z.array(z.array(z.array(z.number()).nullable())) })).optional(),
  milliseconds: z.number(),
});
export type CrosstabResponse = z.infer<typeof crosstabResponseSchema>;

export const chartRequestSchema = z.object({ ...scoped, side: axisRequestSchema, top: axisRequestSchema });
export type ChartRequest = z.infer<typeof chartRequestSchema>;
/** What a chart draws: the innermost members that stand open along its axis (rows) and as its series (columns). */
export const chartResponseSchema = crosstabResponseSchema.omit({ marks: true }).extend({
  /** The members that everything is drawn below, and their words; none where it is the whole. */
  root: z.object({ path: pathSchema, labels: z.array(z.string()) }),
  /** The value of each measure over all that is drawn. */
  totals: z.array(z.number().nullable()),
  /** The place of each series' member among all members of its level, where colours go by member. */
  places: z.array(z.number()).optional(),
  /** The same of the members along the axis, where there are no series. */
  memberPlaces: z.array(z.number()).optional(),
  /** Of an axis of periods: whether each lacks days, outside the scope, before the first or after the last day of the data. */
  cut: z.array(z.boolean()).optional(),
  /** How many values are zero since periods of the axis have no records. */
  zeros: z.number().optional(),
  /** What comes after the periods along the axis. */
  forecast: z
    .object({
      /** How many periods are over; those after them are forecast. */
      from: z.number(),
      /** The words for each period that is forecast, level by level. */
      ahead: z.array(z.object({ labels: z.array(z.string()) })),
      /** Like the values of a row: column after column, each with its measures; null where a series is too short, or has gaps. */
      series: z.array(
        z
          .object({
            model: z.discriminatedUnion('method', [
              z.object({
                method: z.literal('smoothing'),
                trend: z.enum(['none', 'additive', 'damped']),
                season: z.number(),
                onLogarithms: z.boolean(),
              }),
              z.object({ method: z.enum(['linear', 'logarithmic', 'exponential', 'power']), r2: z.number().nullable() }),
            ]),
            points: z.array(z.object({ value: z.number(), low: z.number(), high: z.number() })),
            tested: z.object({ periods: z.number(), error: z.number() }).nullable(),
          })
          .nullable(),
      ),
      /** Why nothing is forecast. */
      problem: z.string().optional(),
    })
    .optional(),
});
export type ChartResponse = z.infer<typeof chartResponseSchema>;

/** Between which values a chart lies in all sections by a level; asked for without a section. */
export const commonScaleRequestSchema = chartRequestSchema.extend({ field: z.string().min(1).max(200) });
export type CommonScaleRequest = z.infer<typeof commonScaleRequestSchema>;
const valueEndsSchema = z.object({ low: z.number(), high: z.number() }).nullable();
export const commonScaleSchema = z.object({
  /** Of each measure by its position. */
  measures: z.array(valueEndsSchema),
  /** Of the sums of stacked series. */
  sums: valueEndsSchema,
});
export type CommonScale = z.infer<typeof commonScaleSchema>;

export const varianceRequestSchema = z.object(scoped);
const changedSchema = z.object({ before: z.number().nullable(), after: z.number().nullable(), change: z.number() });
/** The members that made most of a difference, and the rest of them together. */
const contributionsShape = {
  named: z.array(changedSchema.extend({ path: pathSchema, label: z.string() })),
  others: z.object({ count: z.number(), before: z.number(), after: z.number(), change: z.number() }).nullable(),
};
/** What changed, as a whole and field by field, the most telling field first. */
export const varianceResponseSchema = z.object({
  before: z.number().nullable(),
  after: z.number().nullable(),
  /** The words for two members, where these are compared in the place of two periods. */
  between: z.object({ before: z.string(), after: z.string() }).nullable(),
  sentences: z.array(z.string()),
  /** The measure of the earlier period, as the cells of its members name it; the measure itself where two members are compared. */
  earlier: z.string(),
  /** The difference by price, volume and mix, each with the members that made most of it. */
  effects: z
    .object({
      field: z.string(),
      label: z.string(),
      plural: z.string(),
      parts: z.record(z.enum(['price', 'volume', 'mix', 'gained', 'lost']), z.object({ value: z.number(), ...contributionsShape })),
    })
    .nullable(),
  fields: z.array(
    z.object({
      field: z.string(),
      label: z.string(),
      plural: z.string(),
      sentence: z.string(),
      ...contributionsShape,
      /** Whether the differences of members add up to that of the whole. */
      addsUp: z.boolean(),
      concentration: z.number(),
    }),
  ),
});
export type VarianceResponse = z.infer<typeof varianceResponseSchema>;

export const kpiRequestSchema = z.object(scoped);
export const kpiResponseSchema = z.array(
  z.object({
    id: z.string(),
    value: z.number().nullable(),
    target: z.number().nullable(),
    /** Ratio or difference, as the indicator says. */
    attainment: z.number().nullable(),
    state: stateSchema,
    /** Where the needle points, in degrees from straight up. */
    bearing: z.number().nullable(),
    reason: z.string(),
    /** Values at which another state begins, the best first, where these follow from the target. */
    limits: z.array(z.number()),
    /** Its value through periods, the earliest first, with their words. */
    trend: z.array(z.object({ label: z.string(), value: z.number().nullable() })).optional(),
    /** The members of a field by their states, and those that are off course, the worst first. */
    rollUp: z
      .object({
        field: z.string(),
        total: z.number(),
        counts: z.partialRecord(stateSchema, z.number()),
        off: z.array(
          z.object({
            member: z.string().nullable(),
            label: z.string(),
            attainment: z.number().nullable(),
            state: stateSchema,
            bearing: z.number().nullable(),
          }),
        ),
      })
      .optional(),
  }),
);
export type KpiResponse = z.infer<typeof kpiResponseSchema>;

/** Where the members of a field would stand under an indicator, while it is composed. */
export const spreadRequestSchema = z.object({
  ...scoped,
  /** Only who composes the report tries indicators out. */
  draft: z.literal(true),
  measure: z.string().max(200),
  field: z.string().max(200),
  indicator: indicatorSchema,
});
export type SpreadRequest = z.infer<typeof spreadRequestSchema>;
export const spreadResponseSchema = z.object({
  /** What the members reached, sorted; of many only some, evenly spread. */
  reached: z.array(z.number()),
  /** The limits in the same terms, the best first. */
  limits: z.array(z.number()),
  counts: z.partialRecord(stateSchema, z.number()),
  total: z.number(),
});
export type SpreadResponse = z.infer<typeof spreadResponseSchema>;

export const membersRequestSchema = z.object({
  ...scoped,
  field: z.string(),
  /** The prompt that asks; its own choice narrows nothing. */
  prompt: z.string().max(60).optional(),
  /** Another dataset of the report than its own. */
  dataset: z.string().optional(),
  /** Whether each member is told with what it stands under. */
  tree: z.boolean().optional(),
});
export const membersResponseSchema = z.object({
  members: z.array(
    z.object({
      member: z.string(),
      label: z.string(),
      records: z.number(),
      /** Where it was asked for: the words of the members it stands under, the coarsest first; several where it has several parents. */
      under: z.array(z.array(z.string())).optional(),
      /** The members that these words are for. */
      paths: z.array(z.array(z.string().nullable())).optional(),
    }),
  ),
  record: z.object({ one: z.string(), many: z.string() }),
});
export type MembersResponse = z.infer<typeof membersResponseSchema>;

/** The words for chosen members whose key is not what they are called, by field. */
export const scopeLabelsRequestSchema = z.object(scoped);
export const scopeLabelsSchema = z.record(z.string(), z.record(z.string(), z.string()));
export type ScopeLabels = z.infer<typeof scopeLabelsSchema>;

/** Choices after one of them changed: those that it makes impossible are dropped, and said. */
export const possibleRequestSchema = z.object({ ...scoped, changed: z.string().max(80) });
export const possibleResponseSchema = z.object({
  scope: scopeSchema,
  dropped: z.array(z.object({ field: z.string(), labels: z.array(z.string()) })),
});
export type PossibleResponse = z.infer<typeof possibleResponseSchema>;

/** The sections that a page, or an exhibit, is repeated in. */
export const sectionsRequestSchema = z.object({ ...scoped, page: z.string().max(60).optional(), exhibit: z.string().max(60).optional() });
const sectionFigureSchema = z.object({ value: z.number().nullable(), state: stateSchema, bearing: z.number().nullable() });
export const sectionsResponseSchema = z.object({
  sections: z.array(
    z.object({
      /** Null for records without a member. */
      member: z.string().nullable(),
      label: z.string(),
      /** Records of all facts that know the level; of those that have none it is empty. */
      records: z.number(),
      figure: sectionFigureSchema.nullable(),
    }),
  ),
  /** The figure of all of them together. */
  whole: sectionFigureSchema.nullable(),
});
export type SectionsResponse = z.infer<typeof sectionsResponseSchema>;

/** How both axes of a cross-tab stand. */
export const viewStateSchema = z.object({ side: axisRequestSchema, top: axisRequestSchema });
export type ViewState = z.infer<typeof viewStateSchema>;

/** A part of a formula with what it comes to in a cell: a number, a text, or a date as ISO 8601. */
export const formulaStepSchema = z.object({
  formula: z.string(),
  value: z.number().nullable(),
  text: z.string().nullable(),
  reason: z.string(),
});
export type FormulaStep = z.infer<typeof formulaStepSchema>;

export const explainRequestSchema = z.object({
  ...scoped,
  side: pathSchema,
  top: pathSchema,
  /** The field whose members are along the side, of exhibits that look through several. */
  along: z.string().max(80).optional(),
  measure: z.string(),
  /** How the table stands, where its totals are calculated of what is shown; as composed where it is not said. */
  viewState: viewStateSchema.optional(),
});
export type ExplainRequest = z.infer<typeof explainRequestSchema>;
export const explanationSchema = z.object({
  /** The measure that the cell shows: in rows of some levels it may be another than its column's. */
  measure: z.string(),
  value: z.number().nullable(),
  /** Where the cell holds a text, or a date as ISO 8601. */
  text: z.string().optional(),
  /** Why there is no value, when there is none. */
  reason: z.string(),
  /** Whether it is a difference of members, so that no single condition stands for its records. */
  isDifference: z.boolean(),
  /** Where the value is calculated of the members shown below it: how, and what the records alone would say. */
  shown: z.object({ summary: totalsSchema, fromRecords: z.number().nullable() }).nullable(),
  formula: z.string(),
  /** Measures that the formula names, with their values in this cell. */
  /** The measures that the formula names; `text` of those that hold texts, or dates as ISO 8601. */
  inputs: z.array(
    z.object({ measure: z.string(), label: z.string(), formula: z.string(), value: z.number().nullable(), text: z.string().optional() }),
  ),
  /** Parts of the formula that are calculated elsewhere than in the cell itself, with their values. */
  steps: z.array(formulaStepSchema),
  /** The dates that stand against each other, in words. */
  dates: z.array(z.object({ own: z.string(), moved: z.string() })),
  conditions: z.array(z.string()),
  records: z.array(z.object({ one: z.string(), many: z.string(), count: z.number() })),
  madeOf: z
    .object({
      label: z.string(),
      additive: z.boolean(),
      items: z.array(z.object({ label: z.string(), value: z.number().nullable() })),
      more: z.number(),
    })
    .nullable(),
  against: z.array(
    z.object({
      label: z.string(),
      value: z.number().nullable(),
      difference: z.number().nullable(),
      kind: z.enum(['change', 'share', 'points']),
      good: z.boolean().nullable(),
    }),
  ),
  /** Conditions of the cell as a filter, for what hangs on it; null where it is all records. */
  filter: filterSchema.nullable(),
  drills: z.array(
    z.object({
      label: z.string(),
      to: z.enum(['report', 'page', 'records', 'address']),
      opens: z.enum(['here', 'beside', 'tab']),
      /** Whether it stands at figures, or at the label of the row. */
      from: z.enum(LINK_PLACES),
      /** The report that it leads into; empty where it leads into none. */
      report: z.string(),
      page: z.string().optional(),
      /** The web address with its values. */
      address: z.string().optional(),
      scope: scopeSchema,
      where: filterSchema.nullable(),
      /** Records that the list in that report shows under these conditions. */
      records: z.number(),
      /** Why the link leads nowhere; empty where it does. */
      reason: z.string(),
    }),
  ),
});
export type Explanation = z.infer<typeof explanationSchema>;

export const formulaRequestSchema = z.object({
  ...scoped,
  /** Only who composes the report tries formulas out. */
  draft: z.literal(true),
  side: pathSchema,
  top: pathSchema,
  formula: z.string().min(1).max(20_000),
  /** The fact of aggregates that could be of any. */
  fact: z.string().optional(),
  viewState: viewStateSchema.optional(),
});
export type FormulaRequest = z.infer<typeof formulaRequestSchema>;
/** The parts that lead to the value of a formula, the innermost first, itself at the end. */
export const formulaResponseSchema = z.array(formulaStepSchema);
export type FormulaResponse = z.infer<typeof formulaResponseSchema>;

export const listRequestSchema = z.object({
  ...scoped,
  order: z.array(z.object({ field: z.string(), direction: z.enum(['asc', 'desc']) })).max(8),
  offset: z.number().int().min(0),
  limit: z.number().int().min(1).max(500),
});
export type ListRequest = z.infer<typeof listRequestSchema>;
const recordValueSchema = z.union([z.string(), z.number(), z.boolean(), z.null()]);
/** A total: a number, or the text or date (ISO 8601) that a minimum or maximum is. */
const totalValueSchema = z.union([z.number(), z.string(), z.null()]);
export type TotalValue = z.infer<typeof totalValueSchema>;
export const listRowSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('record'),
    values: z.array(recordValueSchema),
    /** Place of the record in the whole list, from 1. */
    number: z.number(),
    /** The words of the groups it is in. */
    groups: z.array(z.string()),
  }),
  z.object({
    kind: z.enum(['header', 'footer', 'group']),
    depth: z.number(),
    groups: z.array(z.string()),
    records: z.number(),
    totals: z.array(totalValueSchema),
  }),
]);
export type ListRow = z.infer<typeof listRowSchema>;

export const listResponseSchema = z.object({
  /** Records in all. */
  records: z.number(),
  /** Lines in all: records, and headers and footers of groups. */
  lines: z.number(),
  rows: z.array(listRowSchema),
  totals: z.array(totalValueSchema),
});
export type ListResponse = z.infer<typeof listResponseSchema>;

/** The records behind a cell: a window of them. */
export const cellRecordsRequestSchema = z.object({
  ...explainRequestSchema.shape,
  ...listRequestSchema.pick({ order: true, offset: true, limit: true }).shape,
  /** One of the parts that records stand behind; the first where it is not said. */
  part: z.string().max(2_000).optional(),
});
export type CellRecordsRequest = z.infer<typeof cellRecordsRequestSchema>;
export const cellRecordsSchema = z.object({
  /** Records of several facts, or on other dates too, stand behind some figures. */
  parts: z.array(z.object({ key: z.string(), label: z.string(), dates: z.string() })),
  /** The part that is shown. */
  part: z.string(),
  /** The list that the records are shown as: its columns, and the fact it is of. */
  list: listSchema,
  page: listResponseSchema,
  /** What the measure comes to over these records, and its label; null where it reads other facts too, or has no value. */
  measure: z.object({ label: z.string(), value: z.number().nullable() }),
});
export type CellRecords = z.infer<typeof cellRecordsSchema>;

/** An exhibit as it is drawn small: what of this is there. */
export const thumbnailPartSchema = z.object({
  /** Columns of the grid of twelve. */
  width: z.number(),
  title: z.string(),
  text: z.string().optional(),
  /** Source of a picture, as documents name it. */
  picture: z.string().optional(),
  figures: z.array(z.object({ label: z.string(), value: z.string(), state: stateSchema })).optional(),
  /** A chart drawn small: shapes, and no figures. */
  chart: z
    .object({
      shape: z.enum(['columns', 'bars', 'lines', 'dots', 'slices', 'grid']),
      series: z.array(z.array(z.number().nullable())),
      zero: z.number(),
    })
    .optional(),
  table: z
    .object({
      columns: z.array(z.string()),
      lines: z.array(z.object({ label: z.string(), depth: z.number(), strong: z.boolean(), cells: z.array(z.string()) })),
    })
    .optional(),
});
export type ThumbnailPart = z.infer<typeof thumbnailPartSchema>;
/** The first page of a report, made small for the library. */
export const thumbnailSchema = z.object({ title: z.string(), parts: z.array(thumbnailPartSchema) });
export type Thumbnail = z.infer<typeof thumbnailSchema>;

const pointerSchema = z
  .string()
  .max(2000)
  .regex(/^(\/.*)?$/s, 'A path begins with a slash (RFC 6901)')
  .refine((path) => path.split('/').every(isFreeName), 'A path cannot go through a word of programs');
/** A change of a document, as JSON Patch (RFC 6902) writes it; the three operations that every change can be made of. */
export const changeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('add'), path: pointerSchema, value: z.unknown() }),
  z.object({ op: z.literal('replace'), path: pointerSchema, value: z.unknown() }),
  z.object({ op: z.literal('remove'), path: pointerSchema }),
]);
/** What changed in a draft since a revision. */
export const reportChangesSchema = z.object({ changes: z.array(changeSchema).max(10_000), revision: z.number().int() });
/** A report as a document that travels. */
export const reportDocumentSchema = z.object({ report: reportSchema });
/** Outlines of places, as they were checked when they were kept. */
export const shapesFileSchema = z.custom<Shapes>((file) => typeof file === 'object' && file !== null && 'features' in file);
export const newAssetSchema = z.object({ source: assetDataSchema });
export const keptAssetSchema = z.object({ source: z.string() });
export const saveReportSchema = z.object({ report: reportSchema, revision: z.number().int() });
export const newReportSchema = z.object({
  title: z.string().trim().min(1, 'Give the report a title').max(200),
  folder: z.string().trim().max(200).default(''),
  dataset: z.string().min(1, 'Choose a dataset'),
  layout: z.enum(['empty', 'crosstab', 'figures', 'list']),
});
export const madeReportSchema = z.object({ id: z.string() });
export const publishSchema = z.object({
  note: z.string().trim().max(500).default(''),
  revision: z.number().int(),
  /** Datasets that everyone may see from now on, where that was not decided yet. */
  open: z.array(z.string()).max(50).default([]),
});
export type PublishRequest = z.infer<typeof publishSchema>;
/** Who would see what of the datasets that a report stands on. */
export const audienceSchema = z.array(
  z.object({
    dataset: z.string(),
    label: z.string(),
    decided: z.boolean(),
    people: z.array(
      z.object({
        ...{ id: z.string(), name: z.string(), title: z.string(), role: roleSchema },
        /** Their access rules in words; empty for who sees everything. */
        sees: z.string(),
      }),
    ),
  }),
);
export type Audience = z.infer<typeof audienceSchema>;
export const editionSchema = z.object({
  number: z.number(),
  note: z.string(),
  publishedAt: z.string(),
  /** Who published it. */
  by: z.string(),
});
export type Edition = z.infer<typeof editionSchema>;
export const comparedSchema = z.object({ changes: z.array(z.string()) });
export const editionDocumentSchema = z.object({ report: reportSchema });
export const favouriteSchema = z.object({ favourite: z.boolean() });
/** Values that titles and texts show. */
export const valuesRequestSchema = z.object({ ...scoped, measures: z.array(z.string()).max(50) });
export const valuesResponseSchema = z.record(z.string(), z.object({ value: z.number().nullable(), reason: z.string() }));
export type ValuesResponse = z.infer<typeof valuesResponseSchema>;

export const savedSchema = z.object({ revision: z.number() });

export const datasetSummarySchema = z.object({
  name: z.string(),
  label: z.string(),
  description: z.string(),
  /** Rows are not told of records that stay where they are. */
  facts: z.array(z.object({ label: z.string(), rows: z.number().nullable() })),
  updatedAt: z.string(),
  /** Why its records cannot be read; empty where they can. */
  problem: z.string(),
  /** Whether it has been said who sees it; until then only its maker does. */
  accessDecided: z.boolean(),
});
export type DatasetSummary = z.infer<typeof datasetSummarySchema>;
