/** The browser's store, as far as it is met here; it may be missing, as in a private window. */
export const store = { kept: new Map<string, unknown>(), written: [] as string[], isThere: true };

const open = <Value>(work: () => Value): Promise<Value> =>
  store.isThere ? Promise.resolve(structuredClone(work())) : Promise.reject(new Error('no store'));

/** What stands in the place of `idb-keyval` in tests. */
export const keptStore = {
  get: (key: string) => open(() => store.kept.get(key)),
  getMany: (keys: string[]) => open(() => keys.map((key) => store.kept.get(key))),
  setMany: (entries: [string, unknown][]) =>
    open(() => {
      store.written.push(...entries.map(([key]) => key));
      entries.forEach(([key, value]) => store.kept.set(key, structuredClone(value)));
    }),
  delMany: (keys: string[]) => open(() => keys.forEach((key) => store.kept.delete(key))),
};
