import { problemSchema, type Problem } from '@bold-compass/core/api';
import type { z } from 'zod';
import { viewAsHeaders } from './view-as.ts';

/** A refusal or failure of the API, with a message for people. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
    this.name = 'ApiProblem';
  }
  get code(): string {
    return this.problem.code;
  }
  /** The revision that is there now, where someone else saved in the meantime. */
  get revision(): number | undefined {
    const { revision } = this.problem.about ?? {};
    return typeof revision === 'number' ? revision : undefined;
  }
}

const unreachable: Problem = {
  type: 'about:blank',
  title: 'No connection',
  status: 0,
  code: 'unreachable',
  detail: 'Bold Compass does not answer. What you see stays as it is; this page tries again by itself.',
};

/** Codes that pass by themselves: asked again until they do. */
const PASSING = new Set(['database-unreachable', 'unreachable']);

/** Whether a failed question is to be asked again: for as long as it may pass by itself. */
export const retryWhilePassing = (_count: number, error: unknown): boolean => error instanceof ApiProblem && PASSING.has(error.code);
export const isPassing = (error: unknown): boolean => retryWhilePassing(0, error);

/** FigureFormatting when a session has ended, whoever asked. */
let onSignedOut: () => void = () => undefined;
export function whenSignedOut(callback: () => void): void {
  onSignedOut = callback;
}

async function problemOf(response: Response): Promise<ApiProblem> {
  const body: unknown = await response.json().catch(() => null);
  const parsed = problemSchema.safeParse(body);
  return new ApiProblem(parsed.success ? parsed.data : { ...unreachable, status: response.status });
}

/**
 * Asks the API and checks the answer's shape. Throws ApiProblem; an abort through `signal` passes as it is.
 */
export async function ask<Schema extends z.ZodType>(
  schema: Schema,
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<z.output<Schema>> {
  const form = body instanceof FormData;
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      signal,
      credentials: 'same-origin',
      headers: { ...viewAsHeaders(), ...(body === undefined || form ? {} : { 'content-type': 'application/json' }) },
      body: body === undefined ? undefined : form ? body : JSON.stringify(body),
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new ApiProblem(unreachable);
  }
  if (!response.ok) {
    const problem = await problemOf(response);
    if (problem.code === 'signed-out') onSignedOut();
    throw problem;
  }
  return schema.parse(await response.json());
}
