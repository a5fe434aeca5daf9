import type { Role } from '@bold-compass/core/api';
import type { Express, Request, Response } from 'express';
import { z } from 'zod';
import type { Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import { JsonAnswer } from '../threads/index.ts';

/** One route of the API: what it takes, what it gives, who may call it. Express and the OpenAPI document both read it. */
export interface Route<Params extends z.ZodType = z.ZodType, Body extends z.ZodType = z.ZodType, Answer extends z.ZodType = z.ZodType> {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** Path below `/api`, with parameters as Express writes them. */
  path: string;
  summary: string;
  /** `anyone` needs no session; `person` any session; roles only those. */
  open: 'anyone' | 'person' | Role[];
  /** Whether it changes anything. By default all but GET do; questions that are too long for an address say `false`. */
  writes?: boolean;
  /** Media type of an answer that is no JSON, which the route then sends itself. */
  sends?: string;
  params: Params;
  body: Body;
  answer: Answer;
  handle(input: {
    params: z.output<Params>;
    body: z.output<Body>;
    caller: Caller;
    request: Request;
    response: Response;
    /** Aborted when the caller waits no longer. */
    signal: AbortSignal;
  }): Promise<z.input<Answer> | JsonAnswer> | z.input<Answer>;
}

export const noParams = z.object({});
export const noBody = z.unknown();

/** Keeps the types of a route's parts together. */
export function route<Params extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
  definition: Route<Params, Body, Answer>,
): Route {
  return definition as unknown as Route;
}

function parsed<Schema extends z.ZodType>(schema: Schema, value: unknown, what: string): z.output<Schema> {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw new ApiError('bad-request', `The ${what} does not fit: ${issue.path.join('.') || 'it'}: ${issue.message}.`, {
    path: issue.path.map(String),
  });
}

const LONE_SURROGATE = /\p{Surrogate}/u;

/** Refuses texts with signs that no database takes, wherever they stand. Throws ApiError `bad-request`. */
function refuseUnwritable(value: unknown, what: string): void {
  if (typeof value === 'string') {
    if (value.includes('\u0000') || LONE_SURROGATE.test(value))
      throw new ApiError(
        'bad-request',
        `The ${what} holds a text with signs that cannot be stored (NUL, or half of a surrogate pair). Remove them.`,
      );
    return;
  }
  if (typeof value !== 'object' || value === null) return;
  for (const [name, part] of Object.entries(value)) {
    refuseUnwritable(name, what);
    refuseUnwritable(part, what);
  }
}

/** Sends an answer that is written already: it is asked for by POST, so nothing of it is kept that could be compared. */
function sendJson(response: Response, { bytes }: JsonAnswer): void {
  response.setHeader('content-type', 'application/json; charset=utf-8');
  response.setHeader('content-length', bytes.byteLength);
  response.end(bytes);
}

/** Adds routes to Express. `callerOf` finds who is asking, or null. */
export function mount(app: Express, routes: Route[], callerOf: (request: Request) => Promise<Caller | null>): void {
  for (const one of routes) {
    const writes = one.writes ?? one.method !== 'get';
    app[one.method](`/api${one.path}`, async (request, response) => {
      const caller = one.open === 'anyone' ? null : await callerOf(request);
      if (one.open !== 'anyone') {
        if (!caller) throw new ApiError('signed-out', 'Your session has ended. Sign in again; the page comes back as it was.');
        if (Array.isArray(one.open) && !one.open.includes(caller.person.role)) {
          throw new ApiError(
            'not-allowed',
            `Only ${one.open.map((role) => (role === 'analyst' ? 'an analyst' : `a ${role}`)).join(' or ')} can do this.`,
          );
        }
        if (caller.seenBy !== undefined && writes)
          throw new ApiError('not-allowed', 'While you see what someone else sees, nothing is changed. End “View as” first.');
      }
      refuseUnwritable(request.params, 'address');
      refuseUnwritable(request.query, 'address');
      // Questions may name all others, whose sign is one that no member has; nothing of them is stored.
      if (writes) refuseUnwritable(request.body, 'request');
      const params = parsed(one.params, request.params, 'address');
      const body = parsed(one.body, request.body, 'request');
      const leaving = new AbortController();
      response.once('close', () => response.writableFinished || leaving.abort());
      const answer = await one.handle({ params, body, caller: caller as Caller, request, response, signal: leaving.signal });
      if (answer instanceof JsonAnswer) sendJson(response, answer);
      else if (one.sends === undefined) response.json(answer);
    });
  }
}
