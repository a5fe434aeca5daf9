import { createHash } from 'node:crypto';
import { keptPicture, pictureId, type Exhibit, type Report } from '@bold-compass/core/model';
import { eq, inArray, sql } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';

export interface Picture {
  /** Media type. */
  type: string;
  bytes: Buffer;
}

/** How long a picture stays that no report shows: undo brings it back. */
const UNUSED_DAYS = 30;

function ofDataUrl(url: string): Picture {
  const [, type, data] = /^data:([^;]+);base64,(.*)$/s.exec(url)!;
  return { type, bytes: Buffer.from(data, 'base64') };
}
const dataUrl = ({ type, bytes }: Picture): string => `data:${type};base64,${bytes.toString('base64')}`;

/** Another source for each picture of a document; the document itself where none changes. */
async function withSources(report: Report, other: (source: string) => Promise<string>): Promise<Report> {
  if (!report.exhibits.some(({ kind }) => kind === 'image')) return report;
  const exhibits = await Promise.all(
    report.exhibits.map(async (exhibit): Promise<Exhibit> =>
      exhibit.kind === 'image' ? { ...exhibit, source: await other(exhibit.source) } : exhibit,
    ),
  );
  return { ...report, exhibits };
}

/** Pictures of reports. They are kept beside the documents, which then are small enough to be sent and saved often. */
export class Pictures {
  constructor(private readonly db: Database) {}

  /** Keeps a picture, given as a data URL; returns how documents name it. */
  async keep(url: string): Promise<string> {
    const { type, bytes } = ofDataUrl(url);
    const id = createHash('sha256').update(`${type}\n`).update(bytes).digest('hex');
    await this.db
      .insert(tables.pictures)
      .values({ id, type, bytes })
      .onConflictDoUpdate({ target: tables.pictures.id, set: { usedAt: new Date() } });
    return keptPicture(id);
  }

  /** Throws ApiError `not-found`. */
  async read(id: string): Promise<Picture> {
    const [picture] = await this.db.select().from(tables.pictures).where(eq(tables.pictures.id, id));
    if (!picture) throw new ApiError('not-found', 'This picture is not here any more. Choose it again.');
    return picture;
  }

  /** A document whose pictures are all kept here. Throws ApiError `report-invalid` where one that it names is not. */
  async kept(report: Report): Promise<Report> {
    const named = report.exhibits.flatMap((exhibit) => (exhibit.kind === 'image' ? (pictureId(exhibit.source) ?? []) : []));
    if (named.length > 0) {
      const { id } = tables.pictures;
      const found = await this.db.update(tables.pictures).set({ usedAt: new Date() }).where(inArray(id, named)).returning({ id });
      if (found.length < new Set(named).size)
        throw new ApiError(
          'report-invalid',
          'The report names a picture that is not here. Choose the picture again, or import a file that was exported with its pictures.',
        );
    }
    return withSources(report, (source) => (pictureId(source) === null ? this.keep(source) : Promise.resolve(source)));
  }

  /** A document that holds its pictures itself, as it travels. A picture that is gone stays named. */
  whole(report: Report): Promise<Report> {
    return withSources(report, async (source) => {
      const id = pictureId(source);
      if (id === null) return source;
      return this.read(id).then(dataUrl, () => source);
    });
  }

  /** Removes pictures that no report has shown for a while. */
  async sweep(): Promise<void> {
    await this.db.execute(sql`
      DELETE FROM ${tables.pictures} AS p
      WHERE p.used_at < now() - make_interval(days => ${UNUSED_DAYS})
        AND NOT EXISTS (SELECT FROM ${tables.reports} AS r WHERE strpos(r.draft::text, p.id) > 0)
        AND NOT EXISTS (SELECT FROM ${tables.editions} AS e WHERE strpos(e.document::text, p.id) > 0)`);
  }
}
