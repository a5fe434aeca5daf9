import {
  correctionsSchema,
  forgetSchema,
  rememberedSchema,
  importDoneSchema,
  importKeySchema,
  importReadingSchema,
  importStageSchema,
  importViewSchema,
  type ImportView,
} from '@bold-compass/core/api';
import busboy from 'busboy';
import type { Request } from 'express';
import { z } from 'zod';
import type { Imports } from '../imports/index.ts';
import { ApiError } from './problems.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const MOST_BYTES = 300 * 1024 * 1024;
const datasetParams = z.object({ dataset: z.string() });
const importParams = z.object({ import: z.uuid() });

/** Takes the first file of a multipart request. */
function receiveUpload(request: Request, imports: Imports, owner: string): Promise<ImportView> {
  return new Promise((resolve, reject) => {
    let parser: busboy.Busboy;
    try {
      parser = busboy({ headers: request.headers, limits: { files: 1, fileSize: MOST_BYTES } });
    } catch {
      reject(new ApiError('bad-request', 'Send the file as a form upload.'));
      return;
    }
    let received = false;
    parser.on('file', (_field, stream, info) => {
      received = true;
      stream.on('limit', () =>
        reject(new ApiError('file-too-large', 'Files may have up to 300 MB. Split the file, or bring it in through a database.')),
      );
      imports.receive(owner, info.filename || 'file.csv', stream).then(resolve, reject);
    });
    parser.on('close', () => {
      if (!received) reject(new ApiError('bad-request', 'There was no file in the request. Choose a file.'));
    });
    parser.on('error', reject);
    request.pipe(parser);
  });
}

export function importRoutes(imports: Imports): Route[] {
  return [
    route({
      method: 'post',
      path: '/imports',
      summary: 'Upload a file; looking at it begins at once',
      open: ['analyst'],
      params: noParams,
      body: noBody,
      answer: importViewSchema,
      handle: ({ request, caller }) => receiveUpload(request, imports, caller.person.id),
    }),
    route({
      method: 'get',
      path: '/imports/:import',
      summary: 'A file on its way in: what was found, and what is going on',
      open: ['analyst'],
      params: importParams,
      body: noBody,
      answer: importViewSchema,
      handle: ({ params, caller }) => imports.view(caller.person.id, params.import),
    }),
    route({
      method: 'put',
      path: '/imports/:import/reading',
      summary: 'Read the file another way',
      open: ['analyst'],
      params: importParams,
      body: importReadingSchema,
      answer: importViewSchema,
      handle: ({ params, body, caller }) => imports.read(caller.person.id, params.import, body.reading),
    }),
    route({
      method: 'post',
      path: '/imports/:import/duplicates',
      summary: 'Look for rows that have the key of an earlier row',
      open: ['analyst'],
      params: importParams,
      body: importKeySchema,
      answer: importViewSchema,
      handle: ({ params, body, caller }) => imports.findDuplicates(caller.person.id, params.import, body.key),
    }),
    route({
      method: 'post',
      path: '/imports/:import/stage',
      summary: 'Bring the rows into a table that nobody sees yet, and count what they would change',
      open: ['analyst'],
      params: importParams,
      body: importStageSchema,
      answer: importViewSchema,
      handle: ({ params, body, caller }) => imports.stage(caller.person.id, params.import, body.plan, body.target),
    }),
    route({
      method: 'post',
      path: '/imports/:import/commit',
      summary: 'Make the staged rows real, in one transaction',
      open: ['analyst'],
      params: importParams,
      body: noBody,
      answer: importDoneSchema,
      handle: ({ params, caller }) => imports.commit(caller.person.id, params.import),
    }),
    route({
      method: 'post',
      path: '/imports/:import/cancel',
      summary: 'Stop what is going on with a file; the file stays',
      open: ['analyst'],
      params: importParams,
      body: noBody,
      answer: importViewSchema,
      handle: ({ params, caller }) => imports.cancel(caller.person.id, params.import),
    }),
    route({
      method: 'delete',
      path: '/imports/:import',
      summary: 'Put a file away',
      open: ['analyst'],
      params: importParams,
      body: noBody,
      answer: z.object({}),
      async handle({ params, caller }) {
        await imports.forget(caller.person.id, params.import);
        return {};
      },
    }),
    route({
      method: 'put',
      path: '/corrections',
      summary: 'Remember which members texts stand for',
      open: ['analyst'],
      params: noParams,
      body: correctionsSchema,
      answer: z.object({}),
      async handle({ body }) {
        await imports.correct(body.dataset, body.level, body.corrections);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/corrections',
      summary: 'What texts of files were said to mean',
      open: ['analyst'],
      params: datasetParams,
      body: noBody,
      answer: z.array(rememberedSchema),
      handle: ({ params }) => imports.remembered(params.dataset),
    }),
    route({
      method: 'delete',
      path: '/datasets/:dataset/corrections',
      summary: 'Forget what a text means',
      open: ['analyst'],
      params: datasetParams,
      body: forgetSchema,
      answer: z.object({}),
      async handle({ params, body }) {
        await imports.forgetCorrection(params.dataset, body.level, body.text);
        return {};
      },
    }),
  ];
}
