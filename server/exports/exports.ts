import { MessageChannel } from 'node:worker_threads';
import {
  exportedKind,
  exportFormat,
  exportRequestSchema,
  fileName,
  type Export,
  type ExportRequest,
  type PaperPage,
} from '@bold-compass/core/exports';
import { isDataExhibit } from '@bold-compass/core/model';
import { listWords } from '@bold-compass/core/format';
import { promptTitle, unanswered } from '@bold-compass/core/prompts';
import type { Assets } from '../assets/index.ts';
import type { Job, JobDone, JobFile, Jobs, JobTools } from '../jobs/index.ts';
import type { Caller, Sessions } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import type { ReportReader } from '../reports/index.ts';
import { isOutOfMemory, LANE_LIMITS, Lanes, Threads, tookTooLong } from '../threads/index.ts';
import type { ExportTask } from './export-worker.ts';
import { exhibitsAsked, Gatherer } from './gather.ts';
import type { Written } from './writers/writer.ts';

export const EXPORT_JOB = 'export';
/** How much of the work asking is; the rest is writing. */
const ASKING = 0.6;
/** What a thread that writes may keep, in megabytes. */
const HEAP = 1_200;

/** The same of one that lays out pages that somebody waits for. */
const PAGES_HEAP = 600;
const writingThreads = (heapMegabytes: number): Threads<ExportTask> =>
  new Threads<ExportTask>(import.meta.url, './export-worker.js', './export-worker.ts', 1, { heapMegabytes });

/** Pages that one person waits for at once: each change of a draft asks anew, and ends what it asked before. */
const MOST_LAID_OUT = 6;

/** Writing takes no longer than this, in milliseconds; then it is ended. */
const LONGEST = 180_000;
const TOO_LARGE = 'This is more than one file can hold. Close levels, choose fewer pages or a smaller scope, or export CSV.';

/** What is kept of a request until its turn. */
interface ExportInput {
  request: ExportRequest;
  /** The name of the file. */
  name: string;
  /** What its person could see when they asked: where that is another today, nobody gets the file. */
  sight: string;
}

/** The access rules of a caller as one text, whatever their order. */
const sightOf = ({ person, rules }: Caller): string => JSON.stringify([person.role, ...rules.map((rule) => JSON.stringify(rule)).sort()]);
const CHANGED = 'What you may see has changed since this was asked for. Export it again.';

/** Reports as files: each is a job, made under the rules that hold for its person when its turn comes. */
export class Exports {
  private readonly threads = writingThreads(HEAP);
  /** Pages that somebody waits for do not stand in line behind long exports. */
  private readonly pageThreads = new Lanes([writingThreads(PAGES_HEAP), writingThreads(PAGES_HEAP)], { ...LANE_LIMITS, longest: LONGEST });

  /** How many requests for pages each person waits for. */
  private readonly laidOut = new Map<string, number>();

  constructor(
    private readonly reports: ReportReader,
    private readonly assets: Assets,
    private readonly sessions: Pick<Sessions, 'callerOf'>,
  ) {}

  /** Begins an export, as far as it can be made at all. Throws ApiError `report-not-found`, `bad-request`, `too-many-tries`. */
  async add(jobs: Jobs, caller: Caller, request: ExportRequest): Promise<string> {
    const input = await this.check(caller, request);
    return jobs.add(EXPORT_JOB, caller.person.id, input);
  }

  private async check(caller: Caller, request: ExportRequest): Promise<ExportInput> {
    const { scope, choices, where, draft } = request;
    const { report, reader } = await this.reports.asked(caller, request.report, { scope, choices, where, draft });
    const missing = draft ? [] : unanswered(report, { scope, choices });
    if (missing.length > 0)
      throw new ApiError(
        'scope-unknown',
        `Choose ${listWords(missing.map((prompt) => promptTitle(prompt, reader.dataset).toLowerCase()))} to run this report.`,
      );
    const asked = exhibitsAsked(report, request);
    if (asked.every(({ exhibits }) => exhibits.length === 0))
      throw new ApiError('bad-request', 'There is nothing to export here any more. Reload the report and choose again.');
    for (const exhibit of asked.flatMap(({ exhibits }) => exhibits)) {
      const own = request.exhibits[exhibit.id];
      if (!own || !isDataExhibit(exhibit)) continue;
      if (own.asked) await this.reports.asked(caller, request.report, { ...own.asked, draft });
      if (own.state !== undefined && !exportedKind(exhibit.kind).state.safeParse(own.state).success)
        throw new ApiError('bad-request', `How “${exhibit.title}” stands open cannot be read. Reload the report and export it again.`);
    }
    const [only] = asked.flatMap(({ exhibits }) => exhibits);
    const seen = await this.reports.documentFor(caller, report, reader);
    const { carries, extension } = exportFormat(request.format);
    const title = carries === 'table' && only && isDataExhibit(only) ? only.title : seen.title;
    return { request, name: fileName(title.replaceAll(/[{}]/g, ''), extension), sight: sightOf(caller) };
  }

  /** Makes an export whose turn has come. */
  async work(input: unknown, { owner, signal, progress }: JobTools): Promise<JobDone> {
    const { request: asked, name, sight } = input as ExportInput;
    const request = exportRequestSchema.parse(asked);
    const caller = await this.sessions.callerOf(owner);
    if (!caller) throw new ApiError('not-allowed', 'There is nobody of this name any more.');
    if (sightOf(caller) !== sight) throw new ApiError('not-allowed', CHANGED);
    const { bytes, contents } = await this.written(caller, request, signal, progress);
    return { file: { name, type: exportFormat(request.format).mediaType, bytes }, outcome: contents };
  }

  /** The pages of a report at once, for who waits for them. Throws what `add` throws, and ApiError `too-large`, `too-many-tries`. */
  async pages(caller: Caller, request: ExportRequest, signal: AbortSignal): Promise<{ bytes: Uint8Array; pages: PaperPage[] }> {
    const id = caller.seenBy ?? caller.person.id;
    const waiting = this.laidOut.get(id) ?? 0;
    if (waiting >= MOST_LAID_OUT)
      throw new ApiError('too-many-tries', 'Pages are being laid out for you already. Wait for these, then try again.');
    this.laidOut.set(id, waiting + 1);
    try {
      await this.check(caller, request);
      const gatherer = new Gatherer(this.reports, this.assets, {
        caller,
        request: { ...request, format: 'pdf' },
        signal,
        progress: () => undefined,
      });
      const task: ExportTask = { gathered: await gatherer.report(), format: 'pdf' };
      const { bytes, pages = [] } = await this.pageThreads.run<Written>(task, { place: request.report, person: id, signal });
      return { bytes, pages };
    } finally {
      const left = this.laidOut.get(id)! - 1;
      if (left > 0) this.laidOut.set(id, left);
      else this.laidOut.delete(id);
    }
  }

  private async written(caller: Caller, request: ExportRequest, signal: AbortSignal, progress: (share: number) => void): Promise<Written> {
    const gatherer = new Gatherer(this.reports, this.assets, { caller, request, signal, progress: (share) => progress(share * ASKING) });
    const gathered = await gatherer.report();
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (share: number) => progress(ASKING + share * (1 - ASKING)));
    try {
      const ending = AbortSignal.timeout(LONGEST);
      return await this.threads
        .run<Written>(
          { gathered, format: request.format, port: port2 },
          { transferList: [port2], signal: AbortSignal.any([signal, ending]) },
        )
        .catch((error: unknown) => {
          if (isOutOfMemory(error)) throw new ApiError('too-large', TOO_LARGE);
          throw ending.aborted && !signal.aborted ? tookTooLong(LONGEST) : error;
        });
    } finally {
      port1.close();
    }
  }

  /** The file of an export, under the rules that it was made under. Throws ApiError `not-found`, `not-allowed`. */
  async file(jobs: Jobs, caller: Caller, id: string): Promise<JobFile> {
    const { input, file } = await jobs.file(caller.person.id, id);
    if ((input as ExportInput).sight !== sightOf(caller)) throw new ApiError('not-allowed', CHANGED);
    return file;
  }

  close(): Promise<void> {
    return Promise.all([this.threads.close(), this.pageThreads.close()]).then(() => undefined);
  }
}

/** The exports of a person, the newest first. */
export async function exportsOf(jobs: Jobs, owner: string): Promise<Export[]> {
  return (await jobs.of(owner, EXPORT_JOB)).map(exportView);
}

function exportView({ id, input, state, progress, problem, outcome, createdAt, keptUntil, size }: Job): Export {
  const { request, name } = input as ExportInput;
  return {
    ...{ id, name, state, progress, problem, size, contents: outcome, format: request.format, report: request.report },
    ...{ madeAt: createdAt.toISOString(), keptUntil: keptUntil.toISOString() },
  };
}
