import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { datasetSchema, reportSchema } from '../model/index.ts';
import { documentFaults } from './index.ts';

const folder = new URL('../../demo/documents/', import.meta.url);
const read = (name: string): object => JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as object;
const dataset = datasetSchema.parse(read('dataset.json'));
const reports = readdirSync(folder).filter((name) => name !== 'dataset.json');
const sales = read('sales-against-target.json') as { exhibits: { id: string; kind: string }[] };
const table = sales.exhibits.find(({ kind }) => kind === 'crosstab')!;

describe('a report document', () => {
  it.each(reports)('of the demo is sound, with its dataset and without: %s', (name) => {
    expect(documentFaults(read(name), [dataset])).toEqual([]);
    expect(documentFaults(read(name))).toEqual([]);
  });

  it('says all that does not fit, each with its place', () => {
    expect(documentFaults(7)).toEqual([expect.stringMatching(/^The document: /)]);
    const faults = documentFaults({ ...sales, title: '', exhibits: [{ ...table, width: 40 }] });
    expect(faults.map((fault) => fault.split(':')[0])).toEqual(['title', 'exhibits.0.width']);
  });

  it('says what it names within itself that is not there', () => {
    const faults = documentFaults({
      ...sales,
      pages: [
        { id: 'one', title: 'One' },
        { id: 'one', title: 'Again' },
      ],
      scopeLine: [{ prompt: 'nothing' }],
      exhibits: [{ ...table, page: 'two', follows: 'nobody' }],
    });
    expect(faults).toEqual([
      'Two pages have the id "one".',
      'The scope line names a prompt "nothing" that is not there.',
      expect.stringMatching(/is on a page "two" that is not there\.$/),
      expect.stringMatching(/follows an exhibit "nobody" that is not there\.$/),
    ]);
  });

  it('says what its dataset does not have, where that is given', () => {
    const document = { ...sales, exhibits: [{ ...table, cells: [{ measure: 'nothing' }] }] };
    expect(documentFaults(document)).toEqual([]);
    expect(documentFaults(document, [dataset])).toEqual(['There is no measure called "nothing" in Hollin & Marsh.']);
    // An exhibit over a dataset that is not given is not held against another one.
    expect(documentFaults({ ...sales, exhibits: [{ ...table, dataset: 'other', cells: [{ measure: 'nothing' }] }] }, [dataset])).toEqual(
      [],
    );
  });
});

it('the published JSON Schema is that of the documents', async () => {
  const schema = {
    $id: 'urn:bold-compass:report',
    title: 'Report',
    ...z.toJSONSchema(reportSchema, { io: 'input', unrepresentable: 'any', reused: 'ref' }),
  };
  await expect(`${JSON.stringify(schema, null, 2)}\n`).toMatchFileSnapshot('../../docs/report.schema.json');
});
