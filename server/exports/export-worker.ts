import type { MessagePort } from 'node:worker_threads';
import type { ExportRequest } from '@bold-compass/core/exports';
import { answering } from '../threads/index.ts';
import { documentOf } from './document.ts';
import type { GatheredReport } from './gathered.ts';
import { EXPORT_WRITERS } from './writers/index.ts';
import type { Written } from './writers/writer.ts';

/** What is written, and how. */
export interface ExportTask {
  gathered: GatheredReport;
  request: Pick<ExportRequest, 'format' | 'paper'>;
  /** Told how much is written, from 0 to 1. */
  port: MessagePort;
}

/** Entry point of the thread that writes files. */
export default answering(({ gathered, request: { format, paper }, port }: ExportTask): Promise<Written> => {
  const progress = (share: number): void => port.postMessage(share);
  return EXPORT_WRITERS[format](documentOf(gathered), { paper, pictures: gathered.pictures, progress });
});
