import { LOCALE } from '@bold-compass/core/format';
import {
  openExhibit,
  dataDays,
  startOf,
  type AnswerContext,
  type Asked,
  type ExhibitQuestion,
  type Reading,
  bytesOfTable,
  type PreparedTable,
} from '@bold-compass/core/answers';
import type { Watched } from '@bold-compass/core/api';
import { isoDate } from '@bold-compass/core/calendar';
import { askableReport, measuresOfReport, reportFaults } from '@bold-compass/core/exhibits';
import {
  fieldPlace,
  fieldsOf,
  isDataExhibit,
  isSameDimension,
  withReportMeasures,
  type Crosstab,
  type DataExhibit,
  type Dataset,
  type KpiStrip,
  type ReaderScope,
  type Report,
} from '@bold-compass/core/model';
import { knownSections, sectionsOfExhibit, sectionsOnPage, withSection } from '@bold-compass/core/sections';
import { conditionsFor, initialReaderScope, promptValues } from '@bold-compass/core/prompts';
import {
  answerQuestion,
  ByteCache,
  createReaderMemory,
  DatasetReader,
  isVisibleTo,
  type AnswerQuestion,
  type Catalogue,
  type DatasetHead,
} from '../data/index.ts';
import { ApiError } from '../problems/index.ts';
import type { Caller } from '../people/index.ts';
import type { DatasetSight } from './dataset-sight.ts';
import { canCompose, datasetsIn, type Library, type StoredReport } from './library.ts';
import { JsonAnswer, jsonBytes } from '../threads/index.ts';
import { checkAsked } from './scope.ts';
import { visibleDocument } from './visible.ts';

/** Cross-tabs over live records that are kept put together; those over columns are kept by the threads that answer. */
const TABLE_BYTES = 200_000_000;

/** What a question about a report says of the state it is in. */
interface AskedOf extends ReaderScope {
  /** Whether the draft is meant, which only analysts are answered from. */
  draft: boolean;
}

/** An exhibit as the reader chose to see it, with the data it answers from and the conditions that this data knows. */
interface OpenExhibit<Exhibit> {
  exhibit: Exhibit;
  reader: DatasetReader;
  asked: Asked;
}

/** A report's document with the data it stands on. */
interface OpenReport {
  stored: StoredReport;
  /** The dataset without the measures of the report. */
  dataset: Dataset;
  reader: DatasetReader;
}

/** Reports together with the data they stand on, as far as a caller may see it. */
export class ReportReader {
  private readonly memory = createReaderMemory();
  private readonly tables = new ByteCache<PreparedTable>(TABLE_BYTES, bytesOfTable);

  constructor(
    private readonly library: Library,
    private readonly catalogue: Catalogue,
    private readonly sight: DatasetSight,
  ) {}

  /** A dataset as the caller may see it. Throws ApiError `not-found`. */
  async reader(caller: Caller, dataset: string): Promise<DatasetReader> {
    await this.requireSight(caller, dataset);
    return new DatasetReader(await this.catalogue.open(dataset), caller.rules, this.memory);
  }

  /** Datasets are opened as they are from now on, whoever changed them. */
  forgetHeads(): void {
    this.catalogue.forgetHeads();
  }

  /** A dataset with all its records, for what is calculated of them whoever asks; nothing of it may be answered to who sees less. */
  async wholeReader(dataset: string): Promise<DatasetReader> {
    return new DatasetReader(await this.catalogue.open(dataset), [], this.memory);
  }

  /** Throws ApiError `not-allowed` where a dataset is not the caller's to see. */
  requireSight(caller: Caller, dataset: string): Promise<void> {
    return this.sight.require(caller, [dataset]);
  }

  /** A report's document with the data it stands on. Throws ApiError `report-not-found`. */
  async report(caller: Caller, id: string, draft: boolean): Promise<OpenReport> {
    const stored = await this.library.open(caller, id, draft);
    const reader = await this.reader(caller, stored.report.dataset);
    const askable = askableReport(stored.report, withReportMeasures(reader.dataset, stored.report.measures));
    const values = promptValues(askable, initialReaderScope(askable));
    return { stored, dataset: reader.dataset, reader: reader.withMeasures(measuresOfReport(stored.report, reader.dataset), values) };
  }

  /** What every question about a report starts with. Throws ApiError `scope-unknown`, `report-not-found`. */
  async asked(caller: Caller, id: string, { draft, ...asked }: AskedOf): Promise<{ report: Report; reader: DatasetReader }> {
    const stored = await this.library.open(caller, id, draft);
    const reader = await this.reader(caller, stored.report.dataset);
    const report = askableReport(stored.report, withReportMeasures(reader.dataset, stored.report.measures));
    const measures = measuresOfReport(report, reader.dataset);
    const own = reader.withMeasures(measures, promptValues(report, asked, { dataset: reader.dataset, days: dataDays(reader) }));
    await checkAsked(own, report, asked);
    return { report, reader: own };
  }

  /** The conditions that a reader's choices are for a report as a whole. */
  conditions(report: Report, reader: DatasetReader, asked: ReaderScope): Asked {
    return conditionsFor(report, asked, { dataset: reader.dataset, days: dataDays(reader) });
  }

  /** An exhibit of one of the kinds that a question is about. Throws ApiError `exhibit-not-found` beside those of `asked`. */
  async exhibit<Kind extends DataExhibit['kind']>(
    caller: Caller,
    place: { report: string; exhibit: string },
    { draft, ...chosen }: AskedOf,
    kinds: readonly Kind[],
  ): Promise<OpenExhibit<Extract<DataExhibit, { kind: Kind }>>> {
    const { report, reader } = await this.asked(caller, place.report, { draft, ...chosen });
    return this.opened(caller, report, reader, exhibitOf(report, place.exhibit, kinds), chosen);
  }

  /** An exhibit of a report as a reader chose to see it, with the dataset it answers from. */
  async opened<Own extends DataExhibit>(
    caller: Caller,
    report: Report,
    reader: DatasetReader,
    exhibit: Own,
    chosen: ReaderScope,
  ): Promise<OpenExhibit<Own>> {
    const isOther = exhibit.dataset !== undefined && exhibit.dataset !== report.dataset;
    const own = { dataset: reader.dataset, days: dataDays(reader) };
    const other = isOther ? (await this.reader(caller, exhibit.dataset!)).withMeasures([], promptValues(report, chosen, own)) : null;
    return { reader: other ?? reader, ...openExhibit(report, exhibit, chosen, own, other?.dataset ?? null) };
  }

  /** What answers over a dataset are calculated from. */
  context(reader: DatasetReader, caller: Caller): AnswerContext {
    const report = (id: string): Promise<Report | null> =>
      this.library.open(caller, id, false).then(
        (stored) => stored.report,
        () => null,
      );
    const datasetOf = (name: string): Promise<Dataset | null> =>
      this.requireSight(caller, name).then(
        () => this.definition(name),
        () => null,
      );
    return { dataset: reader.dataset, data: reader, tables: this.tables, locale: LOCALE, report, datasetOf };
  }

  /** Answers a question about an exhibit, as far as it speaks of what the caller may see. */
  async answer(
    caller: Caller,
    question: ExhibitQuestion,
    { exhibit, reader, asked }: OpenExhibit<DataExhibit>,
    request: unknown,
    signal?: AbortSignal,
  ): Promise<JsonAnswer> {
    const visible = await question.visible(exhibit, request, isVisibleTo(reader));
    const context = this.context(reader, caller);
    const names = question.reports?.(exhibit) ?? [];
    const reports = Object.fromEntries(await Promise.all(names.map(async (id) => [id, await context.report(id)] as const)));
    const others = [...new Set(Object.values(reports).flatMap((report) => (report ? [report.dataset] : [])))].filter(
      (name) => name !== reader.dataset.name,
    );
    const datasets = Object.fromEntries(
      await Promise.all(others.map(async (name) => [name, (await context.datasetOf?.(name)) ?? null] as const)),
    );
    return this.ask(caller, reader, { kind: 'exhibit', path: question.path, exhibit, asked, request: visible, reports, datasets }, signal);
  }

  /** The values that titles and texts of a report show. */
  values(caller: Caller, reader: DatasetReader, measures: string[], asked: Asked, signal?: AbortSignal): Promise<JsonAnswer> {
    return this.ask(caller, reader, { kind: 'values', measures, asked }, signal);
  }

  /** The sections that a page, or an exhibit, is repeated in. Throws ApiError `exhibit-not-found`, `scope-unknown`. */
  async sections(
    caller: Caller,
    id: string,
    { draft, ...chosen }: AskedOf,
    { page, exhibit }: { page?: string; exhibit?: string },
    signal?: AbortSignal,
  ): Promise<JsonAnswer> {
    const { report, reader: own } = await this.asked(caller, id, { draft, ...chosen });
    const repeated = exhibit === undefined ? undefined : report.exhibits.find((one) => one.id === exhibit);
    const sections = exhibit === undefined ? sectionsOnPage(report, page) : repeated && sectionsOfExhibit(repeated);
    if (!sections) throw new ApiError('exhibit-not-found', 'This has no sections any more. Reload the page to see the newest edition.');
    const whole = withSection(chosen, null, exhibit);
    const of = repeated && isDataExhibit(repeated) ? await this.opened(caller, report, own, repeated, whole) : null;
    const reader = of?.reader ?? own;
    if (!knownSections(sections, reader.dataset))
      throw new ApiError(
        'question-invalid',
        `These sections go by what ${reader.dataset.label} no longer has. An analyst can choose another field.`,
      );
    const asked = of?.asked ?? this.conditions(report, reader, whole);
    return this.ask(caller, reader, { kind: 'sections', sections, asked, own: of?.exhibit.filter ?? null }, signal);
  }

  /** Where a watched figure stands. */
  async reading(caller: Caller, { exhibit, reader, asked }: OpenExhibit<Crosstab | KpiStrip>, watched: Watched): Promise<Reading> {
    return (await this.ask(caller, reader, { kind: 'reading', exhibit, asked, watched })).read() as Reading;
  }

  /** Asks in a thread where the records are here; records that are live are asked for where they are. */
  private async ask(caller: Caller, reader: DatasetReader, question: AnswerQuestion, signal?: AbortSignal): Promise<JsonAnswer> {
    const answer = reader.answer(question, { person: caller.seenBy ?? caller.person.id, signal });
    return answer ?? new JsonAnswer(jsonBytes(await answerQuestion(question, this.context(reader, caller), reader)));
  }

  /** What is chosen before the caller chooses anything, in a report as they get it. */
  start(caller: Caller, report: Report, reader: DatasetReader): Promise<Pick<ReaderScope, 'scope' | 'choices'>> {
    const own = async (field: string): Promise<string[] | null> => {
      const restricted = fieldsOf(reader.restriction).some((name) =>
        isSameDimension(fieldPlace(reader.dataset, name), fieldPlace(reader.dataset, field)),
      );
      return restricted ? [...(await reader.visibleMembers(field))].sort() : null;
    };
    return startOf(this.context(reader, caller), askableReport(report, reader.dataset), own);
  }

  /** First and last day that there is data for, as ISO 8601 dates; where no date tells, the day it was loaded. */
  async span({ calendar, dataset }: DatasetReader): Promise<{ dataFrom: string; dataTo: string }> {
    const { first, days } = calendar;
    if (days > 0) return { dataFrom: isoDate(first), dataTo: isoDate(first + days - 1) };
    const loadedAt = (await this.head(dataset.name)).updatedAt.toISOString().slice(0, 10);
    return { dataFrom: loadedAt, dataTo: loadedAt };
  }

  /** A report's document as the caller gets it, without members that are not theirs to see. */
  async documentFor(caller: Caller, report: Report, reader: DatasetReader): Promise<Report> {
    if (canCompose(caller)) return report;
    return visibleDocument(reader, report, async (dataset) => ((await this.catalogue.find(dataset)) ? this.reader(caller, dataset) : null));
  }

  /** Loads the data of every report, so that nobody waits for it after a start; what cannot be loaded says so to who asks. */
  async warm(): Promise<void> {
    for (const dataset of await this.library.datasets()) await this.catalogue.open(dataset).catch(() => undefined);
  }

  /** What is known of a dataset beside its records. Throws ApiError `not-found`. */
  head(dataset: string): Promise<DatasetHead> {
    return this.catalogue.definition(dataset);
  }

  /** What a dataset means, without its records. Throws ApiError `not-found`. */
  async definition(dataset: string): Promise<Dataset> {
    return (await this.catalogue.definition(dataset)).dataset;
  }

  /** The datasets that exhibits of a report answer from beside its own, by name; those that are gone are left out. */
  async otherDatasets(report: Report): Promise<Record<string, Dataset>> {
    const names = new Set(report.exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset ? [exhibit.dataset] : [])));
    names.delete(report.dataset);
    const heads = await Promise.all([...names].map(async (name) => [name, await this.catalogue.find(name)] as const));
    return Object.fromEntries(heads.flatMap(([name, head]) => (head ? [[name, head.dataset] as const] : [])));
  }

  /** All datasets of a report, by name. */
  async datasets(report: Report): Promise<Record<string, Dataset>> {
    const [own, others] = await Promise.all([this.definition(report.dataset), this.otherDatasets(report)]);
    return { ...others, [report.dataset]: withReportMeasures(own, report.measures, promptValues(report, initialReaderScope(report))) };
  }

  /** Holds a document that came from outside against its datasets. Throws ApiError `report-invalid`, `not-allowed`. */
  async checkSound(caller: Caller, report: Report): Promise<void> {
    await this.sight.require(caller, datasetsIn(report));
    const datasets = await this.datasets(report);
    const gone = datasetsIn(report).find((name) => !datasets[name]);
    if (gone)
      throw new ApiError(
        'report-invalid',
        `There is no dataset called "${gone}" any more. Choose another one for its exhibits, or remove them.`,
      );
    const [fault] = reportFaults(report, (name) => datasets[name] ?? datasets[report.dataset]);
    if (fault) throw new ApiError('report-invalid', fault);
  }
}

function exhibitOf<Kind extends DataExhibit['kind']>(
  report: Report,
  id: string,
  kinds: readonly Kind[],
): Extract<DataExhibit, { kind: Kind }> {
  const found = report.exhibits.find((exhibit) => exhibit.id === id && (kinds as readonly string[]).includes(exhibit.kind));
  if (!found)
    throw new ApiError('exhibit-not-found', 'This report has no such exhibit any more. Reload the page to see the newest edition.');
  return found as Extract<DataExhibit, { kind: Kind }>;
}
