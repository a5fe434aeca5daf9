import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { IMPORT_FORMATS, type Reading } from '@bold-compass/core/imports';
import { afterAll, expect, it } from 'vitest';
import type { FileStart } from './file-start.ts';
import { FILE_FORMATS } from './formats.ts';
import type { Row } from './row.ts';
import { detectReading, openRows } from './rows.ts';
import { textChunks } from './text-chunks.ts';

/** A format that nobody has heard of, added by the records that DEVELOPERS.md lists and nothing else: cells of eight characters. */

const WIDTH = 8;

async function* readFixed(path: string, { encoding }: Reading): AsyncGenerator<Row[], void, undefined> {
  let text = '';
  for await (const chunk of textChunks(path, encoding)) text += chunk;
  const [, ...lines] = text.trimEnd().split('\n');
  yield lines.map((line, index) => ({
    row: index + 1,
    cells: Array.from({ length: Math.ceil(line.length / WIDTH) }, (_, at) => line.slice(at * WIDTH, (at + 1) * WIDTH).trim()),
  }));
}

const folder = mkdtempSync(join(tmpdir(), 'bold-compass-format-'));
afterAll(() => rmSync(folder, { recursive: true }));

function addFixedWidth(): void {
  Object.assign(IMPORT_FORMATS, {
    fixed: { label: 'Fixed width', settings: ['encoding', 'headerRow'], namesInRecords: false, knowsNumbers: false, leavesOutEnds: true },
  });
  const { delimited, ...others } = FILE_FORMATS;
  // Any text is delimited, so that comes last.
  Reflect.deleteProperty(FILE_FORMATS, 'delimited');
  Object.assign(FILE_FORMATS, {
    ...others,
    fixed: {
      async detect(start: FileStart) {
        const { encoding, text } = await start.text();
        return text.startsWith('#fixed\n') ? { encoding } : null;
      },
      rows: readFixed,
    },
    delimited,
  });
}

it('is known by its beginning and read into rows, and others are known as before', async () => {
  addFixedWidth();
  const of = async (name: string, text: string): Promise<{ format: string; headerRow: number; header: string[]; cells: string[][] }> => {
    const path = join(folder, name);
    writeFileSync(path, text);
    const { reading } = await detectReading(path, name);
    const { header, rows } = await openRows(path, reading);
    const cells: string[][] = [];
    for await (const batch of rows) cells.push(...batch.map((row) => row.cells));
    return { format: reading.format, headerRow: reading.headerRow, header, cells };
  };
  expect(await of('a.txt', '#fixed\nshop    amount  note\nOslo    12      new\nPisa    7\n')).toEqual({
    ...{ format: 'fixed', headerRow: 1, header: ['shop', 'amount', 'note'] },
    cells: [
      ['Oslo', '12', 'new'],
      ['Pisa', '7', ''],
    ],
  });
  expect(await of('a.csv', 'shop;amount\nOslo;12\n')).toMatchObject({
    format: 'delimited',
    header: ['shop', 'amount'],
    cells: [['Oslo', '12']],
  });
  expect(await of('a.json', '[{"shop":"Oslo","amount":12}]')).toMatchObject({
    format: 'json',
    header: ['shop', 'amount'],
    cells: [['Oslo', '12']],
  });
});
