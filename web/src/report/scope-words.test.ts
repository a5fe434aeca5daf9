import { datasetSchema } from '@bold-compass/core/model';
import { plainMemberLabel } from '@bold-compass/core/format';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import { scopePhrase } from './scope-words.ts';

const dataset = datasetSchema.parse(definition);
const phrase = (field: string, members: string[], underYear = true): string =>
  scopePhrase(dataset, field, members, plainMemberLabel(dataset, 'en-GB'), underYear);

describe('phrases of the scope line', () => {
  it.each([
    ['region', [], 'every region'],
    ['country', ['Sweden'], 'Sweden'],
    ['country', ['Sweden', 'Norway'], 'Sweden and Norway'],
    ['country', ['Sweden', 'Norway', 'Italy', 'Spain'], '4 countries'],
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
