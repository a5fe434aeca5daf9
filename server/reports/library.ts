import type { ReportSummary } from '@bold-compass/core/api';
import { reportSchema, type Report } from '@bold-compass/core/model';
import { and, desc, eq, sql } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import type { Caller } from '../people/index.ts';

export interface StoredReport {
  report: Report;
  edition: number | null;
  publishedAt: Date | null;
  revision: number;
}

export const canCompose = ({ person }: Caller): boolean => person.role === 'analyst';

/** Reports, their drafts and editions. Managers and stewards only ever meet editions. */
export class Library {
  constructor(private readonly db: Database) {}

  async list(caller: Caller): Promise<ReportSummary[]> {
    const { reports, editions } = tables;
    const rows = await this.db.select().from(reports);
    const published = await this.db.selectDistinctOn([editions.report]).from(editions).orderBy(editions.report, desc(editions.number));
    const latest = new Map(published.map((edition) => [edition.report, edition]));
    return rows
      .filter((row) => canCompose(caller) || latest.has(row.id))
      .map((row): ReportSummary => {
        const edition = latest.get(row.id);
        const { title, folder, note, dataset } = edition && !canCompose(caller) ? edition.document : row.draft;
        return {
          id: row.id,
          title,
          folder,
          note,
          dataset,
          edition: edition?.number ?? null,
          publishedAt: edition?.publishedAt.toISOString() ?? null,
          updatedAt: row.updatedAt.toISOString(),
        };
      })
      .sort((a, b) => a.folder.localeCompare(b.folder) || a.title.localeCompare(b.title));
  }

  /**
   * The newest edition; or the draft, which only analysts see, where it is asked for or nothing is published yet.
   * Throws ApiError `report-not-found`, also where the report is not the caller's to see, and `report-invalid`.
   */
  async open(caller: Caller, id: string, draft: boolean): Promise<StoredReport> {
    const { reports, editions } = tables;
    const [[row], [edition]] = await Promise.all([
      this.db.select().from(reports).where(eq(reports.id, id)),
      this.db.select().from(editions).where(eq(editions.report, id)).orderBy(desc(editions.number)).limit(1),
    ]);
    if (!row || (!edition && !canCompose(caller))) {
      throw new ApiError(
        'report-not-found',
        'There is no report at this address, or it has not been published. The list of reports shows what is.',
      );
    }
    const fromDraft = canCompose(caller) && (draft || !edition);
    return {
      report: validReport(fromDraft ? row.draft : edition.document),
      edition: edition?.number ?? null,
      publishedAt: edition?.publishedAt ?? null,
      revision: row.revision,
    };
  }

  /** Saves a draft that started from a revision. Throws ApiError `stale-revision` when another save came between. */
  async save(id: string, report: Report, revision: number): Promise<number> {
    const { reports } = tables;
    const [saved] = await this.db
      .update(reports)
      .set({ draft: report, revision: sql`${reports.revision} + 1`, updatedAt: new Date() })
      .where(and(eq(reports.id, id), eq(reports.revision, revision)))
      .returning({ revision: reports.revision });
    if (!saved)
      throw new ApiError(
        'stale-revision',
        'Someone else saved this report in the meantime. Reload it to go on from their version; yours stays on this page until you do.',
      );
    return saved.revision;
  }

  async create(db: Pick<Database, 'insert'>, report: Report, owner: string): Promise<void> {
    await db.insert(tables.reports).values({ id: report.id, draft: report, owner });
  }
}

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
