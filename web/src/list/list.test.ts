import type { ListRow } from '@bold-compass/core/api';
import { datasetSchema, factNamed, listSchema, type List } from '@bold-compass/core/model';
import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import { drawnColumns, totalText, valueText } from './columns.ts';
import ListHead from './ListHead.vue';
import ListLine from './ListLine.vue';

const dataset = datasetSchema.parse(definition);
const list = (part: object = {}): List =>
  listSchema.parse({
    ...{ kind: 'list', id: 'lines', title: 'Lines', fact: 'orders' },
    columns: [
      { field: 'country', heading: 'Land', total: 'count_distinct' },
      { field: 'order_date' },
      { field: 'quantity', total: 'sum' },
      { measure: 'net_sales' },
      { field: 'status', hidden: true },
    ],
    ...part,
  });
const record = (values: (string | number | boolean | null)[], number = 1): ListRow => ({
  kind: 'record',
  number,
  groups: ['Nordic'],
  values,
});

describe('the columns of a list', () => {
  const columns = drawnColumns(dataset, list());
  it('are those that are not hidden, under their own headings, at their place in the document', () => {
    expect(columns.map(({ index, heading, numeric }) => [index, heading, numeric])).toEqual([
      [0, 'Land', false],
      [1, 'Order date', false],
      [2, 'Quantity', true],
      [3, 'Net sales', true],
    ]);
  });
  it('write dates, numbers, yes and no, and what is missing', () => {
    const [country, date, quantity, measure] = columns;
    expect(valueText('2026-03-07', date)).toBe('7 Mar 2026');
    expect(valueText(12_345, quantity)).toBe('12,345');
    expect([valueText(true, country), valueText(false, country), valueText(null, country)]).toEqual(['Yes', 'No', '–']);
    // A measure has no value beside a single record.
    expect(valueText(null, measure)).toBe('');
  });
  it('count in plain numbers, and leave totals empty where none was asked for', () => {
    const [country, date, quantity] = columns;
    expect([totalText(1_017, country), totalText(5, date), totalText(9_000, quantity)]).toEqual(['1,017', '', '9,000']);
  });
  it('show numbers that name something as they are', () => {
    const [named] = drawnColumns(dataset, list({ columns: [{ field: 'quantity' }] }));
    expect([named.numeric, valueText(12_345, named)]).toEqual([false, '12345']);
  });
});

const line = (row: ListRow | undefined, exhibit = list()) =>
  mount(ListLine, {
    props: { exhibit, row, columns: drawnColumns(dataset, exhibit), fact: factNamed(dataset, 'orders'), span: 4 },
    attachTo: document.createElement('tbody'),
  });
const cells = (wrapper: ReturnType<typeof line>): string[] => wrapper.findAll('td').map((cell) => cell.text().replaceAll(/\s+/g, ' '));

describe('a line of a list', () => {
  it('is a record, with its number and the words of its groups where they are wanted', () => {
    expect(cells(line(record(['Sweden', '2026-01-02', 3, null])))).toEqual(['Sweden', '2 Jan 2026', '3', '']);
    const grouped = list({ rowNumbers: true, groups: [{ field: 'region' }], repeatLabels: true });
    expect(cells(line(record(['Sweden', '2026-01-02', 3, null], 1_204), grouped))).toEqual([
      '1,204',
      'Nordic',
      'Sweden',
      '2 Jan 2026',
      '3',
      '',
    ]);
  });
  it('is the header or footer of a group, whose figures stand in one of them only', () => {
    const grouped = list({ groups: [{ field: 'region' }] });
    const group = { depth: 1, groups: ['Nordic'], records: 2_500, totals: [4, null, 7_000, 1_234_000] };
    const header = cells(line({ kind: 'header', ...group }, grouped));
    expect([header[0], header[3]]).toEqual([expect.stringMatching(/^Nordic ?2,500 order lines$/), '']);
    const footer = cells(line({ kind: 'footer', ...group }, grouped));
    expect([footer[0], footer[1], footer[3]]).toEqual(['Nordic total', '4', '7,000']);
  });
  it('is dots until it has come', () => {
    expect(cells(line(undefined))).toEqual(['…']);
  });
  it('shows links and pictures where a column holds them, and never what could run', () => {
    const exhibit = list({
      columns: [
        { field: 'country', as: 'link' },
        { field: 'city', as: 'image' },
      ],
    });
    const sound = line(record(['https://example.org/a', '/pictures/a.png']), exhibit);
    expect(sound.get('a').attributes()).toMatchObject({ href: 'https://example.org/a', rel: 'noopener noreferrer' });
    expect(sound.get('img').attributes()).toMatchObject({ src: '/pictures/a.png', alt: expect.stringMatching(/City/) as string });
    const unsafe = line(record(['javascript:alert(1)', 'javascript:alert(1)']), exhibit);
    expect([unsafe.find('a').exists(), unsafe.find('img').exists()]).toEqual([false, false]);
    expect(unsafe.text()).toContain('javascript:alert(1)');
  });
});

describe('the headings of a list', () => {
  const head = (part: object = {}) => {
    const exhibit = list(part);
    return mount(ListHead, {
      props: {
        ...{ exhibit, columns: drawnColumns(dataset, exhibit), groups: [], composing: false, least: [] },
        order: [
          { field: 'country', direction: 'asc' as const },
          { field: 'quantity', direction: 'desc' as const },
        ],
      },
      global: { stubs: { PromptMenu: true } },
      attachTo: document.createElement('table'),
    });
  };
  it('say how the list is ordered, and which order comes first', () => {
    const wrapper = head();
    expect(wrapper.findAll('th').map((th) => th.attributes('aria-sort'))).toEqual(['ascending', undefined, 'descending', undefined]);
    expect(wrapper.findAll('sub').map((sub) => sub.text())).toEqual(['1', '2']);
  });
  it('order by a field alone, or after the others with a modifier; measures do not order', async () => {
    const wrapper = head();
    const [country] = wrapper.findAll('button');
    await country.trigger('click');
    await country.trigger('click', { shiftKey: true });
    expect(wrapper.emitted('order')).toEqual([
      ['country', false],
      ['country', true],
    ]);
    expect(wrapper.findAll('th').at(-1)!.find('button').exists()).toBe(false);
  });
  it('keep the widths they were given, and while composing take new ones by key', async () => {
    const wrapper = head({ columns: [{ field: 'country', width: 120 }] });
    expect(wrapper.get('th').attributes('style')).toContain('width: 120px');
    await wrapper.setProps({ composing: true });
    const handle = wrapper.get('[role=separator]');
    expect(handle.attributes('aria-label')).toBe('Width of Country');
    await handle.trigger('keydown', { key: 'ArrowRight' });
    await handle.trigger('dblclick');
    expect(wrapper.emitted('resize')).toEqual([
      [0, expect.any(Number)],
      [0, undefined],
    ]);
  });
});
