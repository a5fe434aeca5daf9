import type { RemovableRef } from '@vueuse/core';
import { useOwnStorage } from '../shell/own-storage.ts';

/** What stands beside the page while a report is composed, and whether it is hidden: kept in the browser. */
export interface HiddenPanels {
  fields: boolean;
  settings: boolean;
}

export const useHiddenPanels = (): RemovableRef<HiddenPanels> =>
  useOwnStorage<HiddenPanels>('hidden panels', { fields: false, settings: false });

/** Width of a panel of which only the button that shows it is left, in pixels. */
export const HIDDEN_WIDTH = 40;
