import { exportRequestSchema, exportSchema, printedPagesSchema } from '@bold-compass/core/exports';
import { z } from 'zod';
import { exportsOf, type Exports } from '../exports/index.ts';
import type { Jobs } from '../jobs/index.ts';
import { privateOf, type Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const exportParams = z.object({ export: z.uuid() });
const listSchema = z.array(exportSchema);

/** Whose exports a call is about. Throws ApiError `not-allowed` where someone is looked through. */
function ownerOf(caller: Caller): string {
  const owner = privateOf(caller);
  if (owner === null) throw new ApiError('not-allowed', 'What someone else exported is theirs alone. End “View as” first.');
  return owner;
}

/** Reports as files. */
export function exportRoutes(exports: Exports, jobs: Jobs): Route[] {
  return [
    route({
      method: 'get',
      path: '/exports',
      summary: 'Your exports, the newest first',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: listSchema,
      handle: async ({ caller }) => {
        const owner = privateOf(caller);
        return owner === null ? [] : exportsOf(jobs, owner);
      },
    }),
    route({
      method: 'post',
      path: '/exports',
      summary: 'Export a report; the file is made in the background',
      open: 'person',
      params: noParams,
      body: exportRequestSchema,
      answer: z.object({ id: z.string() }),
      handle: async ({ caller, body }) => ({ id: await exports.add(jobs, caller, body) }),
    }),
    route({
      method: 'post',
      path: '/exports/pages',
      summary: 'The pages of a report as they are printed, with what stands where on them; ends when nobody waits for it',
      open: 'person',
      writes: false,
      params: noParams,
      body: exportRequestSchema,
      answer: printedPagesSchema,
      async handle({ caller, body, signal }) {
        const { bytes, pages } = await exports.pages(caller, body, signal);
        return { pdf: Buffer.from(bytes).toString('base64'), pages };
      },
    }),
    route({
      method: 'post',
      path: '/exports/:export/cancel',
      summary: 'Cancel an export that waits or is under way',
      open: 'person',
      params: exportParams,
      body: noBody,
      answer: listSchema,
      async handle({ caller, params }) {
        await jobs.cancel(ownerOf(caller), params.export);
        return exportsOf(jobs, ownerOf(caller));
      },
    }),
    route({
      method: 'delete',
      path: '/exports/:export',
      summary: 'Remove an export with its file',
      open: 'person',
      params: exportParams,
      body: noBody,
      answer: listSchema,
      async handle({ caller, params }) {
        await jobs.remove(ownerOf(caller), params.export);
        return exportsOf(jobs, ownerOf(caller));
      },
    }),
    route({
      method: 'get',
      path: '/exports/:export/file',
      summary: 'The file of an export',
      open: 'person',
      sends: 'application/octet-stream',
      params: exportParams,
      body: noBody,
      answer: z.object({}),
      async handle({ caller, params, response }) {
        ownerOf(caller);
        const { name, type, bytes } = await exports.file(jobs, caller, params.export);
        response.attachment(name).type(type);
        response.setHeader('X-Content-Type-Options', 'nosniff');
        response.setHeader('Content-Security-Policy', "default-src 'none'; sandbox");
        response.end(bytes);
        return {};
      },
    }),
  ];
}
