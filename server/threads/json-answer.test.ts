import { Piscina } from 'piscina';
import { expect, it } from 'vitest';
import { answeringBytes, JsonAnswer, jsonBytes } from './index.ts';
import { QueryError } from '@bold-compass/core/engine';

const words = { name: 'Mälardalen – “Süd”', values: [1, -0, null, 0.1 + 0.2], nested: { none: undefined, at: new Date(0) } };

it('an answer reads as JSON says it, whatever signs it holds', () => {
  expect(new JsonAnswer(jsonBytes(words)).read()).toEqual(JSON.parse(JSON.stringify(words)));
});

it('bytes are handed over by their thread and not copied; a failure stays one', async () => {
  const handed: unknown = await answeringBytes((task: object) => Promise.resolve(jsonBytes(task)))(words);
  // As the pool takes it apart: what goes over, and what of it changes hands.
  const { [Piscina.valueSymbol]: value, [Piscina.transferableSymbol]: owned } = handed as Record<symbol, unknown>;
  const { answer } = structuredClone(value, { transfer: [owned as ArrayBuffer] }) as { answer: Uint8Array<ArrayBuffer> };
  expect(new JsonAnswer(answer).read()).toEqual(JSON.parse(JSON.stringify(words)));
  expect((owned as ArrayBuffer).byteLength).toBe(0);
  const failed = await answeringBytes(() => Promise.reject(new QueryError('not-comparable', 'day', 'day is a date.')))(words);
  expect(failed).toMatchObject({ failure: { kind: 'query' } });
});
