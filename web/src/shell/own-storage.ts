import { useStorage, type RemovableRef } from '@vueuse/core';
import { getActivePinia } from 'pinia';
import { useSession } from '../api/session.ts';

/** Under which key this browser keeps something for whoever is signed in: another person who uses it later meets nothing of it. */
export const ownKey = (name: string): string => `bold-compass ${getActivePinia() ? (useSession().person?.id ?? '') : ''} ${name}`;

/** What this browser keeps for whoever is signed in; it ends with the component that uses it. */
export const useOwnStorage = <Value extends string | object>(
  name: string,
  initial: Value,
  storage: Storage = localStorage,
): RemovableRef<Value> => useStorage<Value>(ownKey(name), initial, storage);
