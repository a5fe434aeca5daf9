import type { Edition, PublishRequest, ReportSummary } from '@bold-compass/core/api';
import { isDataExhibit, reportSchema, type Report } from '@bold-compass/core/model';
import { and, desc, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { tables, type Database } from '../database/index.ts';
import { ApiError, staleRevision } from '../problems/index.ts';
import { maySee, privateOf, type Caller } from '../people/index.ts';
import type { DatasetSight } from './dataset-sight.ts';

export interface StoredReport {
  report: Report;
  /** Tells the states of the document apart. */
  state: string;
  edition: number | null;
  publishedAt: Date | null;
  revision: number;
}

/** Documents that are kept checked. */
const DOCUMENT_BYTES = 64_000_000;
/** The transaction that wrote a row: with any change of it, whoever made it, it is another one. */
const writtenBy = (table: typeof tables.reports | typeof tables.editions): SQL<string> => sql<string>`${table}.xmin::text`;
interface DraftState {
  revision: number;
  written: string;
}
const draftState = (id: string, { revision, written }: DraftState): string => `draft ${revision} of ${id} as of ${written}`;

/** A text at the root of a document in the database. */
const textIn = (document: typeof tables.reports.draft | typeof tables.editions.document, name: string): SQL<string> =>
  sql<string>`coalesce(${document} ->> ${name}, '')`;
/** What the library shows of a document, without fetching the rest of it. */
const headOf = (document: typeof tables.reports.draft | typeof tables.editions.document) => ({
  title: textIn(document, 'title'),
  folder: textIn(document, 'folder'),
  note: textIn(document, 'note'),
  dataset: textIn(document, 'dataset'),
  otherDatasets: sql<string[]>`coalesce(jsonb_path_query_array(${document}, '$.exhibits[*].dataset'), '[]')`,
  kinds: sql<string[]>`coalesce(jsonb_path_query_array(${document}, '$.exhibits[*].kind'), '[]')`,
});
const editionColumns = { number: tables.editions.number, publishedAt: tables.editions.publishedAt };
const inOrder = new Intl.Collator('en-GB');

const reportGone = (): ApiError =>
  new ApiError('report-not-found', 'There is no report at this address any more. The list of reports shows what is.');

/** A save that started from an older state than the one that is there. */
export const staleReport = (): ApiError =>
  new ApiError(
    'stale-revision',
    'Someone else saved this report in the meantime. Reload it to go on from their version; yours stays on this page until you do.',
  );

export const canCompose = ({ person }: Caller): boolean => person.role === 'analyst';

/** Reports, their drafts and editions. Managers and stewards only ever meet editions. */
export class Library {
  /** Documents as they were checked: editions by their number, drafts by their revision. Nobody changes them. */
  private readonly documents = new LRUCache<string, Report>({
    maxSize: DOCUMENT_BYTES,
    sizeCalculation: (report) => JSON.stringify(report).length * 2,
  });

  /** A report with its newest edition. Every question about a report begins with it: it is put together once. */
  private readonly newest;

  constructor(
    private readonly db: Database,
    private readonly sight: DatasetSight,
  ) {
    const { reports, editions } = tables;
    this.newest = db
      .select({ revision: reports.revision, written: writtenBy(reports), edition: { ...editionColumns, written: writtenBy(editions) } })
      .from(reports)
      .leftJoin(editions, eq(editions.report, reports.id))
      .where(and(eq(reports.id, sql.placeholder('id')), isNull(reports.deletedAt)))
      .orderBy(desc(editions.number))
      .limit(1)
      .prepare('newest_edition');
  }

  async list(caller: Caller): Promise<ReportSummary[]> {
    const { reports, editions } = tables;
    const composes = canCompose(caller);
    const own = privateOf(caller);
    const [drafts, published, marks, undecided] = await Promise.all([
      this.db
        .select({ ...headOf(reports.draft), id: reports.id, updatedAt: reports.updatedAt })
        .from(reports)
        .where(isNull(reports.deletedAt)),
      this.db
        .selectDistinctOn([editions.report], { ...headOf(editions.document), id: editions.report, ...editionColumns })
        .from(editions)
        .orderBy(editions.report, desc(editions.number)),
      own === null ? [] : this.db.select().from(tables.reportMarks).where(eq(tables.reportMarks.person, own)),
      this.db.select().from(tables.datasets).where(eq(tables.datasets.accessDecided, false)),
    ]);
    const markOf = new Map(marks.map((mark) => [mark.report, mark]));
    const latest = new Map(published.map((edition) => [edition.id, edition]));
    const hidden = new Set(undecided.filter((dataset) => !maySee(caller, dataset)).map(({ name }) => name));
    return drafts
      .flatMap((row) => {
        const edition = latest.get(row.id);
        if (!composes && !edition) return [];
        const shown = edition && !composes ? edition : row;
        return [shown.dataset, ...shown.otherDatasets].some((name) => hidden.has(name)) ? [] : [{ row, edition, shown }];
      })
      .map(({ row, edition, shown: { title, folder, note, dataset, kinds } }): ReportSummary => {
        return {
          ...{ id: row.id, title, folder, note, dataset, kinds: [...new Set(kinds)] },
          edition: edition?.number ?? null,
          publishedAt: edition?.publishedAt.toISOString() ?? null,
          updatedAt: row.updatedAt.toISOString(),
          favourite: markOf.get(row.id)?.favourite ?? false,
          openedAt: markOf.get(row.id)?.openedAt?.toISOString() ?? null,
        };
      })
      .sort((a, b) => inOrder.compare(a.folder, b.folder) || inOrder.compare(a.title, b.title));
  }

  /** The datasets that reports stand on, by name. */
  async datasets(): Promise<string[]> {
    const { reports } = tables;
    const rows = await this.db
      .selectDistinct({ dataset: textIn(reports.draft, 'dataset') })
      .from(reports)
      .where(isNull(reports.deletedAt));
    return rows.map(({ dataset }) => dataset);
  }

  /**
   * The newest edition; or the draft, which only analysts see, where it is asked for or nothing is published yet.
   * Throws ApiError `report-not-found`, also where the report is not published to the caller, `report-invalid`, and
   * `not-allowed` where it stands on a dataset that is not the caller's to see.
   */
  async open(caller: Caller, id: string, draft: boolean): Promise<StoredReport> {
    const [row] = await this.newest.execute({ id });
    const edition = row?.edition;
    if (!row || (!edition && !canCompose(caller))) {
      throw new ApiError(
        'report-not-found',
        'There is no report at this address, or it has not been published. The list of reports shows what is.',
      );
    }
    const fromEdition = edition && !(draft && canCompose(caller)) ? await this.published(id, edition) : null;
    const opened = fromEdition ? { ...fromEdition, revision: row.revision } : await this.draft(id, row);
    await this.sight.require(caller, datasetsIn(opened.report));
    return {
      ...opened,
      edition: edition?.number ?? null,
      publishedAt: edition?.publishedAt ?? null,
    };
  }

  /** The draft in a state, or in a later one that it went on to meanwhile. Throws ApiError `report-invalid`. */
  private async draft(id: string, row: DraftState): Promise<Pick<StoredReport, 'report' | 'revision' | 'state'>> {
    const state = draftState(id, row);
    const known = this.documents.get(state);
    if (known) return { report: known, revision: row.revision, state };
    const { reports } = tables;
    const [now] = await this.db
      .select({ draft: reports.draft, revision: reports.revision, written: writtenBy(reports) })
      .from(reports)
      .where(eq(reports.id, id));
    if (!now) throw reportGone();
    return { report: this.remember(draftState(id, now), now.draft), revision: now.revision, state: draftState(id, now) };
  }

  private async published(
    id: string,
    { number, written }: { number: number; written: string },
  ): Promise<Pick<StoredReport, 'report' | 'state'>> {
    const state = `edition ${number} of ${id} as of ${written}`;
    return { report: this.documents.get(state) ?? this.remember(state, await this.editionDocument(id, number)), state };
  }

  /** Checks a document once for each of its states: none of them changes. */
  private remember(key: string, document: unknown): Report {
    const report = validReport(document);
    this.documents.set(key, report);
    return report;
  }

  /** Saves a draft that started from a revision. Throws ApiError `stale-revision` when another save came between. */
  async save(id: string, report: Report, revision: number): Promise<number> {
    const { reports } = tables;
    const [saved] = await this.db
      .update(reports)
      .set({ draft: report, revision: sql`${reports.revision} + 1`, updatedAt: new Date() })
      .where(and(eq(reports.id, id), eq(reports.revision, revision)))
      .returning({ revision: reports.revision });
    if (!saved) throw staleReport();
    return saved.revision;
  }

  async create(report: Report, owner: string): Promise<void> {
    await this.db.insert(tables.reports).values({ id: report.id, draft: report, owner });
  }

  /** Moves a report to the bin, from where it can be restored. Throws ApiError `report-not-found`, `not-allowed`. */
  async moveToBin(caller: Caller, id: string): Promise<void> {
    await this.setDeleted(caller, id, new Date());
  }

  /** Restores a report from the bin. Throws ApiError `report-not-found`, `not-allowed`. */
  async restore(caller: Caller, id: string): Promise<void> {
    await this.setDeleted(caller, id, null);
  }

  private async setDeleted(caller: Caller, id: string, deletedAt: Date | null): Promise<void> {
    const { reports } = tables;
    const [row] = await this.db.select(headOf(reports.draft)).from(reports).where(eq(reports.id, id));
    if (!row) throw reportGone();
    await this.sight.require(caller, [row.dataset, ...row.otherDatasets]);
    await this.db.update(reports).set({ deletedAt }).where(eq(reports.id, id));
  }

  /**
   * Makes a numbered edition of a draft that the caller has seen in its newest state; returns its number. `open` names the
   * datasets whose records everyone may see from now on, where that was not decided yet.
   * Throws ApiError `stale-revision` where someone saved another one since, `access-undecided`.
   */
  async publish(caller: Caller, id: string, { note, revision, open }: PublishRequest): Promise<number> {
    await this.open(caller, id, true);
    const { editions, reports, datasets } = tables;
    return this.db.transaction(async (db) => {
      // One at a time: each edition is of the draft of its own revision.
      const [row] = await db.select().from(reports).where(eq(reports.id, id)).for('update');
      if (!row) throw reportGone();
      if (row.revision !== revision) throw staleRevision(`the report ${row.draft.title}`, row.revision);
      const document = validReport(row.draft);
      const rows = await db
        .select()
        .from(datasets)
        .where(inArray(datasets.name, datasetsIn(document)))
        .for('update');
      const undecided = rows.filter(
        ({ accessDecided, name, owner }) => !accessDecided && !(open.includes(name) && owner === caller.person.id),
      );
      if (undecided.length > 0) {
        throw new ApiError(
          'access-undecided',
          `Decide first who sees ${undecided.map(({ definition }) => definition.label).join(' and ')}: until then only its maker does.`,
          { datasets: undecided.map(({ name }) => name) },
        );
      }
      const mine = rows.filter(({ accessDecided, owner }) => !accessDecided && owner === caller.person.id).map(({ name }) => name);
      if (mine.length > 0) await db.update(datasets).set({ accessDecided: true }).where(inArray(datasets.name, mine));
      const [made] = await db
        .insert(editions)
        .values({
          ...{ report: id, document, note, person: caller.person.id },
          number: sql`(SELECT coalesce(max(number), 0) + 1 FROM ${editions} WHERE report_id = ${id})`,
        })
        .returning({ number: editions.number });
      return made.number;
    });
  }

  /** The editions of a report, the newest first. Throws ApiError as `open` does. */
  async editions(caller: Caller, id: string): Promise<Edition[]> {
    await this.open(caller, id, true);
    const { editions, people } = tables;
    const rows = await this.db
      .select({ number: editions.number, note: editions.note, publishedAt: editions.publishedAt, by: people.name })
      .from(editions)
      .leftJoin(people, eq(people.id, editions.person))
      .where(eq(editions.report, id))
      .orderBy(desc(editions.number));
    return rows.map((row) => ({ ...row, by: row.by ?? '', publishedAt: row.publishedAt.toISOString() }));
  }

  /** An edition's document. Throws ApiError `report-not-found`, `report-invalid`, `not-allowed`. */
  async edition(caller: Caller, id: string, number: number): Promise<Report> {
    const report = validReport(await this.editionDocument(id, number));
    await this.sight.require(caller, datasetsIn(report));
    return report;
  }

  private async editionDocument(id: string, number: number): Promise<unknown> {
    const { editions } = tables;
    const [row] = await this.db
      .select({ document: editions.document })
      .from(editions)
      .where(and(eq(editions.report, id), eq(editions.number, number)));
    if (!row) throw new ApiError('report-not-found', `There is no edition ${number} of this report.`);
    return row.document;
  }

  async setFavourite(caller: Caller, id: string, favourite: boolean): Promise<void> {
    await this.open(caller, id, false);
    await this.mark(caller, id, { favourite });
  }

  /** Remembers that a person opened a report. */
  async opened(caller: Caller, id: string): Promise<void> {
    await this.mark(caller, id, { openedAt: new Date() });
  }

  private async mark(caller: Caller, id: string, what: { favourite?: boolean; openedAt?: Date }): Promise<void> {
    const { reportMarks } = tables;
    await this.db
      .insert(reportMarks)
      .values({ report: id, person: caller.person.id, ...what })
      .onConflictDoUpdate({ target: [reportMarks.report, reportMarks.person], set: what });
  }
}

/** The datasets that a report and its exhibits answer from. */
export const datasetsIn = (report: Report): string[] => [
  ...new Set([
    report.dataset,
    ...report.exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset ? [exhibit.dataset] : [])),
  ]),
];

/** Checks a document that may come from an older version or another hand. */
export function validReport(document: unknown): Report {
  const parsed = reportSchema.safeParse(document);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new ApiError(
    'report-invalid',
    `The report cannot be shown: at ${issue.path.join(' › ') || 'its root'} it says: ${issue.message}. An analyst can mend the document and save it again.`,
    {
      path: issue.path,
    },
  );
}
