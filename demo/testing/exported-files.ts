import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Export, ExportFormatName } from '@bold-compass/core/exports';
import { writtenCell } from '@bold-compass/core/imports';
import JSZip from 'jszip';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { readSpreadsheet, sheetsOf } from '@bold-compass/server/imports';
import type { DemoApp } from './database.ts';
import { until } from './waiting.ts';

type Agent = Awaited<ReturnType<DemoApp['as']>>;

const asBytes = (response: unknown, done: (error: Error | null, body: Buffer) => void): void => {
  const chunks: Buffer[] = [];
  const sent = response as NodeJS.ReadableStream;
  sent.on('data', (chunk: Buffer) => chunks.push(chunk));
  sent.on('end', () => done(null, Buffer.concat(chunks)));
};

/** What became of an export that is asked for. */
export async function exportOf(agent: Agent, request: object): Promise<Export> {
  const { body } = await agent.post('/api/exports').send(request).expect(200);
  const { id } = body as { id: string };
  let found: Export | undefined;
  await until(async () => {
    found = ((await agent.get('/api/exports').expect(200)).body as Export[]).find((one) => one.id === id);
    return found !== undefined && !['queued', 'active'].includes(found.state);
  });
  return found!;
}

export async function fileOf(agent: Agent, id: string): Promise<Buffer> {
  return (await agent.get(`/api/exports/${id}/file`).buffer(true).parse(asBytes).expect(200)).body as Buffer;
}

/** An export that is asked for, as its file. */
export async function exported(agent: Agent, request: object): Promise<Buffer> {
  const made = await exportOf(agent, request);
  if (made.state !== 'done') throw new Error(`${made.state}: ${made.problem}`);
  return fileOf(agent, made.id);
}

/** The words of each page of a PDF, read by a library that wrote none of it. */
export async function pdfPages(bytes: Uint8Array): Promise<string[][]> {
  const document = await getDocument({ data: new Uint8Array(bytes), useSystemFonts: false, verbosity: 0 }).promise;
  const pages: string[][] = [];
  for (let number = 1; number <= document.numPages; number++) {
    const { items } = await (await document.getPage(number)).getTextContent();
    pages.push(items.flatMap((item) => ('str' in item && item.str.trim() !== '' ? [item.str] : [])));
  }
  await document.destroy();
  return pages;
}

/** The tags of the first page of a PDF, from the outermost in, each once. */
export async function pdfTags(bytes: Uint8Array): Promise<string[]> {
  const document = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise;
  const tags = new Set<string>();
  const visit = (node: object): void => {
    if ('role' in node) tags.add(String(node.role));
    if ('children' in node) (node.children as object[]).forEach(visit);
  };
  visit((await (await document.getPage(1)).getStructTree()) ?? {});
  await document.destroy();
  return [...tags];
}

/** The rows of each sheet of a spreadsheet, read by the reader of imports, which wrote none of it. */
export async function sheetRows(bytes: Uint8Array): Promise<Record<string, string[][]>> {
  const folder = await mkdtemp(join(tmpdir(), 'bold-compass-export-'));
  try {
    const path = join(folder, 'file.xlsx');
    await writeFile(path, bytes);
    const sheets: Record<string, string[][]> = {};
    for (const name of await sheetsOf(path)) {
      sheets[name] = [];
      for await (const batch of readSpreadsheet(path, name))
        sheets[name].push(...batch.map(({ cells }) => cells.map((cell) => writtenCell(cell, '.'))));
    }
    return sheets;
  } finally {
    await rm(folder, { recursive: true });
  }
}

/** The parts of a package by their paths, those of packages within it too. */
export async function packageParts(bytes: Uint8Array): Promise<[path: string, text: string][]> {
  const files = Object.values((await JSZip.loadAsync(bytes)).files).filter(({ dir }) => !dir);
  const parts = files.map(async (file): Promise<[string, string][]> =>
    /\.(xlsx|zip)$/.test(file.name) ? packageParts(await file.async('uint8array')) : [[file.name, await file.async('string')]],
  );
  return (await Promise.all(parts)).flat();
}

/** All texts in a file, whatever its format: of a package, of each of its parts. */
export async function allTexts(format: ExportFormatName, bytes: Buffer): Promise<string> {
  if (format === 'pdf') return (await pdfPages(bytes)).flat().join(' ');
  if (format === 'csv' || format === 'json') return bytes.toString('utf8');
  // Themes and styles name typefaces, some of which are called like places; they hold no word of the data.
  const parts = (await packageParts(bytes)).filter(([path]) => !/\/theme\/|^xl\/styles\.xml$/.test(path));
  return parts.map(([, text]) => text).join('\n');
}
