import { onBeforeUnmount, ref, type Ref } from 'vue';
import { saveCsv } from './save-file.ts';

/** What can be taken along as a file. */
export interface FileChoice {
  title: string;
  /** Of the file, without its ending. */
  name: string;
  /** The rows of the file; tells how much of it is there, from 0 to 1. */
  rows(signal: AbortSignal, progress: (share: number) => void): Promise<unknown[][]>;
}

/** Makes files one at a time: with how much of one is there, what went wrong, and a way to stop. All ends with its component. */
export function useFile(): { done: Ref<number | null>; problem: Ref<string>; make(choice: FileChoice): Promise<void>; cancel(): void } {
  const done = ref<number | null>(null);
  const problem = ref('');
  let stop: AbortController | null = null;
  const cancel = (): void => stop?.abort();
  onBeforeUnmount(cancel);
  async function make({ name, rows }: FileChoice): Promise<void> {
    cancel();
    const own = (stop = new AbortController());
    problem.value = '';
    done.value = 0;
    try {
      const made = await rows(own.signal, (share) => (done.value = share));
      if (!own.signal.aborted) saveCsv(`${name}.csv`, made);
    } catch (failure) {
      if (!own.signal.aborted) problem.value = failure instanceof Error ? failure.message : 'The file could not be made. Try again.';
    } finally {
      if (stop === own) done.value = null;
    }
  }
  return { done, problem, make, cancel };
}
