import {
  joinAskedSchema,
  joinCheckSchema,
  connectionFormSchema,
  connectionViewSchema,
  driftSchema,
  newSourceSchema,
  queryCheckSchema,
  queryPreviewSchema,
  queryRequestSchema,
  refreshSchema,
  rewriteSourceSchema,
  scheduleSchema,
  tableSummarySchema,
} from '@bold-compass/core/api';
import { z } from 'zod';
import type { Connections, SourceQuery } from '../connections/index.ts';
import type { Refresher } from '../refreshes/index.ts';
import type { SourceRegistry } from '../sources/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const connectionParams = z.object({ connection: z.string() });
const sourceParams = z.object({ source: z.string() });
const nothing = z.object({});

/** Connections to other databases, queries that are tried there, and the sources that come of them. */
export function sourceRoutes(connections: Connections, sourceQuery: SourceQuery, sources: SourceRegistry, refresher: Refresher): Route[] {
  return [
    route({
      method: 'get',
      path: '/connections',
      summary: 'The servers that sources are read from, without their passwords',
      open: ['analyst', 'steward'],
      params: noParams,
      body: noBody,
      answer: z.array(connectionViewSchema),
      handle: () => connections.list(),
    }),
    route({
      method: 'post',
      path: '/connections',
      summary: 'Add a connection, after it has been tried',
      open: ['analyst', 'steward'],
      params: noParams,
      body: connectionFormSchema,
      answer: connectionViewSchema,
      handle: ({ body }) => connections.save(null, body),
    }),
    route({
      method: 'put',
      path: '/connections/:connection',
      summary: 'Change a connection, after it has been tried',
      open: ['analyst', 'steward'],
      params: connectionParams,
      body: connectionFormSchema,
      answer: connectionViewSchema,
      handle: ({ params, body }) => connections.save(params.connection, body),
    }),
    route({
      method: 'delete',
      path: '/connections/:connection',
      summary: 'Remove a connection; what came through it stays',
      open: ['analyst', 'steward'],
      params: connectionParams,
      body: noBody,
      answer: nothing,
      async handle({ params }) {
        await connections.remove(params.connection);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/connections/:connection/tables',
      summary: 'The tables that the connection may read, with their columns',
      open: ['analyst'],
      params: connectionParams,
      body: noBody,
      answer: z.array(tableSummarySchema),
      handle: ({ params }) => sourceQuery.tables(params.connection),
    }),
    route({
      method: 'post',
      path: '/connections/:connection/sample',
      summary: 'The first rows of a table',
      open: ['analyst'],
      writes: false,
      params: connectionParams,
      body: z.object({ schema: z.string(), table: z.string() }),
      answer: queryPreviewSchema,
      handle: ({ params, body }) => sourceQuery.sample(params.connection, body.schema, body.table),
    }),
    route({
      method: 'post',
      path: '/connections/:connection/join-check',
      summary: 'What the data says of a join of two tables',
      open: ['analyst'],
      writes: false,
      params: connectionParams,
      body: joinAskedSchema,
      answer: joinCheckSchema,
      handle: ({ params, body }) => sourceQuery.joinCheck(params.connection, body),
    }),
    route({
      method: 'post',
      path: '/queries/check',
      summary: 'The columns of a query, or what is wrong with it and where',
      open: ['analyst'],
      writes: false,
      params: noParams,
      body: queryRequestSchema,
      answer: queryCheckSchema,
      handle: ({ body }) => sourceQuery.check(body),
    }),
    route({
      method: 'post',
      path: '/queries/preview',
      summary: 'The first rows that a query answers',
      open: ['analyst'],
      writes: false,
      params: noParams,
      body: queryRequestSchema,
      answer: queryPreviewSchema,
      handle: ({ body }) => sourceQuery.preview(body),
    }),
    route({
      method: 'post',
      path: '/sources',
      summary: 'Make a source of a query and begin to import its records',
      open: ['analyst'],
      params: noParams,
      body: newSourceSchema,
      answer: z.object({ source: z.string() }),
      handle: async ({ body, caller }) => ({ source: await refresher.create(body.label, body.origin, body.live, caller.person.id) }),
    }),
    route({
      method: 'put',
      path: '/sources/:source/query',
      summary: 'Give a source another query or other values of its parameters',
      open: ['analyst'],
      params: sourceParams,
      body: rewriteSourceSchema,
      answer: nothing,
      async handle({ params, body, caller }) {
        await sources.requireSeen(caller, params.source);
        await refresher.rewrite(params.source, body, caller.person.id);
        return {};
      },
    }),
    route({
      method: 'delete',
      path: '/sources/:source',
      summary: 'Delete records that no dataset reads any more',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: noBody,
      answer: nothing,
      async handle({ params, caller }) {
        await sources.requireSeen(caller, params.source);
        await refresher.remove(params.source);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/sources/:source/refresh',
      summary: 'Begin to import the records of a source anew',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: refreshSchema,
      answer: nothing,
      async handle({ params, body, caller }) {
        await sources.requireSeen(caller, params.source);
        await refresher.refresh(params.source, body, caller.person.id);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/sources/:source/cancel',
      summary: 'Cancel a refresh; the last good records stay',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: noBody,
      answer: nothing,
      async handle({ params, caller }) {
        await sources.requireSeen(caller, params.source);
        await refresher.cancel(params.source);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/sources/:source/drift',
      summary: 'What has changed at the source, and what that would touch here',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: noBody,
      answer: driftSchema,
      async handle({ params, caller }) {
        await sources.requireSeen(caller, params.source);
        return refresher.drift(await sources.find(params.source));
      },
    }),
    route({
      method: 'put',
      path: '/sources/:source/schedule',
      summary: 'When a source is refreshed by itself',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: scheduleSchema,
      answer: nothing,
      async handle({ params, body, caller }) {
        await sources.requireSeen(caller, params.source);
        await refresher.setSchedule(params.source, body.schedule, body.revision);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/sources/:source/progress',
      summary: 'How far a refresh is, as a share of 1; null when none runs',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: noBody,
      answer: z.object({ share: z.number().nullable() }),
      handle: ({ params }) => ({ share: refresher.progress(params.source) }),
    }),
  ];
}
