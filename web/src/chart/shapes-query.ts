import { shapesFileSchema } from '@bold-compass/core/api';
import type { Shapes } from '@bold-compass/core/shapes';
import { ask } from '../api/client.ts';

/** What own shapes of a map are remembered by. */
export const shapesKey = (report: string, id: string): string[] => ['shapes', report, id];

export const fetchShapes = (report: string, id: string, signal?: AbortSignal): Promise<Shapes> =>
  ask(shapesFileSchema, 'GET', `/reports/${encodeURIComponent(report)}/shapes/${id}`, undefined, signal);
