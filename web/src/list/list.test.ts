import type { ListRow } from '@bold-compass/core/api';
import { listColumns, listLine } from '@bold-compass/core/table';
import { datasetSchema, factNamed, listSchema, type List } from '@bold-compass/core/model';
import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
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

const line = (row: ListRow | undefined, exhibit = list()) => {
  const columns = listColumns(dataset, exhibit);
  return mount(ListLine, {
    props: {
      line: row && listLine(exhibit, factNamed(dataset, 'orders'), columns, row, 'en-GB'),
      ...{ columns, numbered: exhibit.rowNumbers, grouped: exhibit.groups.length > 0 },
    },
    attachTo: document.createElement('tbody'),
  });
};
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
        ...{ exhibit, columns: listColumns(dataset, exhibit), groups: [], composing: false, least: [] },
        order: [
          { field: 'country', direction: 'asc' as const },
          { field: 'quantity', direction: 'desc' as const },
        ],
      },
      global: { stubs: { PromptPhrase: true } },
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
