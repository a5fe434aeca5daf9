import { readFileSync } from 'node:fs';
import { documentFaults } from '@bold-compass/core/exhibits';
import { datasetSchema, type Dataset } from '@bold-compass/core/model';

/** Holds files of reports against the schema, themselves, and datasets that are given. Ends with 1 where one is not sound. */

function read(path: string): { document: unknown } | { fault: string } {
  try {
    return { document: JSON.parse(readFileSync(path, 'utf8')) as unknown };
  } catch (error) {
    return {
      fault: error instanceof SyntaxError ? `This is not JSON: ${error.message}.` : `This cannot be read: ${(error as Error).message}.`,
    };
  }
}

const files: string[] = [];
const datasets: Dataset[] = [];
const faults: [path: string, faults: string[]][] = [];
const given = process.argv.slice(2);
for (let at = 0; at < given.length; at++) {
  if (given[at] !== '--dataset') {
    files.push(given[at]);
    continue;
  }
  const path = given[++at] ?? '';
  const found = read(path);
  const parsed = 'document' in found ? datasetSchema.safeParse(found.document) : null;
  if (parsed?.success) datasets.push(parsed.data);
  else {
    const why = parsed?.error?.issues.map(({ path: place, message }) => `${place.join('.')}: ${message}.`);
    faults.push([path, 'fault' in found ? [found.fault] : (why ?? [])]);
  }
}
if (files.length === 0) {
  process.stderr.write('Name files of reports: npm run check -- [--dataset DATASET.json] REPORT.json …\n');
  process.exit(2);
}
for (const path of files) {
  const found = read(path);
  faults.push([path, 'fault' in found ? [found.fault] : documentFaults(found.document, datasets)]);
}
for (const [path, own] of faults)
  process.stdout.write(own.length === 0 ? `ok    ${path}\n` : `${own.map((fault) => `FAULT ${path}: ${fault}`).join('\n')}\n`);
process.exit(faults.some(([, own]) => own.length > 0) ? 1 : 0);
