import { datasetSchema } from '../model/index.ts';
import { plainMemberLabel } from '../format/index.ts';
import { describe, expect, it } from 'vitest';
import definition from '../../demo/documents/dataset.json';
import { scopePhrase } from './member-words.ts';

const dataset = datasetSchema.parse(definition);
const phrase = (field: string, members: string[], underYear = true): string =>
  scopePhrase({ dataset, label: plainMemberLabel(dataset, 'en-GB'), locale: 'en-GB' }, field, members, underYear);

describe('phrases of the scope line', () => {
  it.each([
    ['region', [], 'every region'],
    ['country', ['Sweden'], 'Sweden'],
    ['country', ['Sweden', 'Norway'], 'Sweden and Norway'],
    ['country', ['Sweden', 'Norway', 'Italy', 'Spain'], 'Sweden, Norway and 2 more'],
    ['month', ['2026-01', '2026-02', '2026-03', '2026-04'], 'January to April'],
    ['month', ['2026-03', '2026-01', '2026-02'], 'January to March'],
    ['month', ['2026-01', '2026-03'], 'January and March'],
    ['month', ['2025-12', '2026-01'], 'December 2025 to January 2026'],
    ['year', ['2025', '2026'], '2025 to 2026'],
  ])('%s %j reads %j', (field, members, expected) => {
    expect(phrase(field, members)).toBe(expected);
  });

  it('names the year where nothing before it does', () => {
    expect(phrase('quarter', ['2026-Q2'])).toBe('Q2');
    expect(phrase('quarter', ['2026-Q2'], false)).toBe('Q2 2026');
  });
});
