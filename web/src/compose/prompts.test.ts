import { datasetSchema, reportSchema, type Prompt, type Report } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import { askNoLonger, askReader } from './prompts.ts';

const dataset = datasetSchema.parse(definition);
const empty = reportSchema.parse({ schemaVersion: 1, id: 'trial', title: 'Trial', dataset: dataset.name, exhibits: [] });
const fieldsOf = (prompt: Prompt): string[] => ('fields' in prompt ? prompt.fields : []);
const words = ({ scopeLine }: Report): string => scopeLine.map((piece) => ('text' in piece ? piece.text : `[${piece.prompt}]`)).join('');

describe('what the reader is asked', () => {
  it('begins a sentence, and goes on in it', () => {
    let report = askReader(empty, dataset, ['region']);
    expect([report.prompts.map(fieldsOf), words(report)]).toEqual([[['region']], 'Showing [region].']);
    report = askReader(report, dataset, ['channel']);
    expect(words(report)).toBe('Showing [region], channel [channel].');
  });
  it('follows a coarser level of the same dimension, so that choices depend on each other', () => {
    let report = askReader(empty, dataset, ['region']);
    report = askReader(report, dataset, ['country']);
    expect(report.prompts).toHaveLength(1);
    expect(fieldsOf(report.prompts[0])).toEqual(['region', 'country']);
    // A coarser one that comes later is asked for by itself.
    const turned = askReader(askReader(empty, dataset, ['country']), dataset, ['region']);
    expect(turned.prompts.map(fieldsOf)).toEqual([['country'], ['region']]);
  });
  it('goes with its words, and leaves no sentence without prompts', () => {
    const both = askReader(askReader(empty, dataset, ['region']), dataset, ['channel']);
    expect(words(askNoLonger(both, 'channel'))).toBe('Showing [region].');
    expect(words(askNoLonger(both, 'region'))).toBe('Showing channel [channel].');
    expect(askNoLonger(askNoLonger(both, 'region'), 'channel')).toMatchObject({ prompts: [], scopeLine: [] });
    const nested = askReader(askReader(empty, dataset, ['region']), dataset, ['country']);
    expect(fieldsOf(askNoLonger(nested, 'country').prompts[0])).toEqual(['region']);
  });
  it('has an id of its own for each prompt', () => {
    const twice = askReader(
      { ...empty, prompts: [{ id: 'channel', kind: 'members', fields: ['segment'], multiple: true, initial: {} }] },
      dataset,
      ['channel'],
    );
    expect(twice.prompts.map(({ id }) => id)).toEqual(['channel', 'channel-2']);
  });
});
