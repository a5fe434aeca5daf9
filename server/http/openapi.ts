import { extendZodWithOpenApi, OpenAPIRegistry, OpenApiGeneratorV31 } from '@asteasolutions/zod-to-openapi';
import { problemSchema } from '@bold-compass/core/api';
import { z } from 'zod';
import { noBody, type Route } from './routing.ts';

extendZodWithOpenApi(z);

/** The OpenAPI 3.1 document, made from the routes' own schemas. */
export function openApiDocument(routes: Route[]): object {
  const registry = new OpenAPIRegistry();
  for (const one of routes) {
    registry.registerPath({
      method: one.method,
      path: `/api${one.path.replaceAll(/:(\w+)/g, '{$1}')}`,
      summary: one.summary,
      request: {
        params: one.params as z.ZodObject,
        ...(one.body === noBody ? {} : { body: { content: { 'application/json': { schema: one.body } } } }),
      },
      responses: {
        200: { description: 'The answer', content: { 'application/json': { schema: one.answer } } },
        default: { description: 'Problem details (RFC 9457)', content: { 'application/problem+json': { schema: problemSchema } } },
      },
    });
  }
  return new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: {
      title: 'Bold Compass',
      version: '1',
      description: 'Reports, their cells and what stands behind them. Sign in first: the session travels in an http-only cookie.',
    },
  });
}
