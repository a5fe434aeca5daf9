import {
  correctionsSchema,
  forgetSchema,
  rememberedSchema,
  importCommitSchema,
  importDoneSchema,
  importFollowSchema,
  importKeySchema,
  importReadingSchema,
  importStageSchema,
  importViewSchema,
  type ImportView,
} from '@bold-compass/core/api';
import busboy from 'busboy';
import { pipeline } from 'node:stream/promises';
import type { Request } from 'express';
import { z } from 'zod';
import type { WholeSight } from '../datasets/index.ts';
import type { Imports } from '../imports/index.ts';
import { ApiError } from '../problems/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const MOST_BYTES = 300 * 1024 * 1024;
const datasetParams = z.object({ dataset: z.string() });
const importParams = z.object({ import: z.uuid() });

const cutOff = (): ApiError => new ApiError('bad-request', 'The upload was cut off or is not a valid form. Choose the file again.');

/** Takes the first file of a multipart request. */
function receiveUpload(request: Request, imports: Imports, owner: string): Promise<ImportView> {
  return new Promise((resolve, reject) => {
    let parser: busboy.Busboy;
    try {
      // Browsers write file names in UTF-8 (HTML Living Standard, multipart/form-data).
      parser = busboy({
        headers: request.headers,
        defParamCharset: 'utf8',
        limits: { files: 1, fields: 20, fieldSize: 10_000, fileSize: MOST_BYTES },
      });
    } catch {
      reject(new ApiError('bad-request', 'Send the file as a form upload (multipart/form-data).'));
      return;
    }
    let receiving: Promise<ImportView> | undefined;
    parser.on('file', (_field, stream, info) => {
      stream.on('limit', () =>
        stream.destroy(new ApiError('file-too-large', 'Files may have up to 300 MB. Split the file, or import it through a database.')),
      );
      let broken: unknown;
      stream.on('error', (error) => (broken = error));
      receiving = imports.receive(owner, (info.filename || 'file.csv').slice(0, 200), stream);
      receiving.then(resolve, (error: unknown) => reject(error === broken && !(error instanceof ApiError) ? cutOff() : error));
    });
    // Also where the request is cut off: the parser then ends the file's stream, and nothing of it stays.
    pipeline(request, parser).then(
      () => {
        if (!receiving) reject(new ApiError('bad-request', 'There was no file in the request. Choose a file.'));
      },
      (error: unknown) => {
        if (!receiving) reject(error instanceof ApiError ? error : cutOff());
      },
    );
  });
}

export function importRoutes(imports: Imports, guard: WholeSight): Route[] {
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
      method: 'put',
      path: '/imports/:import/follow',
      summary: 'Read the file as the first file of a source was read',
      open: ['analyst'],
      params: importParams,
      body: importFollowSchema,
      answer: importViewSchema,
      async handle({ params, body, caller }) {
        if (body.source !== null) await guard.source(caller, body.source);
        return imports.follow(caller.person.id, params.import, body.source);
      },
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
      summary: 'Put the rows into a table that nobody sees yet, and count what they would change',
      open: ['analyst'],
      params: importParams,
      body: importStageSchema,
      answer: importViewSchema,
      async handle({ params, body, caller }) {
        const { target } = body;
        if (target.kind === 'fact') await guard.dataset(caller, target.dataset);
        else if (target.kind !== 'dataset') await guard.source(caller, target.source);
        return imports.stage(caller.person.id, params.import, body.plan, target);
      },
    }),
    route({
      method: 'post',
      path: '/imports/:import/commit',
      summary: 'Import the staged rows, in one transaction',
      open: ['analyst'],
      params: importParams,
      body: importCommitSchema,
      answer: importDoneSchema,
      handle: ({ params, body, caller }) => imports.commit(caller.person.id, params.import, body.agreed),
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
      summary: 'Discard a file',
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
      async handle({ body, caller }) {
        await guard.dataset(caller, body.dataset);
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
      async handle({ params, caller }) {
        await guard.dataset(caller, params.dataset);
        return imports.remembered(params.dataset);
      },
    }),
    route({
      method: 'delete',
      path: '/datasets/:dataset/corrections',
      summary: 'Forget what a text means',
      open: ['analyst'],
      params: datasetParams,
      body: forgetSchema,
      answer: z.object({}),
      async handle({ params, body, caller }) {
        await guard.dataset(caller, params.dataset);
        await imports.forgetCorrection(params.dataset, body.level, body.text);
        return {};
      },
    }),
  ];
}
