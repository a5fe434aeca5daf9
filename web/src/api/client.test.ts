import { afterEach, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import { ApiProblem, ask, isPassing, whenSignedOut } from './client.ts';
import { useViewAs } from './view-as.ts';

const answerSchema = z.object({ total: z.number() });
/** What the server answers next, and what it was asked. */
function server(answer: () => { status?: number; body?: unknown } | Promise<never>): ReturnType<typeof vi.fn> {
  const asked = vi.fn(async () => {
    const { status = 200, body } = await answer();
    return { ok: status < 400, status, json: () => (body === undefined ? Promise.reject(new Error('no JSON')) : Promise.resolve(body)) };
  });
  vi.stubGlobal('fetch', asked);
  return asked;
}
const problem = (code: string, status: number, about?: object) => ({
  status,
  body: { type: `urn:bold-compass:problem:${code}`, title: 'A title', status, detail: 'What to do.', code, about },
});
const failureOf = async (work: Promise<unknown>): Promise<unknown> => work.then(() => null).catch((error: unknown) => error);
afterEach(() => {
  vi.unstubAllGlobals();
  whenSignedOut(() => undefined);
});

describe('asking the API', () => {
  it('sends what it is given as JSON, and takes no answer of another shape', async () => {
    const asked = server(() => ({ body: { total: 3, more: 'left out' } }));
    expect(await ask(answerSchema, 'POST', '/reports', { title: 'One' })).toEqual({ total: 3 });
    expect(asked.mock.calls[0]).toMatchObject([
      '/api/reports',
      { method: 'POST', body: '{"title":"One"}', credentials: 'same-origin', headers: { 'content-type': 'application/json' } },
    ]);
    server(() => ({ body: { total: 'three' } }));
    expect(await failureOf(ask(answerSchema, 'GET', '/reports'))).toBeInstanceOf(z.ZodError);
  });

  it('sends a form as the browser writes it', async () => {
    const asked = server(() => ({ body: { total: 1 } }));
    const form = new FormData();
    form.append('file', new Blob(['a,b']), 'rows.csv');
    await ask(answerSchema, 'POST', '/imports', form);
    const [, request] = asked.mock.calls[0] as unknown as [string, { body: unknown; headers: object }];
    expect(request.body).toBe(form);
    expect(request.headers).toEqual({});
  });

  it('throws a refusal with the words of the server, and the revision that is there now', async () => {
    server(() => problem('stale-revision', 409, { revision: 7 }));
    const failure = (await failureOf(ask(answerSchema, 'PUT', '/reports/one', {}))) as ApiProblem;
    expect(failure).toBeInstanceOf(ApiProblem);
    expect([failure.message, failure.code, failure.revision]).toEqual(['What to do.', 'stale-revision', 7]);
    expect(isPassing(failure)).toBe(false);
    server(() => problem('not-found', 404, { revision: 'none' }));
    expect(((await failureOf(ask(answerSchema, 'GET', '/reports/one'))) as ApiProblem).revision).toBeUndefined();
  });

  it('says that nothing answers where no server does, or another one than ours; and that this passes', async () => {
    server(() => Promise.reject(new TypeError('Failed to fetch')));
    const none = (await failureOf(ask(answerSchema, 'GET', '/reports'))) as ApiProblem;
    server(() => ({ status: 502 }));
    const gateway = (await failureOf(ask(answerSchema, 'GET', '/reports'))) as ApiProblem;
    server(() => ({ status: 503, body: { message: 'of a proxy' } }));
    const proxy = (await failureOf(ask(answerSchema, 'GET', '/reports'))) as ApiProblem;
    for (const one of [none, gateway, proxy]) {
      expect(one.code).toBe('unreachable');
      expect(isPassing(one)).toBe(true);
    }
    expect([none, gateway, proxy].map((one) => one.problem.status)).toEqual([0, 502, 503]);
    server(() => problem('database-unreachable', 503));
    expect(isPassing(await failureOf(ask(answerSchema, 'GET', '/reports')))).toBe(true);
    expect(isPassing(new Error('something else'))).toBe(false);
  });

  it('lets an abort through as it is', async () => {
    const stop = new AbortController();
    const aborted = new DOMException('Aborted', 'AbortError');
    server(() => {
      stop.abort();
      return Promise.reject(aborted);
    });
    expect(await failureOf(ask(answerSchema, 'GET', '/reports', undefined, stop.signal))).toBe(aborted);
  });

  it('tells when the session has ended, whoever asked', async () => {
    const ended = vi.fn();
    whenSignedOut(ended);
    server(() => problem('signed-out', 401));
    await failureOf(ask(answerSchema, 'GET', '/reports'));
    expect(ended).toHaveBeenCalledTimes(1);
    server(() => problem('not-allowed', 403));
    await failureOf(ask(answerSchema, 'GET', '/reports'));
    expect(ended).toHaveBeenCalledTimes(1);
  });

  it('asks in the view of someone else where that is looked at, and in its own afterwards', async () => {
    const asked = server(() => ({ body: { total: 1 } }));
    const headers = (): unknown => (asked.mock.lastCall as unknown as [string, { headers: object }])[1].headers;
    const { begin, end, name } = useViewAs();
    begin('sanna-wikmark', 'Sanna Wikmark');
    await ask(answerSchema, 'GET', '/reports');
    expect([name.value, headers()]).toEqual(['Sanna Wikmark', { 'x-view-as': 'sanna-wikmark' }]);
    end();
    await ask(answerSchema, 'GET', '/reports');
    expect([name.value, headers()]).toEqual(['', {}]);
  });
});
