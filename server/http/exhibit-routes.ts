import {
  crosstabRequestSchema,
  crosstabResponseSchema,
  explainRequestSchema,
  explanationSchema,
  kpiRequestSchema,
  kpiResponseSchema,
  listRequestSchema,
  listResponseSchema,
  membersRequestSchema,
  membersResponseSchema,
  valuesRequestSchema,
  valuesResponseSchema,
} from '@bold-compass/core/api';
import { findField, findMeasure } from '@bold-compass/core/model';
import { z } from 'zod';
import {
  createCubeCache,
  crosstabWindow,
  explainCell,
  kpiValues,
  listPage,
  measuresUnder,
  promptMembers,
  requireVisibleCell,
  scopeFilter,
  scopeIn,
  visibleRequest,
  type Reading,
} from '../reports/index.ts';
import { ApiError } from '../problems/index.ts';
import { route, type Route } from './routing.ts';

const reportParams = z.object({ report: z.string() });
const exhibitParams = z.object({ report: z.string(), exhibit: z.string() });

/** What reports show: the figures of their exhibits, titles and prompts. */
export function exhibitRoutes(reading: Reading): Route[] {
  const cubes = createCubeCache();
  return [
    route({
      method: 'post',
      path: '/reports/:report/values',
      summary: 'The values that titles and texts of a report show',
      open: 'person',
      writes: false,
      params: reportParams,
      body: valuesRequestSchema,
      answer: valuesResponseSchema,
      async handle({ params, body, caller }) {
        const { desk } = await reading.asked(caller, params.report, body);
        const known = body.measures.filter((name) => findMeasure(desk.dataset, name));
        if (known.length === 0) return {};
        const values = await measuresUnder(desk, known, scopeFilter(body.scope));
        return Object.fromEntries(
          [...values].map(([name, { value, reason }]) => [name, { value: Number.isNaN(value) ? null : value, reason }]),
        );
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/members',
      summary: 'What a prompt offers under the rest of the scope, with counts',
      open: 'person',
      writes: false,
      params: reportParams,
      body: membersRequestSchema,
      answer: membersResponseSchema,
      async handle({ params, body, caller }) {
        const { report, desk: first } = await reading.asked(caller, params.report, body);
        const other = body.dataset === undefined ? undefined : (await reading.otherDatasets(report))[body.dataset];
        const desk = other ? await reading.desk(caller, other.name) : first;
        if (!findField(desk.dataset, body.field))
          throw new ApiError('scope-unknown', `This report does not know "${body.field}".`, { field: body.field });
        return promptMembers(desk, report, scopeIn(desk.dataset, body.scope), body.field, body.tree);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/kpis',
      summary: 'The figures and states of a KPI strip',
      open: 'person',
      writes: false,
      params: exhibitParams,
      body: kpiRequestSchema,
      answer: kpiResponseSchema,
      async handle({ params, body, caller }) {
        const { exhibit, desk, scope } = await reading.exhibit(caller, params, body, 'kpis');
        return kpiValues(desk, exhibit, scopeFilter(scope));
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/crosstab',
      summary: 'A window of cells of a cross-tab, as opened and ordered',
      open: 'person',
      writes: false,
      params: exhibitParams,
      body: crosstabRequestSchema,
      answer: crosstabResponseSchema,
      async handle({ params, body, caller }) {
        const { exhibit, desk, scope } = await reading.crosstab(caller, params, body);
        return crosstabWindow(desk, cubes, exhibit, scopeFilter(scope), await visibleRequest(desk, exhibit, body));
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/explain',
      summary: 'Why a cell shows its number',
      open: 'person',
      writes: false,
      params: exhibitParams,
      body: explainRequestSchema,
      answer: explanationSchema,
      async handle({ params, body, caller }) {
        const { exhibit, desk, scope } = await reading.crosstab(caller, params, body);
        await requireVisibleCell(desk, exhibit, body);
        return explainCell(desk, cubes, exhibit, scope, scopeFilter(scope), body);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/list',
      summary: 'A page of a list, with its totals',
      open: 'person',
      writes: false,
      params: exhibitParams,
      body: listRequestSchema,
      answer: listResponseSchema,
      async handle({ params, body, caller }) {
        const { exhibit: list, desk, scope } = await reading.exhibit(caller, params, body, 'list');
        const known = new Set([...list.columns.flatMap(({ field }) => field ?? []), ...list.groups.map(({ field }) => field)]);
        const order = body.order.length > 0 ? body.order.filter((one) => known.has(one.field)) : list.order;
        return listPage(desk, list, scopeFilter(scope), { ...body, order });
      },
    }),
  ];
}
