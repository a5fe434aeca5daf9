import { imageSchema, listSchema, reportSchema } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { brokenLinks } from './broken-links.ts';

const list = (links: object[]) =>
  listSchema.parse({ kind: 'list', id: 'list', title: 'List', fact: 'orders', columns: [{ field: 'country' }], links });
const reportWith = (links: object[], image: object = {}) =>
  reportSchema.parse({
    ...{ schemaVersion: 1, id: 'own', title: 'Own', dataset: 'worked', pages: [{ id: 'first', title: 'First' }] },
    exhibits: [list(links), imageSchema.parse({ kind: 'image', id: 'picture', source: 'data:image/png;base64,AA==', ...image })],
  });

describe('broken links of a report', () => {
  it('are those to reports and pages that are not there, and those that say nothing', () => {
    const links = [
      { label: 'There', report: 'other' },
      { label: 'Gone', report: 'gone' },
      { label: 'Page', page: 'first' },
      { label: 'No page', page: 'second' },
      { label: 'Web', address: 'https://a.example/' },
      { label: 'Nowhere' },
    ];
    expect(brokenLinks(reportWith(links), new Set(['other'])).map(({ exhibit, label, reason }) => [exhibit, label, reason])).toEqual([
      ['list', 'Gone', 'Its report is not there any more.'],
      ['list', 'No page', 'Its page is not there any more.'],
      ['list', 'Nowhere', 'It does not say where it leads.'],
    ]);
  });
  it('are found at pictures too, and none is found where all lead somewhere', () => {
    const found = brokenLinks(reportWith([], { link: { label: 'Gone', report: 'gone' } }), new Set());
    expect(found.map(({ exhibit }) => exhibit)).toEqual(['picture']);
    expect(brokenLinks(reportWith([]), new Set())).toEqual([]);
  });
});
