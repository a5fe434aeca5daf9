import { keptPictureSchema, newPictureSchema } from '@bold-compass/core/api';
import { pictureId } from '@bold-compass/core/model';
import { z } from 'zod';
import type { Pictures } from '../pictures/index.ts';
import { ApiError } from '../problems/index.ts';
import { canCompose, type Library } from '../reports/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const pictureParams = z.object({ report: z.string(), picture: z.string().regex(/^[0-9a-f]{64}$/, 'a picture is named by its id') });

/** Pictures of reports. */
export function pictureRoutes(library: Library, pictures: Pictures): Route[] {
  return [
    route({
      method: 'post',
      path: '/pictures',
      summary: 'Keep a picture, to be put into a report',
      open: ['analyst'],
      params: noParams,
      body: newPictureSchema,
      answer: keptPictureSchema,
      handle: async ({ body }) => ({ source: await pictures.keep(body.source) }),
    }),
    route({
      method: 'get',
      path: '/reports/:report/pictures/:picture',
      summary: 'A picture of a report',
      open: 'person',
      sends: 'image/*',
      params: pictureParams,
      body: noBody,
      answer: z.void(),
      async handle({ params, caller, response }) {
        const { report } = await library.open(caller, params.report, true);
        // While composing, a picture is shown before the draft that it is put into is saved.
        const isShown = report.exhibits.some((one) => one.kind === 'image' && pictureId(one.source) === params.picture);
        if (!isShown && !canCompose(caller)) throw new ApiError('not-found', 'This report has no such picture.');
        const { type, bytes } = await pictures.read(params.picture);
        // A drawing may hold scripts: opened by itself, it runs none of them.
        response.set({ 'Content-Security-Policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'" });
        response.set({ 'Cache-Control': 'private, max-age=3600', 'Content-Type': type }).send(bytes);
      },
    }),
  ];
}
