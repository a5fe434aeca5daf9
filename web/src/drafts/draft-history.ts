import { delMany, get, getMany, setMany } from 'idb-keyval';
import { z } from 'zod';
import { ownKey } from '../shell/own-storage.ts';

/** Steps of a document that can be undone and redone, the last one last. */
export interface History<Document> {
  past: Document[];
  future: Document[];
}

/** Keeps the history of a draft in this browser, so that closing the page loses none of it. */
export interface HistoryKeeper<Document> {
  /** What was kept with this revision of the draft; null where the draft went on without this browser. */
  read(revision: number): Promise<History<Document> | null>;
  write(revision: number, history: History<Document>): Promise<void>;
}

/** Characters of the documents that are kept at most: pictures make some large. */
const MOST_CHARACTERS = 20_000_000;
/** Steps that can be undone at most. */
export const MOST_STEPS = 500;

/** Which steps there are, the last one last. Their documents are kept apart, so that a change writes its own and no other. */
const keptSchema = z.object({ revision: z.number(), past: z.array(z.string()), future: z.array(z.string()) });
type Kept = z.infer<typeof keptSchema>;

/**
 * Keeps the history of the draft called `name` in IndexedDB, for whoever is signed in; where there is none, nothing is kept and
 * nothing fails.
 */
export function historyKeeper<Document extends object>(name: string, schema: z.ZodType<Document>): HistoryKeeper<Document> {
  const key = ownKey(`history of ${name}`);
  const stepKey = (id: string): string => `${key} ${id}`;
  const steps = new WeakMap<Document, { id: string; length: number }>();
  /** Steps that are in the store, once this keeper knows. */
  let stored: Set<string> | null = null;
  /** Texts of documents that are not in the store yet, by step. */
  const fresh = new Map<string, string>();

  function stepOf(document: Document): { id: string; length: number } {
    let step = steps.get(document);
    if (!step) {
      const text = JSON.stringify(document);
      steps.set(document, (step = { id: crypto.randomUUID(), length: text.length }));
      fresh.set(step.id, text);
    }
    return step;
  }
  /** The newest steps that there is room for. */
  function newest(documents: readonly Document[], room: number): string[] {
    const kept: string[] = [];
    for (const document of documents.slice(-MOST_STEPS).reverse()) {
      const { id, length } = stepOf(document);
      room -= length;
      if (room < 0) break;
      kept.unshift(id);
    }
    return kept;
  }
  const storedBefore = (kept: unknown): Set<string> => {
    const { data } = keptSchema.safeParse(kept);
    return new Set(data ? [...data.past, ...data.future] : []);
  };
  async function documentsOf(ids: readonly string[]): Promise<Document[]> {
    const texts = await getMany<string | undefined>(ids.map(stepKey));
    return texts.map((text, index) => {
      if (text === undefined) throw new Error('A step is gone, and with it those before it.');
      const document = schema.parse(JSON.parse(text));
      steps.set(document, { id: ids[index], length: text.length });
      return document;
    });
  }
  return {
    async read(revision) {
      try {
        const kept = keptSchema.parse(await get(key));
        if (kept.revision !== revision) return null;
        const [past, future] = await Promise.all([documentsOf(kept.past), documentsOf(kept.future)]);
        stored = storedBefore(kept);
        return { past, future };
      } catch {
        return null;
      }
    },
    async write(revision, { past, future }) {
      try {
        stored ??= storedBefore(await get(key));
        const kept: Kept = { revision, past: newest(past, MOST_CHARACTERS), future: newest(future, MOST_CHARACTERS / 4) };
        const ids = new Set([...kept.past, ...kept.future]);
        const added = [...fresh].filter(([id]) => ids.has(id)).map(([id, text]): [string, unknown] => [stepKey(id), text]);
        const removed = [...stored].filter((id) => !ids.has(id));
        // The index with what it names, in one transaction; what it no longer names goes after it.
        await setMany([...added, [key, kept]]);
        for (const id of ids) fresh.delete(id);
        stored = ids;
        if (removed.length > 0) await delMany(removed.map(stepKey));
      } catch {
        // Undo then ends with this page, as it would without a keeper.
      }
    },
  };
}
