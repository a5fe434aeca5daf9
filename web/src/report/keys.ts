import { onKeyStroke } from '@vueuse/core';

/** What the keys of an open report do. */
interface ReportKeys {
  focusScope(): void;
  help(): void;
  /** Whether there is a way back, which is gone then. */
  back(): boolean;
  /** Whether there are steps to undo and redo. */
  undoes(): boolean;
  undo(): void;
  redo(): void;
}

export const isTyping = (event: KeyboardEvent): boolean =>
  (event.target as HTMLElement).closest('input, textarea, [contenteditable]') !== null;

/** The keys of an open report; they are left alone while somebody types. */
export function useReportKeys(keys: ReportKeys): void {
  const listen = (key: string | string[], act: (event: KeyboardEvent) => boolean | void): void =>
    void onKeyStroke(key, (event) => {
      if (isTyping(event)) return;
      if (act(event) !== false) event.preventDefault();
    });
  listen('/', () => keys.focusScope());
  listen('?', () => keys.help());
  listen('Backspace', () => keys.back());
  listen(['z', 'Z'], (event) => {
    if (!keys.undoes() || !(event.ctrlKey || event.metaKey)) return false;
    if (event.shiftKey) keys.redo();
    else keys.undo();
    return true;
  });
}
