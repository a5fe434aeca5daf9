import type { RemovableRef } from '@vueuse/core';
import { useOwnStorage } from '../shell/own-storage.ts';

/** How somebody looks at a report while it is composed: kept in the browser. */
interface ComposeView {
  /** Whether the panels beside the page are hidden. */
  fieldsHidden: boolean;
  settingsHidden: boolean;
  /** Whether exhibits have the size of everything else, and not the width that they have for readers. */
  actualSize: boolean;
  /** How large pages are drawn: in percent, or as many beside each other as there is room for. */
  pagesZoom: number | 'two' | 'width';
}

export const useComposeView = (): RemovableRef<ComposeView> =>
  useOwnStorage<ComposeView>('compose view', { fieldsHidden: false, settingsHidden: false, actualSize: false, pagesZoom: 'two' });

/** Width of a panel of which only the button that shows it is left, in pixels. */
export const HIDDEN_WIDTH = 40;
