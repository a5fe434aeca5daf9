import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { simulatedTile } from './simulated-tiles.ts';

type Agent = Awaited<ReturnType<DemoApp['as']>>;

/** A GIF of one pixel, the smallest that there is (GIF89a specification). */
const PIXEL = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

let demo: DemoApp;
let steward: Agent;
let manager: Agent;
let outside: Server;
let host: string;
const asked: string[] = [];
beforeAll(async () => {
  demo = await demoApp();
  steward = await demo.as('tobias-renn');
  manager = await demo.as('sanna-wikmark');
  outside = createServer((request, response) => {
    asked.push(request.url ?? '');
    if (request.url?.startsWith('/page')) response.setHeader('Content-Type', 'text/html').end('<script>alert(1)</script>');
    else if (request.url?.startsWith('/elsewhere')) response.writeHead(302, { Location: '/tiles/0/0/0' }).end();
    else if (request.url?.startsWith('/huge')) response.setHeader('Content-Type', 'image/png').end(Buffer.alloc(2_000_000));
    else if (request.url?.startsWith('/none')) response.writeHead(404).end();
    else response.setHeader('Content-Type', 'image/gif').end(PIXEL);
  });
  await new Promise<void>((resolve) => outside.listen(0, '127.0.0.1', resolve));
  host = `http://127.0.0.1:${(outside.address() as AddressInfo).port}`;
});
afterAll(async () => {
  outside.close();
  await demo.close();
});

const set = (address: string, attribution = '') => steward.put('/api/tile-server').send({ address, attribution });
const detail = ({ body }: { body: unknown }): string => (body as { detail: string }).detail;

describe('the tile server', () => {
  it('is set by a steward alone, who alone sees its address', async () => {
    await manager.put('/api/tile-server').send({ address: 'simulated' }).expect(403);
    await (await demo.as('ines-calloway')).delete('/api/tile-server').expect(403);
    await set(`${host}/tiles/{z}/{x}/{y}?key=secret`, '© Somebody').expect(200);
    expect((await steward.get('/api/tile-server').expect(200)).body).toMatchObject({ address: `${host}/tiles/{z}/{x}/{y}?key=secret` });
    expect((await manager.get('/api/tile-server').expect(200)).body).toEqual({ isSet: true, attribution: '© Somebody', address: null });
  });

  it('is asked by this server, once for each tile, and never beyond its scheme', async () => {
    asked.length = 0;
    const { headers, body } = await manager.get('/api/tiles/3/5/2').expect(200);
    await manager.get('/api/tiles/3/5/2').expect(200);
    expect(asked).toEqual(['/tiles/3/5/2?key=secret']);
    expect(body).toEqual(PIXEL);
    expect(headers).toMatchObject({ 'content-type': 'image/gif', 'content-security-policy': expect.stringContaining('sandbox') as string });
    for (const path of ['3/8/0', '3/0/8', '20/0/0', '-1/0/0', '3/5/2.png', '3/1e0/2', '3/..%2f..%2f/2'])
      expect([400, 404], path).toContain((await manager.get(`/api/tiles/${path}`)).status);
    expect(asked).toHaveLength(1);
    await request(demo.app.express).get('/api/tiles/3/5/2').expect(401);
  });

  it('is kept only when it sends a picture: what was set before stays', async () => {
    for (const [path, why] of [
      ['page', 'is no picture'],
      ['elsewhere', 'does not answer'],
      ['huge', 'too large'],
      ['none', 'answered with 404'],
    ])
      expect(detail(await set(`${host}/${path}/{z}/{x}/{y}`).expect(422)), path).toContain(why);
    expect(detail(await set('http://127.0.0.1:9/{z}/{x}/{y}').expect(422))).toContain('does not answer');
    expect((await steward.get('/api/tile-server')).body).toMatchObject({ attribution: '© Somebody' });
  });

  it.each([
    '',
    'file:///{z}/{x}/{y}',
    'https://{z}.example/{x}/{y}',
    'https://tiles.example/{z}/{x}',
    'javascript:{z}{x}{y}',
    'ftp://a/{z}/{x}/{y}',
  ])('has no such address: %s', async (address) => {
    expect((await set(address)).status).toBe(400);
  });

  it('is taken away again', async () => {
    await steward.delete('/api/tile-server').expect(200);
    expect((await manager.get('/api/tile-server')).body).toEqual({ isSet: false, attribution: '', address: null });
    await manager.get('/api/tiles/0/0/0').expect(404);
  });

  it('has a stand-in that draws land and sea', async () => {
    await set('simulated', 'Natural Earth').expect(200);
    const { headers } = await manager.get('/api/tiles/0/0/0').expect(200);
    expect(headers['content-type']).toContain('image/svg+xml');
    // At zoom 4 Copenhagen (55.7° N, 12.6° E) is in column 8, row 5; the middle of the South Atlantic in column 7, row 9.
    const drawn = (x: number, y: number): number => simulatedTile({ z: 4, x, y }).length;
    expect(drawn(8, 5)).toBeGreaterThan(4 * drawn(7, 9));
  });
});
