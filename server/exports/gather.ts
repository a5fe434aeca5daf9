import { conditionsInWords, dataDays, EXHIBIT_QUESTIONS, labelsFor } from '@bold-compass/core/answers';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { kindOf, missingNames, writtenInMarkdown } from '@bold-compass/core/exhibits';
import { exportedKind, exportFormat, type ExportMeasure, type ExportRequest } from '@bold-compass/core/exports';
import { assetId, findField, findMeasure, isDataExhibit, type DataExhibit, type Exhibit, type Report } from '@bold-compass/core/model';
import { scopeSentence } from '@bold-compass/core/prompts';
import type { Assets } from '../assets/index.ts';
import type { DatasetReader } from '../data/index.ts';
import type { Caller } from '../people/index.ts';
import { ApiError, asApiError } from '../problems/index.ts';
import { fillingOf, type FillValues, type ReportReader } from '../reports/index.ts';
import { LOCALE } from '@bold-compass/core/format';
import type { GatheredExhibit, GatheredPart, GatheredPicture, GatheredReport } from './gathered.ts';

/** Lines that one question brings: few enough that a question stays short, many enough that there are not many of them. */
const LINES = 2_000;
const count = new Intl.NumberFormat(LOCALE);

/** Who asks for what, and how the work goes on. */
interface Gathering {
  caller: Caller;
  request: ExportRequest;
  signal: AbortSignal;
  /** From 0 to 1. */
  progress(share: number): void;
}

/** The exhibits of a request with their pages, in order. */
export function exhibitsAsked(report: Report, { pages, exhibit, format }: ExportRequest): { title: string; exhibits: Exhibit[] }[] {
  if (exportFormat(format).carries === 'table')
    return [{ title: '', exhibits: report.exhibits.filter((one) => one.id === exhibit && isDataExhibit(one)) }];
  const first = report.pages[0]?.id;
  const all = report.pages.length > 0 ? report.pages : [{ id: first, title: '' }];
  return all
    .filter(({ id }) => pages.length === 0 || (id !== undefined && pages.includes(id)))
    .map(({ id, title }) => ({ title, exhibits: report.exhibits.filter(({ page }) => (page ?? first) === id) }));
}

/** Asks for all that an export is written from, as its person may see it. */
export class Gatherer {
  /** Cells that were asked for so far. */
  private cells = 0;

  constructor(
    private readonly reports: ReportReader,
    private readonly assets: Assets,
    private readonly gathering: Gathering,
  ) {}

  /** Throws ApiError `report-not-found`, `not-allowed`, `scope-unknown`, `too-large`. */
  async report(): Promise<GatheredReport> {
    const { caller, request } = this.gathering;
    const { scope, choices, where, draft } = request;
    const chosen = { scope, choices, where };
    const { stored } = await this.reports.report(caller, request.report, draft);
    const { report, reader } = await this.reports.asked(caller, request.report, { ...chosen, draft });
    const seen = await this.reports.documentFor(caller, report, reader);
    const context = this.reports.context(reader, caller);
    const labelled = Object.keys(scope).filter((field) => findField(reader.dataset, field) !== undefined);
    const label = await labelsFor(context, labelled);
    const { edition, publishedAt } = stored;
    const fill = await fillingOf(this.reports, caller, reader, { report: seen, edition, asked: chosen, label });
    const wording = { dataset: reader.dataset, label, locale: LOCALE, days: dataDays(reader) };
    const { dataTo } = await this.reports.span(reader);
    const asked = exhibitsAsked(seen, request);
    const all = asked.flatMap(({ exhibits }) => exhibits);
    const numbers = seen.exhibits.filter((exhibit) => kindOf(exhibit).isNumbered).map(({ id }) => id);
    const pages: GatheredReport['pages'] = [];
    let done = 0;
    for (const { title, exhibits } of asked) {
      const parts: GatheredPart[] = [];
      for (const exhibit of exhibits) {
        this.gathering.signal.throwIfAborted();
        parts.push(await this.part(exhibit, { report, seen, reader, fill, number: numbers.indexOf(exhibit.id) + 1 }));
        this.gathering.progress(++done / all.length);
      }
      pages.push({ title, parts });
    }
    return {
      ...{ title: fill(seen.title), subtitle: fill(seen.subtitle), note: fill(seen.note), pages },
      scope: scopeSentence(seen, chosen, wording),
      dataAsOf: dayLabel(parseIsoDate(dataTo)!, LOCALE),
      edition:
        edition === null
          ? 'Draft'
          : `Edition ${edition}, published ${dayLabel(parseIsoDate(publishedAt!.toISOString().slice(0, 10))!, LOCALE)}`,
      madeFor: caller.person.name,
      access: (await conditionsInWords(context, reader.restriction)).join('; '),
      madeAt: new Date().toISOString(),
      measures: this.measures(all, pages),
      pictures: await this.pictures(all),
    };
  }

  private async part(
    exhibit: Exhibit,
    { report, seen, reader, fill, number }: { report: Report; seen: Report; reader: DatasetReader; fill: FillValues; number: number },
  ): Promise<GatheredPart> {
    if (!isDataExhibit(exhibit))
      return { kind: 'plain', exhibit: exhibit.kind === 'text' ? { ...exhibit, text: fill(exhibit.text, writtenInMarkdown) } : exhibit };
    const title = fill(exhibit.title);
    try {
      // What is asked is the document as it is; what is drawn is what its reader has.
      const written = report.exhibits.find(({ id }) => id === exhibit.id) as DataExhibit;
      return { kind: 'data', title, note: fill(exhibit.note), number, ...(await this.answered(report, seen, reader, written, exhibit)) };
    } catch (error) {
      this.gathering.signal.throwIfAborted();
      const { code, message } = asApiError(error);
      if (['internal', 'database-unreachable', 'report-not-found'].includes(code) || error instanceof TooLarge) throw error;
      return { kind: 'failed', width: exhibit.width, title, problem: message };
    }
  }

  private async answered(
    report: Report,
    seen: Report,
    reader: DatasetReader,
    written: DataExhibit,
    exhibit: DataExhibit,
  ): Promise<Omit<GatheredExhibit, 'title' | 'note' | 'number'>> {
    const { caller, request, signal } = this.gathering;
    const { scope, choices, where, draft } = request;
    const own = request.exhibits[written.id];
    const chosen = own?.asked ?? { scope, choices, where };
    // What an exhibit is asked under beside the rest is checked as the rest is.
    const under = own?.asked ? (await this.reports.asked(caller, request.report, { ...chosen, draft })).reader : reader;
    const opened = await this.reports.opened(caller, report, under, written, chosen);
    const drawn = await this.reports.opened(caller, seen, under, exhibit, chosen);
    const missing = missingNames(opened.exhibit, opened.reader.dataset);
    if (missing.fields.length + missing.measures.length > 0)
      throw new ApiError(
        'question-invalid',
        `This exhibit asks for ${[...missing.fields, ...missing.measures].join(', ')}, which is no longer there.`,
      );
    const kind = exportedKind(written.kind);
    const question = EXHIBIT_QUESTIONS.find(({ path, kinds }) => path === kind.path && kinds.includes(written.kind))!;
    const state = own === undefined ? kind.composed(opened.exhibit) : kind.state.parse(own.state);
    const ask = async (from: number, lines: number): Promise<unknown> => {
      signal.throwIfAborted();
      return (await this.reports.answer(caller, question, opened, kind.request({ ...chosen, draft }, state, from, lines), signal)).read();
    };
    const answers = [await ask(0, LINES)];
    const { lines, width } = kind.extent(answers[0], opened.exhibit);
    this.count(lines * width);
    for (let from = LINES; from < lines; from += LINES) answers.push(await ask(from, LINES));
    const { dataTo } = await this.reports.span(opened.reader);
    return { exhibit: drawn.exhibit, dataset: drawn.reader.dataset, dataTo, answers, state };
  }

  /** Counts cells; more than a format can carry are not asked for. */
  private count(cells: number): void {
    const { mostCells, label } = exportFormat(this.gathering.request.format);
    this.cells += cells;
    if (this.cells > mostCells)
      throw new TooLarge(
        'too-large',
        `This would be ${count.format(this.cells)} cells; ${label} holds ${count.format(mostCells)} here. Close levels, choose fewer pages or a smaller scope, or export CSV.`,
      );
  }

  /** The measures that are shown, each once; formulas may name members, and are told to those only who see all of these. */
  private measures(exhibits: readonly Exhibit[], pages: GatheredReport['pages']): ExportMeasure[] {
    const isWhole = this.gathering.caller.rules.length === 0;
    const datasets = new Map(
      pages.flatMap(({ parts }) => parts.flatMap((part) => (part.kind === 'data' ? [[part.exhibit.id, part.dataset]] : []))),
    );
    const found = exhibits.flatMap((exhibit) => {
      const dataset = datasets.get(exhibit.id);
      return kindOf(exhibit)
        .names(exhibit)
        .measures.flatMap((name) => (dataset && findMeasure(dataset, name)) ?? []);
    });
    const known = new Map(found.map((measure) => [`${measure.label} ${measure.formula}`, measure]));
    return [...known.values()].map(({ label, formula, description = '' }) => ({ label, formula: isWhole ? formula : '', description }));
  }

  private async pictures(exhibits: readonly Exhibit[]): Promise<Record<string, GatheredPicture>> {
    const sources = exhibits.flatMap((exhibit) =>
      exhibit.kind === 'image'
        ? [exhibit.source]
        : exhibit.kind === 'chart' && exhibit.chart.map.shapes
          ? [exhibit.chart.map.shapes.source]
          : [],
    );
    const read = async (source: string): Promise<[string, GatheredPicture][]> => {
      const id = assetId(source);
      if (id === null) return [];
      const { type, bytes } = await this.assets.read(id);
      return [[source, { type, bytes: new Uint8Array(bytes) }]];
    };
    return Object.fromEntries((await Promise.all(sources.map((source) => read(source).catch(() => [])))).flat());
  }
}

/** More than a format can carry: the whole export is refused. */
class TooLarge extends ApiError {}
