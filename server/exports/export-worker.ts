import type { MessagePort } from 'node:worker_threads';
import type { ExportFormatName } from '@bold-compass/core/exports';
import { answering } from '../threads/index.ts';
import { documentOf } from './document.ts';
import type { GatheredReport } from './gathered.ts';
import { EXPORT_WRITERS } from './writers/index.ts';
import type { Written } from './writers/writer.ts';

/** What is written, and how. */
export interface ExportTask {
  gathered: GatheredReport;
  format: ExportFormatName;
  /** Told how much is written, from 0 to 1; nobody is where it is left out. */
  port?: MessagePort;
}

/** Entry point of the thread that writes files. */
export default answering(({ gathered, format, port }: ExportTask): Promise<Written> => {
  const progress = (share: number): void => port?.postMessage(share);
  return EXPORT_WRITERS[format](documentOf(gathered), { pictures: gathered.pictures, progress });
});
