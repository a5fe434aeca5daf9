import { importViewSchema, type ImportTarget, type ImportView } from '@bold-compass/core/api';
import { findProblems, guessColumns, type ImportColumn, type ImportPlan, type Problem, type Reading } from '@bold-compass/core/imports';
import { watchDebounced } from '@vueuse/core';
import { useOwnStorage } from '../shell/own-storage.ts';
import { computed, onScopeDispose, ref, shallowRef } from 'vue';
import { ApiProblem, ask } from '../api/client.ts';

/** What an analyst chose for a file; kept over a reload of the page. */
interface Chosen {
  columns: ImportColumn[];
  key: number[];
  choices: ImportPlan['choices'];
}

const NOTHING_CHOSEN: Chosen = { columns: [], key: [], choices: {} };
const POLL_MILLISECONDS = 250;
const count = new Intl.NumberFormat('en-GB');

/** A file on its way in: what the server found, what the analyst chose, and what does not fit. */
export function useImport(id: string) {
  const view = shallowRef<ImportView | null>(null);
  const failure = shallowRef<unknown>(null);
  const message = ref('');
  const chosen = useOwnStorage<Chosen>(`import ${id}`, NOTHING_CHOSEN, sessionStorage);
  let timer: ReturnType<typeof setTimeout> | undefined;
  let ended = false;
  /** The source that the columns which are shown follow; undefined until it is known. */
  let followed: string | null | undefined;

  function take(next: ImportView): void {
    // While something is going on the rows are not sent: those that are here stay.
    view.value = next.work && view.value?.analysis ? { ...next, analysis: view.value.analysis } : next;
    failure.value = null;
    const follows = next.follows?.source ?? null;
    const proposed = { columns: next.columns, key: next.follows?.key ?? [], choices: next.follows?.choices ?? {} };
    if (!next.work && next.columns.length > 0) {
      const isOther = followed !== undefined && followed !== follows;
      if (isOther || next.columns.length !== chosen.value.columns.length) chosen.value = proposed;
      followed = follows;
    }
    clearTimeout(timer);
    if (next.work && !ended) timer = setTimeout(() => void refresh(), POLL_MILLISECONDS);
  }

  async function refresh(): Promise<void> {
    try {
      take(await ask(importViewSchema, 'GET', `/imports/${id}`));
    } catch (error) {
      failure.value = error;
    }
  }

  /** Asks the server for something about the file; what it answers is shown, a refusal is said. */
  async function act(method: 'POST' | 'PUT', path: string, body?: unknown): Promise<void> {
    message.value = '';
    try {
      take(await ask(importViewSchema, method, `/imports/${id}${path}`, body ?? {}));
    } catch (error) {
      message.value = error instanceof ApiProblem ? error.message : 'This did not work. Try again; the file is still here.';
    }
  }

  const plan = computed((): ImportPlan | null => (view.value?.reading ? { reading: view.value.reading, ...chosen.value } : null));
  const problems = computed((): Problem[] => {
    const analysis = view.value?.analysis;
    if (!analysis || !plan.value || plan.value.columns.length !== analysis.columns.length) return [];
    const found = findProblems(analysis, plan.value, view.value?.follows !== null);
    const { duplicates } = view.value!;
    if (duplicates && duplicates.count > 0 && duplicates.key.join() === chosen.value.key.join()) {
      found.push({
        id: 'duplicate',
        kind: 'duplicate',
        column: duplicates.key.map((position) => chosen.value.columns[position].name).join(', '),
        count: duplicates.count,
        words: `${duplicates.count === 1 ? 'row has' : 'rows have'} a key that an earlier row has`,
        hint: '',
        examples: duplicates.examples,
        choices: ['stop', 'skip'],
        choice: chosen.value.choices.duplicate === 'skip' ? 'skip' : 'stop',
      });
    }
    return found;
  });
  const stopping = computed(() => problems.value.filter(({ choice }) => choice === 'stop'));

  const change = (next: Partial<Chosen>): void => void (chosen.value = { ...chosen.value, ...next });
  const read = (reading: Reading): Promise<void> => {
    const current = view.value?.reading;
    // Another notation is another look at what was found: the file need not be read again.
    const again =
      !current ||
      (['format', 'delimiter', 'encoding', 'headerRow', 'sheet'] as const).some((part) => current[part] !== reading[part]) ||
      current.emptyWords.join() !== reading.emptyWords.join();
    if (!again) {
      view.value = { ...view.value!, reading };
      const found = view.value.analysis ? guessColumns(view.value.analysis, reading) : [];
      const columns = chosen.value.columns.map((column, index) => ({ ...found[index], name: column.name, include: column.include }));
      if (found.length === columns.length) change({ columns });
      return Promise.resolve();
    }
    if (current && (current.headerRow !== reading.headerRow || current.sheet !== reading.sheet || current.delimiter !== reading.delimiter))
      chosen.value = NOTHING_CHOSEN;
    return act('PUT', '/reading', { reading });
  };
  watchDebounced(
    () => chosen.value.key.join(),
    (key) => key !== '' && view.value?.duplicates?.key.join() !== key && void act('POST', '/duplicates', { key: chosen.value.key }),
    { debounce: 300 },
  );

  /** Reads the file as the first one of a source was read; null as it looks. */
  const follow = (source: string | null): Promise<void> =>
    (view.value?.follows?.source ?? null) === source ? Promise.resolve() : act('PUT', '/follow', { source });
  const stage = (target: ImportTarget): Promise<void> => act('POST', '/stage', { plan: plan.value, target });
  const cancel = (): Promise<void> => act('POST', '/cancel');
  onScopeDispose(() => {
    ended = true;
    clearTimeout(timer);
  });
  void refresh();
  return {
    view,
    failure,
    message,
    chosen,
    plan,
    problems,
    stopping,
    change,
    read,
    follow,
    stage,
    cancel,
    refresh,
    forget: () => change(NOTHING_CHOSEN),
  };
}

export const figure = (value: number): string => count.format(value);
