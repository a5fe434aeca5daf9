import { onBeforeUnmount, ref, type Ref } from 'vue';
import { saveCsv } from './save-file.ts';
import { htmlTable, markdownTable } from './tables-as-text.ts';

/** What can be taken along as a file. */
export interface FileChoice {
  title: string;
  /** Of the file, without its ending. */
  name: string;
  /** The rows of the file; tells how much of it is there, from 0 to 1. */
  rows(signal: AbortSignal, progress: (share: number) => void): Promise<unknown[][]>;
  /** Where they go: a file, or the clipboard as a table that is pasted into documents. */
  to?: 'clipboard';
}

/** Puts rows onto the clipboard, which waits for them: as HTML, and as Markdown where only text is taken. */
async function copyTable(rows: Promise<unknown[][]>): Promise<void> {
  // Browsers have a clipboard for pages over TLS, and on the machine itself.
  if (!('ClipboardItem' in window) || !('clipboard' in navigator)) throw new Error('Nothing can be copied from here. Save it as CSV.');
  const blob = async (type: string, written: (own: unknown[][]) => string): Promise<Blob> => new Blob([written(await rows)], { type });
  const item = new ClipboardItem({ 'text/html': blob('text/html', htmlTable), 'text/plain': blob('text/plain', markdownTable) });
  // Why the rows did not come is said rather than that nothing was copied.
  await Promise.all([rows, navigator.clipboard.write([item])]);
}

/** Makes files one at a time: with how much of one is there, what went wrong, and a way to stop. All ends with its component. */
export function useFile(): {
  done: Ref<number | null>;
  said: Ref<string>;
  problem: Ref<string>;
  make(choice: FileChoice): Promise<void>;
  cancel(): void;
} {
  const done = ref<number | null>(null);
  const problem = ref('');
  const said = ref('');
  let stop: AbortController | null = null;
  const cancel = (): void => stop?.abort();
  onBeforeUnmount(cancel);
  async function make({ name, rows, to }: FileChoice): Promise<void> {
    cancel();
    const own = (stop = new AbortController());
    problem.value = '';
    said.value = '';
    done.value = 0;
    try {
      const made = rows(own.signal, (share) => (done.value = share));
      if (to === 'clipboard') {
        await copyTable(made);
        if (!own.signal.aborted) said.value = 'Copied';
      } else {
        const written = await made;
        if (!own.signal.aborted) saveCsv(`${name}.csv`, written);
      }
    } catch (failure) {
      if (!own.signal.aborted) problem.value = failure instanceof Error ? failure.message : 'The file could not be made. Try again.';
    } finally {
      if (stop === own) done.value = null;
    }
  }
  return { done, said, problem, make, cancel };
}
