import { createHash } from 'node:crypto';
import { kindOf } from '@bold-compass/core/exhibits';
import { assetId, keptAsset, SHAPES_TYPE, type Exhibit, type Report } from '@bold-compass/core/model';
import { parseShapes } from '@bold-compass/core/shapes';
import { eq, inArray, sql } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';

interface Asset {
  /** Media type. */
  type: string;
  bytes: Buffer;
}

/** How long an asset stays that no report shows: undo brings it back. */
const UNUSED_DAYS = 30;

function ofDataUrl(url: string): Asset {
  const [, type, data] = /^data:([^;]+);base64,(.*)$/s.exec(url)!;
  return { type, bytes: Buffer.from(data, 'base64') };
}
const dataUrl = ({ type, bytes }: Asset): string => `data:${type};base64,${bytes.toString('base64')}`;

/** Shapes as a map reads them, without what else the file holds. Throws ApiError `report-invalid` for what are none. */
function soundShapes(bytes: Buffer): Buffer {
  const read = parseShapes(bytes.toString('utf8'));
  if ('problem' in read) throw new ApiError('report-invalid', read.problem);
  return Buffer.from(JSON.stringify(read.shapes));
}

/** Another source for each asset of a document. */
async function withSources(report: Report, other: (source: string) => Promise<string>): Promise<Report> {
  const exhibits = await Promise.all(
    report.exhibits.map(async (exhibit): Promise<Exhibit> => (await kindOf(exhibit).withAssets?.(exhibit, other)) ?? exhibit),
  );
  return { ...report, exhibits };
}

/** The sources of all assets that a document names, or holds. */
async function sourcesOf(report: Report): Promise<string[]> {
  const sources: string[] = [];
  await withSources(report, (source) => {
    sources.push(source);
    return Promise.resolve(source);
  });
  return sources;
}

/** Pictures and shapes of reports. They are kept beside the documents, which then are small enough to be sent and saved often. */
export class Assets {
  constructor(private readonly db: Database) {}

  /** Keeps an asset, given as a data URL; returns how documents name it. Throws ApiError `report-invalid` for shapes that are none. */
  async keep(url: string): Promise<string> {
    const { type, bytes: sent } = ofDataUrl(url);
    const bytes = type === SHAPES_TYPE ? soundShapes(sent) : sent;
    const id = createHash('sha256').update(`${type}\n`).update(bytes).digest('hex');
    await this.db
      .insert(tables.assets)
      .values({ id, type, bytes })
      .onConflictDoUpdate({ target: tables.assets.id, set: { usedAt: new Date() } });
    return keptAsset(id);
  }

  /** Throws ApiError `not-found`. */
  async read(id: string): Promise<Asset> {
    const [asset] = await this.db.select().from(tables.assets).where(eq(tables.assets.id, id));
    if (!asset) throw new ApiError('not-found', 'This file is not here any more. Choose it again.');
    return asset;
  }

  /** A document whose assets are all kept here. Throws ApiError `report-invalid` where one that it names is not. */
  async kept(report: Report): Promise<Report> {
    const named = (await sourcesOf(report)).flatMap((source) => assetId(source) ?? []);
    if (named.length > 0) {
      const { id } = tables.assets;
      const found = await this.db.update(tables.assets).set({ usedAt: new Date() }).where(inArray(id, named)).returning({ id });
      if (found.length < new Set(named).size)
        throw new ApiError(
          'report-invalid',
          'The report names a picture, or shapes of a map, that are not here. Choose them again, or import a file that was exported with them.',
        );
    }
    return withSources(report, (source) => (assetId(source) === null ? this.keep(source) : Promise.resolve(source)));
  }

  /** A document that holds its assets itself, as it travels. What is gone stays named. */
  whole(report: Report): Promise<Report> {
    return withSources(report, async (source) => {
      const id = assetId(source);
      if (id === null) return source;
      return this.read(id).then(dataUrl, () => source);
    });
  }

  /** Removes assets that no report has shown for a while. */
  async sweep(): Promise<void> {
    await this.db.execute(sql`
      DELETE FROM ${tables.assets} AS p
      WHERE p.used_at < now() - make_interval(days => ${UNUSED_DAYS})
        AND NOT EXISTS (SELECT FROM ${tables.reports} AS r WHERE strpos(r.draft::text, p.id) > 0)
        AND NOT EXISTS (SELECT FROM ${tables.editions} AS e WHERE strpos(e.document::text, p.id) > 0)`);
  }
}
