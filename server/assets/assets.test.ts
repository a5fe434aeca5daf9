import { createHash } from 'node:crypto';
import type { ReportView } from '@bold-compass/core/api';
import { chartSchema, imageSchema, type Report } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';

/** Pictures of reports, and drafts that are saved by what changed in them. */
type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
let id: string;
beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
  const made = await analyst.post('/api/reports').send({ title: 'Pictures', folder: 'Trials', dataset: 'hollin-marsh', layout: 'empty' });
  id = (made.body as { id: string }).id;
});
afterAll(() => demo.close());

const asText = (response: unknown, done: (error: Error | null, body: string) => void): void => {
  let text = '';
  const sent = response as NodeJS.ReadableStream;
  sent.on('data', (chunk: Buffer) => (text += chunk.toString()));
  sent.on('end', () => done(null, text));
};

/** A GIF of one pixel, the smallest that there is (GIF89a specification). */
const PIXEL = 'R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7';
const inside = `data:image/gif;base64,${PIXEL}`;
const hash = createHash('sha256').update('image/gif\n').update(Buffer.from(PIXEL, 'base64')).digest('hex');

const open = async (): Promise<ReportView> => (await analyst.get(`/api/reports/${id}?draft=true`).expect(200)).body as ReportView;
const withImage = (report: Report, source: string): Report => ({
  ...report,
  exhibits: [imageSchema.parse({ kind: 'image', id: 'logo', source, words: 'A pixel' })],
});
const sourceIn = ({ report }: { report: Report }): string | undefined =>
  report.exhibits.flatMap((exhibit) => (exhibit.kind === 'image' ? [exhibit.source] : []))[0];

describe('a picture', () => {
  it('is kept beside the document, however it comes, and travels in it', async () => {
    const { report, revision } = await open();
    await analyst
      .put(`/api/reports/${id}`)
      .send({ report: withImage(report, inside), revision })
      .expect(200);
    expect(sourceIn(await open())).toBe(`asset:${hash}`);
    const { body: kept } = await analyst.post('/api/assets').send({ source: inside }).expect(200);
    expect(kept).toEqual({ source: `asset:${hash}` });

    const { body: file } = await analyst.get(`/api/reports/${id}/document`).expect(200);
    expect(sourceIn(file as ReportView)).toBe(inside);
    const { body: imported } = await analyst.post('/api/reports/import').send(file).expect(200);
    const { body: copy } = await analyst.get(`/api/reports/${(imported as { id: string }).id}?draft=true`).expect(200);
    expect(sourceIn(copy as ReportView)).toBe(`asset:${hash}`);
  });

  it('is shown to who may open a report that shows it, and runs nothing', async () => {
    const picture = await analyst.get(`/api/reports/${id}/pictures/${hash}`).buffer(true).expect(200);
    expect(picture.headers).toMatchObject({ 'content-type': 'image/gif', 'x-content-type-options': 'nosniff' });
    expect(picture.headers['content-security-policy']).toContain('sandbox');
    expect((picture.body as Buffer).toString('base64')).toBe(PIXEL);
    const manager = await demo.as('henrike-hollin');
    await manager.get(`/api/reports/${id}/pictures/${hash}`).expect(404);
    // A report that the manager opens, which does not show it.
    await manager.get(`/api/reports/order-lines/pictures/${hash}`).expect(404);
    await manager.post('/api/assets').send({ source: inside }).expect(403);
    await analyst.get(`/api/reports/${id}/pictures/..%2f..%2fetc`).expect(400);
  });

  it('that is not here is not named in a draft', async () => {
    const { report, revision } = await open();
    const named = withImage(report, `asset:${'0'.repeat(64)}`);
    const refused = await analyst.put(`/api/reports/${id}`).send({ report: named, revision }).expect(422);
    expect(refused.body).toMatchObject({ code: 'report-invalid', detail: expect.stringContaining('picture') as string });
    await analyst.post('/api/assets').send({ source: 'data:text/html;base64,AAAA' }).expect(400);
  });

  it('may have five megabytes, which is more than other requests', async () => {
    const large = (bytes: number): string => `data:image/png;base64,${Buffer.alloc(bytes, 7).toString('base64')}`;
    await analyst
      .post('/api/assets')
      .send({ source: large(4_900_000) })
      .expect(200);
    await analyst
      .post('/api/assets')
      .send({ source: large(5_200_000) })
      .expect(400);
    const { report, revision } = await open();
    const refused = await analyst.put(`/api/reports/${id}`).send({ report: withImage(report, large(4_900_000)), revision });
    expect(refused.status).toBe(413);
  });

  it('goes a month after the last report that showed it', async () => {
    const { pool } = demo.connection;
    await pool.query(`INSERT INTO app.assets (id, type, bytes, used_at) VALUES ($1, 'image/gif', '', now() - interval '31 days')`, [
      'f'.repeat(64),
    ]);
    await pool.query(`UPDATE app.assets SET used_at = now() - interval '31 days' WHERE id = $1`, [hash]);
    await demo.app.begin();
    const { rows } = await pool.query<{ id: string }>('SELECT id FROM app.assets WHERE id = ANY($1)', [[hash, 'f'.repeat(64)]]);
    expect(rows).toEqual([{ id: hash }]);
  });
});

describe('shapes of a map', () => {
  const square = (west: number): number[][][] => [
    [
      [west, 50],
      [west + 1, 50],
      [west + 1, 51],
      [west, 51],
      [west, 50],
    ],
  ];
  const area = (name: string, west: number) => ({
    ...{ type: 'Feature', properties: { name, lead: `Lead of ${name}` } },
    geometry: { type: 'Polygon', coordinates: square(west) },
  });
  const file = { type: 'FeatureCollection', features: [area('Nordic', 10), area('Atlantic', 0), area('Elsewhere', 30)] };
  const dataUrl = (content: unknown): string =>
    `data:application/geo+json;base64,${Buffer.from(typeof content === 'string' ? content : JSON.stringify(content)).toString('base64')}`;
  interface Read {
    features: { properties: Record<string, string>; geometry: object }[];
  }
  const read = async (agent: Agent, report: string, shapes: string): Promise<Read> => {
    const { body, headers } = await agent.get(`/api/reports/${report}/shapes/${shapes}`).buffer(true).parse(asText).expect(200);
    expect(headers['content-type']).toContain('application/geo+json');
    return JSON.parse(body as string) as Read;
  };
  const mapOver = (source: string): Report['exhibits'][number] =>
    chartSchema.parse({
      ...{
        kind: 'chart',
        id: 'areas',
        title: 'Areas',
        side: { fields: ['region'] },
        top: { fields: [] },
        cells: [{ measure: 'net_sales' }],
      },
      chart: { kind: 'map', map: { shapes: { source, key: 'name' } } },
    });
  let own: string;
  let kept: string;

  it('are kept beside the document, and travel in it', async () => {
    const made = await analyst.post('/api/reports').send({ title: 'Areas', folder: 'Trials', dataset: 'hollin-marsh', layout: 'empty' });
    own = (made.body as { id: string }).id;
    const { body } = await analyst
      .post('/api/assets')
      .send({ source: dataUrl(file) })
      .expect(200);
    const { source } = body as { source: string };
    kept = source.replace('asset:', '');
    const { body: view } = await analyst.get(`/api/reports/${own}?draft=true`).expect(200);
    const { report, revision } = view as ReportView;
    await analyst
      .put(`/api/reports/${own}`)
      .send({ report: { ...report, exhibits: [mapOver(source)] }, revision })
      .expect(200);
    const { body: document } = await analyst.get(`/api/reports/${own}/document`).expect(200);
    const [chart] = (document as ReportView).report.exhibits;
    expect(chart.kind === 'chart' && chart.chart.map.shapes!.source).toBe(dataUrl(file));
    const { body: imported } = await analyst.post('/api/reports/import').send(document).expect(200);
    const { body: copy } = await analyst.get(`/api/reports/${(imported as { id: string }).id}?draft=true`).expect(200);
    expect((copy as ReportView).report.exhibits[0]).toMatchObject({ chart: { map: { shapes: { source, key: 'name' } } } });
  });

  it('are named only as far as a reader may know their members', async () => {
    const { body: view } = await analyst.get(`/api/reports/${own}?draft=true`).expect(200);
    await analyst
      .post(`/api/reports/${own}/publish`)
      .send({ revision: (view as ReportView).revision })
      .expect(200);
    const whole = await read(analyst, own, kept);
    expect(whole.features.map(({ properties }) => properties.lead)).toEqual(['Lead of Nordic', 'Lead of Atlantic', 'Lead of Elsewhere']);
    const seen = await read(await demo.as('sanna-wikmark'), own, kept);
    expect(seen.features.map(({ properties }) => properties)).toEqual([{ name: 'Nordic' }, {}, {}]);
    expect(seen.features.map(({ geometry }) => geometry)).toEqual(whole.features.map(({ geometry }) => geometry));
    // Another report does not show them, and a picture is none of them.
    const manager = await demo.as('henrike-hollin');
    await manager.get(`/api/reports/order-lines/shapes/${kept}`).expect(404);
    await manager.get(`/api/reports/${own}/pictures/${kept}`).expect(404);
    await analyst.get(`/api/reports/${own}/shapes/${hash}`).expect(404);
  });

  it('that are none are told so, and not kept', async () => {
    const refused = async (content: unknown): Promise<string> => {
      const { body } = await analyst
        .post('/api/assets')
        .send({ source: dataUrl(content) })
        .expect(422);
      return (body as { detail: string }).detail;
    };
    expect(await refused('{"type":')).toMatch(/cannot be read as JSON/);
    expect(await refused({ type: 'FeatureCollection', features: [] })).toMatch(/no shapes/);
    const places = { type: 'Feature', properties: {}, geometry: { type: 'Point', coordinates: [1, 2] } };
    expect(await refused({ type: 'FeatureCollection', features: [places] })).toMatch(/no polygon/);
  });
});

describe('a draft that is saved by its changes', () => {
  const patch = (changes: object[], revision: number) => analyst.patch(`/api/reports/${id}`).send({ changes, revision });

  it('is the document with these changes, and goes on from each save', async () => {
    const before = await open();
    const { body } = await patch([{ op: 'replace', path: '/title', value: 'Renamed' }], before.revision).expect(200);
    const after = await open();
    expect(after).toMatchObject({ revision: (body as { revision: number }).revision, report: { ...before.report, title: 'Renamed' } });
    await patch([{ op: 'remove', path: '/exhibits/0' }], after.revision).expect(200);
    expect((await open()).report.exhibits).toEqual([]);
  });

  it('is refused from an older revision, where it does not fit, and where it would no longer be a report', async () => {
    const { report, revision } = await open();
    const refused = async (changes: object[], from: number, status: number): Promise<unknown> =>
      ((await patch(changes, from).expect(status)).body as { code: string }).code;
    expect(await refused([{ op: 'replace', path: '/title', value: 'Late' }], revision - 1, 409)).toBe('stale-revision');
    expect(await refused([{ op: 'replace', path: '/exhibits/7/title', value: 'x' }], revision, 409)).toBe('changes-unfit');
    expect(await refused([{ op: 'replace', path: '/title', value: 7 }], revision, 422)).toBe('report-invalid');
    expect(await refused([{ op: 'replace', path: '/id', value: 'order-lines' }], revision, 422)).toBe('report-invalid');
    expect(await refused([{ op: 'copy', from: '/exhibits', path: '/exhibits/-' }], revision, 400)).toBe('bad-request');
    await patch([{ op: 'add', path: '/__proto__/polluted', value: true }], revision);
    await patch([{ op: 'add', path: '/constructor/prototype/polluted', value: true }], revision);
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
    expect((await open()).report).toEqual(report);
  });
});
