import { problemSchema } from '@bold-compass/core/api';
import { filterSchema } from '@bold-compass/core/model';
import { z } from 'zod';
import { noBody, type Route } from './routing.ts';

const componentOf = (id: string): string => `#/components/schemas/${id}`;
const nameOf = (route: Route, what: 'Request' | 'Answer'): string =>
  `${route.method}${route.path.replaceAll(/[^\w]+(\w?)/g, (_match, letter: string) => letter.toUpperCase())}${what}`;

/** The OpenAPI 3.1 document, made from the routes' own schemas: its schemas are JSON Schema 2020-12, which zod writes itself. */
export function openApiDocument(routes: Route[]): object {
  const registry = z.registry<{ id: string }>();
  registry.add(problemSchema, { id: 'Problem' });
  registry.add(filterSchema, { id: 'Filter' });
  // A copy under a name of its own, since routes share schemas.
  for (const route of routes) {
    if (route.sends === undefined) registry.add(route.answer.meta({}), { id: nameOf(route, 'Answer') });
    if (route.body !== noBody) registry.add(route.body.meta({}), { id: nameOf(route, 'Request') });
  }
  const { schemas } = z.toJSONSchema(registry, { uri: componentOf, io: 'input', unrepresentable: 'any' });
  const content = (type: string, id: string): object => ({ [type]: { schema: { $ref: componentOf(id) } } });
  const paths: Record<string, Record<string, object>> = {};
  for (const route of routes) {
    const path = `/api${route.path.replaceAll(/:(\w+)/g, '{$1}')}`;
    const parameters = [...route.path.matchAll(/:(\w+)/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    paths[path] ??= {};
    paths[path][route.method] = {
      summary: route.summary,
      ...(parameters.length > 0 ? { parameters } : {}),
      ...(route.body === noBody ? {} : { requestBody: { content: content('application/json', nameOf(route, 'Request')) } }),
      responses: {
        200: {
          description: 'The answer',
          content: route.sends === undefined ? content('application/json', nameOf(route, 'Answer')) : { [route.sends]: {} },
        },
        default: { description: 'Problem details (RFC 9457)', content: content('application/problem+json', 'Problem') },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Bold Compass',
      version: '1',
      description: 'Reports, their cells and what stands behind them. Sign in first: the session travels in an http-only cookie.',
    },
    paths,
    components: { schemas },
  };
}
