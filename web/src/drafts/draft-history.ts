import { get, set } from 'idb-keyval';
import { z } from 'zod';

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

const keptSchema = z.object({ revision: z.number(), past: z.array(z.string()), future: z.array(z.string()) });

/** Keeps the history of the draft called `name` in IndexedDB; where there is none, nothing is kept and nothing fails. */
export function historyKeeper<Document extends object>(name: string, schema: z.ZodType<Document>): HistoryKeeper<Document> {
  const key = `bold-compass history of ${name}`;
  const texts = new WeakMap<Document, string>();
  const textOf = (document: Document): string => {
    let text = texts.get(document);
    if (text === undefined) texts.set(document, (text = JSON.stringify(document)));
    return text;
  };
  /** The newest steps that there is room for. */
  const newest = (documents: Document[], room: number): string[] => {
    const kept: string[] = [];
    for (const text of documents.map(textOf).reverse()) {
      room -= text.length;
      if (room < 0) break;
      kept.unshift(text);
    }
    return kept;
  };
  const documents = (kept: string[]): Document[] => kept.map((text) => schema.parse(JSON.parse(text)));
  return {
    async read(revision) {
      try {
        const kept = keptSchema.parse(await get(key));
        return kept.revision === revision ? { past: documents(kept.past), future: documents(kept.future) } : null;
      } catch {
        return null;
      }
    },
    async write(revision, { past, future }) {
      try {
        await set(key, { revision, past: newest(past, MOST_CHARACTERS), future: newest(future, MOST_CHARACTERS / 4) });
      } catch {
        // Undo then ends with this page, as it would without a keeper.
      }
    },
  };
}
