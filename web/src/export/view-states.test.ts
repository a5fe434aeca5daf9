import { axisOver, chartSchema, crosstabSchema, listSchema, reportSchema, sectionsSchema, type Report } from '@bold-compass/core/model';
import { workedDataset } from '@bold-compass/core/testing/worked-example';
import { describe, expect, it } from 'vitest';
import type { LocationQuery } from 'vue-router';
import { levelsToOpen, viewStates, type ReportView } from './view-states.ts';

const table = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'T', side: axisOver(['region', 'country']), top: axisOver(['year']) },
  cells: [{ measure: 'net' }],
});
const chart = chartSchema.parse({
  ...{
    kind: 'chart',
    id: 'chart',
    title: 'C',
    side: axisOver(['country']),
    top: { fields: [] },
    cells: [{ measure: 'net' }],
    chart: { kind: 'bar' },
  },
});
const inStep = chartSchema.parse({ ...chart, id: 'step', chart: { kind: 'bar', inStepWith: 'table' } });
const list = listSchema.parse({ kind: 'list', id: 'list', title: 'L', fact: 'orders', columns: [{ field: 'country' }], page: 'second' });
const report: Report = reportSchema.parse({
  ...{ schemaVersion: 1, id: 'r', title: 'R', dataset: workedDataset.name, exhibits: [table, chart, inStep, list] },
  pages: [
    { id: 'first', title: 'First' },
    { id: 'second', title: 'Second' },
  ],
});
const view = (query: LocationQuery = {}, own: Report = report): ReportView => ({
  ...{ report: own, datasetOf: () => workedDataset, asked: { scope: {}, choices: {}, where: null }, query, inEachSection: false },
});

describe('how exhibits stand for an export', () => {
  it('is as they stand on the screen: opened, ordered, hidden', () => {
    const query = {
      ...{ 'table.side': ['0', 'North'], 'table.side-order': ['desc', 'net', ''], 'chart.hidden': 'net', 'chart.period': '2026' },
      'list.order': ['country', 'desc'],
    };
    const states = viewStates(view(query), [], { to: 'screen' });
    expect(states.table.state).toMatchObject({
      side: { open: { depth: 0, exceptions: ['North'] }, order: { by: 'measure', measure: 'net', direction: 'desc', at: [] } },
    });
    expect(states.chart.state).toMatchObject({ hidden: ['net'], period: '2026', side: { open: { depth: 0, exceptions: [] } } });
    expect(states.list.state).toEqual({ order: [{ field: 'country', direction: 'desc' }] });
    // A chart in step stands open as its table does.
    expect(states.step.state).toMatchObject({ side: { open: { depth: 0, exceptions: ['North'] } } });
  });

  it('is opened to a level, or wholly, where the reader asks for it; charts stay as they are', () => {
    expect(levelsToOpen(view(), [])).toEqual(['region', 'country']);
    expect(levelsToOpen(view(), ['second'])).toEqual([]);
    const query = { 'table.side': ['0', 'North'] };
    const opened = (to: Parameters<typeof viewStates>[2]): unknown => viewStates(view(query), [], to).table.state;
    expect(opened({ to: 'level', label: 'country' })).toMatchObject({ side: { open: { depth: 1, exceptions: [] } } });
    expect(opened({ to: 'level', label: 'region' })).toMatchObject({ side: { open: { depth: 0, exceptions: [] } } });
    expect(opened({ to: 'all' })).toMatchObject({ side: { open: { depth: 1, exceptions: [] } } });
    // A level that it does not have opens nothing.
    expect(opened({ to: 'level', label: 'city' })).toMatchObject({ side: { open: { depth: 0, exceptions: ['North'] } } });
    expect(viewStates(view(query), [], { to: 'all' }).chart.state).toMatchObject({ side: { open: { depth: 0 } } });
  });

  it('is asked under what is chosen in the exhibit that it follows', () => {
    const following = { ...report, exhibits: [table, { ...list, page: 'first', follows: 'table' }] };
    const query = { 'table.cell': ['North', '2026', 'net'] };
    const { asked } = viewStates(view(query, following), [], { to: 'screen' }).list;
    expect(JSON.stringify(asked)).toContain('North');
    expect(viewStates(view({}, following), [], { to: 'screen' }).list.asked).toBeUndefined();
  });

  it('is that of the exhibits of the pages asked for', () => {
    expect(Object.keys(viewStates(view(), ['second'], { to: 'screen' }))).toEqual(['list']);
    expect(Object.keys(viewStates(view(), ['first'], { to: 'screen' }))).toEqual(['table', 'chart', 'step']);
  });

  it('is as they stand in a section, where each is exported', () => {
    const sections = sectionsSchema.parse({ field: 'region', scales: 'common' });
    const sectioned = reportSchema.parse({ ...report, sections });
    const each = { ...view({}, sectioned), inEachSection: true };
    const opened = viewStates(each, [], { to: 'level', label: 'country' });
    expect(opened.table.state).toMatchObject({ side: { open: { depth: 0 } } });
    expect(levelsToOpen(each, ['first'])).not.toContain('region');
    expect(levelsToOpen(view({}, sectioned), ['first'])).toContain('region');
    expect([opened.chart.scales, opened.table.scales]).toEqual(['common', undefined]);
    expect(viewStates({ ...each, query: { 'report.scales': 'own' } }, [], { to: 'screen' }).chart.scales).toBe('own');
  });

  it('is asked under no figure that is chosen in one section, where each is exported', () => {
    const following = reportSchema.parse({ ...report, exhibits: [table, { ...chart, follows: 'table' }] });
    const query = { 'table.cell': ['Nordic', '', 'net'] };
    const own = { ...following, sections: sectionsSchema.parse({ field: 'channel' }) };
    expect(viewStates(view(query, following), [], { to: 'screen' }).chart.asked).toBeDefined();
    expect(viewStates({ ...view(query, own), inEachSection: true }, [], { to: 'screen' }).chart.asked).toBeUndefined();
    expect(viewStates(view(query, own), [], { to: 'screen' }).chart.asked).toBeDefined();
  });
});
