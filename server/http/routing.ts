import type { Role } from '@bold-compass/core/api';
import type { Express, Request, Response } from 'express';
import { z } from 'zod';
import type { Caller } from '../people/index.ts';
import { ApiError } from './problems.ts';

/** One route of the API: what it takes, what it gives, who may call it. Express and the OpenAPI document both read it. */
export interface Route<Params extends z.ZodType = z.ZodType, Body extends z.ZodType = z.ZodType, Answer extends z.ZodType = z.ZodType> {
  method: 'get' | 'post' | 'put' | 'delete';
  /** Path below `/api`, with parameters as Express writes them. */
  path: string;
  summary: string;
  /** `anyone` needs no session; `person` any session; roles only those. */
  open: 'anyone' | 'person' | Role[];
  params: Params;
  body: Body;
  answer: Answer;
  handle(input: {
    params: z.output<Params>;
    body: z.output<Body>;
    caller: Caller;
    request: Request;
    response: Response;
  }): Promise<z.input<Answer>> | z.input<Answer>;
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

/** Adds routes to Express. `callerOf` finds who is asking, or null. */
export function mount(app: Express, routes: Route[], callerOf: (request: Request) => Promise<Caller | null>): void {
  for (const one of routes) {
    app[one.method](`/api${one.path}`, async (request, response) => {
      const caller = one.open === 'anyone' ? null : await callerOf(request);
      if (one.open !== 'anyone') {
        if (!caller) throw new ApiError('signed-out', 'Your session has ended. Sign in again; the page comes back as it was.');
        if (Array.isArray(one.open) && !one.open.includes(caller.person.role)) {
          throw new ApiError('not-allowed', `Only ${one.open.map((role) => `an ${role}`).join(' or ')} can do this.`);
        }
      }
      const params = parsed(one.params, request.params, 'address');
      const body = parsed(one.body, request.body, 'request');
      const answer = await one.handle({ params, body, caller: caller as Caller, request, response });
      response.json(answer);
    });
  }
}
