import {
  datasetSummarySchema,
  importCheckSchema,
  importCommitSchema,
  importDoneSchema,
  importPreviewSchema,
  type ImportPreview,
} from '@bold-compass/core/api';
import busboy from 'busboy';
import type { Request } from 'express';
import { z } from 'zod';
import type { Catalogue } from '../data/index.ts';
import type { Imports } from '../imports/index.ts';
import { ApiError } from './problems.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const MOST_BYTES = 300 * 1024 * 1024;
const importParams = z.object({ import: z.uuid() });

/** Takes the first file of a multipart request. */
function receiveUpload(request: Request, imports: Imports, owner: string): Promise<ImportPreview> {
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
      if (!received) reject(new ApiError('bad-request', 'There was no file in the request. Choose a CSV file.'));
    });
    parser.on('error', reject);
    request.pipe(parser);
  });
}

export function importRoutes(imports: Imports, catalogue: Catalogue): Route[] {
  return [
    route({
      method: 'get',
      path: '/datasets',
      summary: 'All datasets with their sizes',
      open: ['analyst', 'steward'],
      params: noParams,
      body: noBody,
      answer: z.array(datasetSummarySchema),
      handle: () => catalogue.summaries(),
    }),
    route({
      method: 'post',
      path: '/imports',
      summary: 'Upload a CSV file and see what is in it',
      open: ['analyst'],
      params: noParams,
      body: noBody,
      answer: importPreviewSchema,
      handle: ({ request, caller }) => receiveUpload(request, imports, caller.person.id),
    }),
    route({
      method: 'post',
      path: '/imports/:import/check',
      summary: 'Check the whole file against changed types',
      open: ['analyst'],
      params: importParams,
      body: importCheckSchema,
      answer: importPreviewSchema,
      handle: ({ params, body, caller }) => imports.check(caller.person.id, params.import, body.columns),
    }),
    route({
      method: 'post',
      path: '/imports/:import/commit',
      summary: 'Bring the file in as a dataset with a first report',
      open: ['analyst'],
      params: importParams,
      body: importCommitSchema,
      answer: importDoneSchema,
      handle: ({ params, body, caller }) => imports.commit(caller.person.id, params.import, body.label, body.columns),
    }),
  ];
}
