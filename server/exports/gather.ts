import { conditionsInWords, dataDays, EXHIBIT_QUESTIONS, labelsFor, type ExhibitQuestion } from '@bold-compass/core/answers';
import { commonScaleRequestSchema, viewStateSchema, type CommonScale, type ViewState } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { kindOf, missingNames, writtenInMarkdown } from '@bold-compass/core/exhibits';
import { exportedKind, exportFormat, type ExportMeasure, type ExportRequest } from '@bold-compass/core/exports';
import {
  assetId,
  findField,
  findMeasure,
  isCellExhibit,
  isDataExhibit,
  pageSetupSchema,
  textSchema,
  type Chart,
  type DataExhibit,
  type Dataset,
  type Exhibit,
  type ReaderScope,
  type Report,
  type Sections,
} from '@bold-compass/core/model';
import { scopeSentence } from '@bold-compass/core/prompts';
import { inSectionsOf, levelsLeft, sectionsOfExhibit, sectionsOnPage, withSection, type Section } from '@bold-compass/core/sections';
import type { Assets } from '../assets/index.ts';
import type { DatasetReader } from '../data/index.ts';
import type { Caller } from '../people/index.ts';
import { ApiError, asApiError } from '../problems/index.ts';
import { fillingOf, type FillValues, type ReportReader } from '../reports/index.ts';
import { LOCALE } from '@bold-compass/core/format';
import { exportedSections, type ExportedSection, type RepeatedPart } from './sections.ts';
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
export function exhibitsAsked(
  report: Report,
  { pages, exhibit, format }: ExportRequest,
): { page: string | undefined; title: string; exhibits: Exhibit[] }[] {
  const first = report.pages[0]?.id;
  if (exportFormat(format).carries === 'table') {
    const exhibits = report.exhibits.filter((one) => one.id === exhibit && isDataExhibit(one));
    return [{ page: exhibits[0]?.page ?? first, title: '', exhibits }];
  }
  // A page that is the only one is the report.
  const all = report.pages.length > 1 ? report.pages : [{ id: first, title: '' }];
  return all
    .filter(({ id }) => pages.length === 0 || (id !== undefined && pages.includes(id)))
    .map(({ id, title }) => ({ page: id, title, exhibits: report.exhibits.filter(({ page }) => (page ?? first) === id) }));
}

/** What every part of a report is gathered with. */
interface Place {
  report: Report;
  /** The document as its reader has it. */
  seen: Report;
  reader: DatasetReader;
  fill: FillValues;
  number: number;
  section: ExportedSection;
}

/** The levels that the sections around an exhibit go by, whichever it is asked in. */
const levelsOfSections = (report: Report, exhibit: DataExhibit): Section[] =>
  [sectionsOnPage(report, exhibit.page ?? report.pages[0]?.id), sectionsOfExhibit(exhibit)].flatMap((sections) =>
    sections ? [{ field: sections.field, member: null }] : [],
  );

/**
 * The state of a table, which is sent as it is in a section, for the table as it is asked: all members together have the levels
 * that a section leaves out, and stand open deeper by as many.
 */
function stateAsAsked(state: unknown, asked: DataExhibit, around: readonly Section[], dataset: Dataset): unknown {
  const { data } = viewStateSchema.safeParse(state);
  if (!data || !isCellExhibit(asked)) return state;
  const deeper = (which: 'side' | 'top'): ViewState['side'] => {
    const { fields } = asked[which];
    const { open, ...axis } = data[which];
    return { ...axis, open: { ...open, depth: open.depth + fields.length - levelsLeft(dataset, fields, around).length } };
  };
  return { ...(state as object), side: deeper('side'), top: deeper('top') };
}

/** Asks for all that an export is written from, as its person may see it. */
export class Gatherer {
  /** Cells that were asked for so far. */
  private cells = 0;
  /** Scales that the charts of sections have in common. */
  private readonly scales = new Map<string, Promise<CommonScale>>();

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
    const filling = (asked: ReaderScope): Promise<FillValues> =>
      fillingOf(this.reports, caller, reader, { report: seen, edition, asked, label });
    const fill = await filling(chosen);
    const wording = { dataset: reader.dataset, label, locale: LOCALE, days: dataDays(reader) };
    const { dataTo } = await this.reports.span(reader);
    const asked = exhibitsAsked(seen, request);
    const numbers = seen.exhibits.filter((exhibit) => kindOf(exhibit).isNumbered).map(({ id }) => id);
    const plan: { title: string; exhibits: Exhibit[]; section: ExportedSection }[] = [];
    for (const { page, title, exhibits } of asked) {
      const repeated = { sections: sectionsOnPage(seen, page), dataset: reader.dataset, page };
      for (const section of await this.sections(seen, chosen, repeated))
        plan.push({ title: [title, section.label].filter((words) => words !== '').join(' · '), exhibits, section });
    }
    const all = plan.reduce((sum, { exhibits }) => sum + exhibits.length, 0);
    const pages: GatheredReport['pages'] = [];
    let done = 0;
    for (const { title, exhibits, section } of plan) {
      const parts: GatheredPart[] = [];
      const own = section.label === '' ? fill : await filling(section.asked);
      if (section.isEmpty) parts.push(nothingIn(section));
      for (const exhibit of section.isEmpty ? [] : exhibits) {
        this.gathering.signal.throwIfAborted();
        const number = numbers.indexOf(exhibit.id) + 1;
        parts.push(...(await this.parts(exhibit, { report, seen, reader, fill: own, number, section })));
        this.gathering.progress(++done / all);
      }
      pages.push({ title, parts });
    }
    const setup = request.pageSetup ?? seen.pageSetup ?? pageSetupSchema.parse({});
    const exported = asked.flatMap(({ exhibits }) => exhibits);
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
      setup: { ...setup, head: fill(setup.head), foot: fill(setup.foot) },
      measures: this.measures(exported, pages),
      pictures: await this.pictures(exported),
    };
  }

  private sections(seen: Report, asked: ReaderScope, part: RepeatedPart): Promise<ExportedSection[]> {
    const { caller, request, signal } = this.gathering;
    // A single table is that of the section which is open.
    const sections = exportFormat(request.format).carries === 'table' ? 'open' : request.sections;
    return exportedSections(this.reports, caller, { ...request, sections }, seen, asked, part, signal);
  }

  /** An exhibit, once for each of the sections that it is repeated in itself. */
  private async parts(exhibit: Exhibit, place: Place): Promise<GatheredPart[]> {
    const settings = sectionsOfExhibit(exhibit);
    if (!settings || !isDataExhibit(exhibit)) return [await this.part(exhibit, place)];
    const { caller } = this.gathering;
    const { seen, reader, section } = place;
    const { reader: own } = await this.reports.opened(caller, seen, reader, exhibit, section.asked);
    const repeated = { sections: settings, dataset: own.dataset, exhibit: exhibit.id };
    const parts: GatheredPart[] = [];
    for (const inner of await this.sections(seen, section.asked, repeated)) {
      const label = [section.label, inner.label].filter((words) => words !== '').join(', ');
      parts.push(inner.isEmpty ? nothingIn(inner) : await this.part(exhibit, { ...place, section: { ...inner, label } }));
    }
    return parts;
  }

  private async part(exhibit: Exhibit, place: Place): Promise<GatheredPart> {
    const { report, fill, number, section } = place;
    if (!isDataExhibit(exhibit))
      return { kind: 'plain', exhibit: exhibit.kind === 'text' ? { ...exhibit, text: fill(exhibit.text, writtenInMarkdown) } : exhibit };
    const title = fill(exhibit.title);
    try {
      // What is asked is the document as it is; what is drawn is what its reader has.
      const written = report.exhibits.find(({ id }) => id === exhibit.id) as DataExhibit;
      const answered = await this.answered(written, exhibit, place);
      return { kind: 'data', title, section: section.label, note: fill(exhibit.note), number, ...answered };
    } catch (error) {
      this.gathering.signal.throwIfAborted();
      const { code, message } = asApiError(error);
      if (['internal', 'database-unreachable', 'report-not-found'].includes(code) || error instanceof TooLarge) throw error;
      const { id, width, startsPage } = exhibit;
      return { kind: 'failed', id, width, startsPage, title, problem: message };
    }
  }

  private async answered(
    written: DataExhibit,
    exhibit: DataExhibit,
    { report, seen, reader, section }: Place,
  ): Promise<Omit<GatheredExhibit, 'title' | 'section' | 'note' | 'number'>> {
    const { caller, request, signal } = this.gathering;
    const { draft } = request;
    const own = request.exhibits[written.id];
    const chosen = own?.asked ? inSectionsOf(own.asked, section.asked, written.id) : section.asked;
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
    const settings = sectionsOfExhibit(written) ?? sectionsOnPage(report, written.page ?? report.pages[0]?.id);
    const given = own?.state === undefined ? undefined : kind.state.parse(own.state);
    const isEach = request.sections === 'each' && exportFormat(request.format).carries === 'report';
    const around = isEach ? levelsOfSections(report, written) : [];
    const state = given === undefined ? kind.composed(opened.exhibit) : stateAsAsked(given, opened.exhibit, around, opened.reader.dataset);
    const ask = async (from: number, lines: number): Promise<unknown> => {
      signal.throwIfAborted();
      const question = questionOf(kind.path, written.kind);
      return (await this.reports.answer(caller, question, opened, kind.request({ ...chosen, draft }, state, from, lines), signal)).read();
    };
    const answers = [await ask(0, LINES)];
    const { lines, width } = kind.extent(answers[0], opened.exhibit);
    this.count(lines * width);
    for (let from = LINES; from < lines; from += LINES) answers.push(await ask(from, LINES));
    const { dataTo } = await this.reports.span(opened.reader);
    const isCommon = settings && !section.isWhole && section.label !== '' && (own?.scales ?? settings.scales) === 'common';
    const beyond =
      isCommon && written.kind === 'chart' ? await this.commonScale(written, { report, under, chosen, state, settings }) : undefined;
    return { exhibit: drawn.exhibit, dataset: drawn.reader.dataset, dataTo, answers, state, ...(beyond ? { beyond } : {}) };
  }

  /** Between which values a chart lies in all its sections: asked for once, whatever their number. */
  private commonScale(
    written: Chart,
    {
      report,
      under,
      chosen,
      state,
      settings,
    }: { report: Report; under: DatasetReader; chosen: ReaderScope; state: unknown; settings: Sections },
  ): Promise<CommonScale> {
    const { caller, signal } = this.gathering;
    const scope = withSection(chosen, null, sectionsOfExhibit(written) ? written.id : undefined);
    const key = JSON.stringify([written.id, scope, state]);
    const known = this.scales.get(key);
    if (known) return known;
    const asked = async (): Promise<CommonScale> => {
      const opened = await this.reports.opened(caller, report, under, written, scope);
      const request = commonScaleRequestSchema.parse({
        ...(state as object),
        ...scope,
        draft: this.gathering.request.draft,
        field: settings.field,
      });
      const answer = await this.reports.answer(caller, questionOf('common-scale', 'chart'), opened, request, signal);
      return (await answer.read()) as CommonScale;
    };
    const scale = asked();
    this.scales.set(key, scale);
    return scale;
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

/** What stands in the place of a section that has no records. */
const nothingIn = ({ label }: ExportedSection): GatheredPart => ({
  kind: 'plain',
  exhibit: textSchema.parse({ kind: 'text', id: 'nothing', text: `Nothing for ${writtenInMarkdown(label)} under this scope.` }),
});

const questionOf = (path: string, kind: DataExhibit['kind']): ExhibitQuestion =>
  EXHIBIT_QUESTIONS.find((one) => one.path === path && one.kinds.includes(kind))!;

/** More than a format can carry: the whole export is refused. */
class TooLarge extends ApiError {}
