import { axisOver, crosstabSchema, datasetSchema, reportSchema, type Crosstab, type Exhibit } from '@bold-compass/core/model';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils';
import { createVuetify } from 'vuetify';
import * as components from 'vuetify/components';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { computed, defineComponent, h, ref, shallowRef, type Component } from 'vue';
import definition from '../../../../demo/documents/dataset.json';
import { provideCompose, type Selection } from '../context.ts';
import TooLarge from '../TooLarge.vue';
import CrosstabSettings from './CrosstabSettings.vue';
import LevelSettings from './LevelSettings.vue';

/** The margin's settings, over a report that is changed as the page would change it. */

const dataset = datasetSchema.parse(definition);
const MEMBERS: Record<string, string[]> = { year: ['2025', '2026'], quarter: ['2026-Q1', '2026-Q2'], region: ['Atlantic', 'Nordic'] };
/** What was asked of the server. */
let asked: { field: string; scope: object }[] = [];
beforeEach(() => {
  asked = [];
  vi.stubGlobal('fetch', (url: string, { body }: { body?: string }) => {
    if (url === '/api/reports') return Promise.resolve(Response.json([]));
    const question = JSON.parse(body ?? '{}') as (typeof asked)[number];
    asked.push(question);
    const members = MEMBERS[question.field].map((member) => ({ member, label: member, records: 1 }));
    return Promise.resolve(Response.json({ members, record: { one: 'record', many: 'records' } }));
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  document.body.innerHTML = '';
});

const table = (part: object = {}): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', side: axisOver(['region', 'country']), top: axisOver(['year', 'quarter']) },
    cells: [{ measure: 'net_sales' }],
    ...part,
  });

function open(component: Component, exhibit: Crosstab, props: object = {}) {
  const own = shallowRef<Crosstab>(exhibit);
  const report = computed(() =>
    reportSchema.parse({ schemaVersion: 1, id: 'trial', title: 'Trial', dataset: dataset.name, exhibits: [own.value] }),
  );
  const selection = ref<Selection | null>(null);
  const page = mount(
    defineComponent({
      setup() {
        provideCompose({
          ...{ written: ref(null), insertion: ref(null) },
          ...{ report, selection, datasets: computed(() => ({ [dataset.name]: dataset })), setReport: () => undefined },
          selected: computed(() => own.value),
          change: (next: Exhibit) => void (own.value = next as Crosstab),
        });
        return () => h(component, { ...props, exhibit: own.value });
      },
    }),
    { global: { plugins: [VueQueryPlugin, createVuetify({ components })] }, attachTo: document.body },
  );
  return { page, own, selection };
}
/** A control by its label, and what it holds. */
interface Control {
  value: unknown;
  setValue(value: unknown): Promise<void>;
}
const KINDS = ['VAutocomplete', 'VSelect', 'VCheckbox', 'VSwitch', 'VTextField'];
/** The control that a label names, as the framework shows it; sections that are folded are opened first. */
async function control(page: VueWrapper, label: string): Promise<Control> {
  for (const title of page.findAll('.v-expansion-panel-title[aria-expanded=false]')) await title.trigger('click');
  await flushPromises();
  const found = KINDS.flatMap((name) => page.findAllComponents({ name })).find(
    (one) => one.props('label') === label || one.attributes('aria-label') === label || one.find(`[aria-label="${label}"]`).exists(),
  );
  if (!found) throw new Error(`No control is called “${label}”.`);
  return {
    value: found.props('modelValue') as unknown,
    async setValue(value) {
      if (found.vm.$options.name === 'VTextField') {
        await found.get('input').setValue(value);
        await found.get('input').trigger('change');
      } else await found.setValue(value);
      await flushPromises();
    },
  };
}
const press = (page: VueWrapper, words: string): Promise<void> =>
  page
    .findAll('button')
    .find((one) => one.text() === words)!
    .trigger('click');

describe('the settings of a level', () => {
  it('order it by a measure in a column that is found level by level', async () => {
    const { page, own } = open(LevelSettings, table(), { edge: 'side', field: 'region' });
    await (await control(page, 'Sort by')).setValue('measure net_sales');
    expect(own.value.side.levels.region.order).toEqual({ by: 'measure', measure: 'net_sales', at: [], direction: 'desc' });
    await flushPromises();
    await (await control(page, 'Sort by values in: year')).setValue('2026');
    await flushPromises();
    // The quarters offered are those of the year that was chosen.
    expect(asked.at(-1)).toMatchObject({ field: 'quarter', scope: { year: ['2026'] } });
    await (await control(page, 'Sort by values in: quarter')).setValue('2026-Q2');
    await (await control(page, 'Direction')).setValue('asc');
    expect(own.value.side.levels.region.order).toMatchObject({ at: ['2026', '2026-Q2'], direction: 'asc' });
    expect(page.findAll('.step').map((one) => one.text())).toEqual([expect.stringContaining('2026'), expect.stringContaining('Q2 2026')]);
    await page.get('[aria-label="Not 2026"]').trigger('click');
    expect(own.value.side.levels.region.order).toMatchObject({ at: [] });
    await (await control(page, 'Sort by')).setValue('');
    expect(own.value.side.levels.region.order).toBeUndefined();
  });

  it('order it by hand, one step at a time', async () => {
    const { page, own } = open(LevelSettings, table(), { edge: 'side', field: 'region' });
    await (await control(page, 'Sort by')).setValue('hand');
    await flushPromises();
    await page.get('[aria-label="Move Nordic up"]').trigger('click');
    expect(own.value.side.levels.region.order).toEqual({ by: 'hand', members: ['Nordic', 'Atlantic'] });
  });

  it('pick the largest, never fewer than one, with all others or without', async () => {
    const { page, own } = open(LevelSettings, table(), { edge: 'side', field: 'region' });
    await (await control(page, 'Limit members')).setValue(true);
    expect(own.value.side.levels.region.pick).toEqual({
      count: 10,
      from: 'top',
      measure: 'net_sales',
      at: [],
      per: 'parent',
      others: true,
    });
    await (await control(page, 'Number')).setValue('0');
    await (await control(page, 'Keep')).setValue('bottom');
    await (await control(page, 'Group the others')).setValue(false);
    expect(own.value.side.levels.region.pick).toMatchObject({ count: 1, from: 'bottom', others: false });
    await (await control(page, 'Limit members')).setValue(false);
    expect(own.value.side.levels.region.pick).toBeUndefined();
  });

  it('place subtotals as usual for the layout until something else is chosen', async () => {
    const place = async (exhibit: Crosstab, edge: string, field: string): Promise<unknown> =>
      (await control(open(LevelSettings, exhibit, { edge, field }).page, 'Subtotal')).value;
    expect(await place(table(), 'side', 'region')).toBe('before');
    expect(await place(table(), 'top', 'year')).toBe('after');
    expect(await place(table({ side: axisOver(['region', 'country'], { layout: 'columns' }) }), 'side', 'region')).toBe('after');
    const { page, own } = open(LevelSettings, table(), { edge: 'side', field: 'region' });
    await (await control(page, 'Subtotal')).setValue('none');
    expect(own.value.side.levels.region).toMatchObject({ subtotal: false });
    await (await control(page, 'Subtotal')).setValue('after');
    expect(own.value.side.levels.region).toMatchObject({ subtotal: true, subtotalPlace: 'after' });
  });

  it('move a field outward and inward, over to the other edge, and out', async () => {
    const { page, own, selection } = open(LevelSettings, table(), { edge: 'side', field: 'country' });
    await press(page, 'Move up a level');
    expect(own.value.side.fields).toEqual(['country', 'region']);
    await press(page, 'Move across the top');
    expect([own.value.side.fields, own.value.top.fields]).toEqual([['region'], ['year', 'quarter', 'country']]);
    expect(selection.value?.part).toEqual({ kind: 'level', edge: 'top', field: 'country' });
    const other = open(LevelSettings, table(), { edge: 'top', field: 'quarter' });
    await press(other.page, 'Remove Quarter');
    expect(other.own.value.top.fields).toEqual(['year']);
  });
});

describe('the settings of a cross-tab', () => {
  it('keep members by a measure, against the average of all or a number', async () => {
    const { page, own } = open(CrosstabSettings, table());
    await (await control(page, 'Add condition on members of')).setValue('country');
    expect(own.value.conditions).toEqual([{ field: 'country', measure: 'net_sales', op: 'gt', value: 'average' }]);
    await (await control(page, 'Compare with')).setValue('number');
    await (await control(page, 'Comparison')).setValue('ge');
    await (await control(page, 'Number of the condition')).setValue('1000000');
    expect(own.value.conditions).toEqual([{ field: 'country', measure: 'net_sales', op: 'ge', value: 1_000_000 }]);
    await press(page, 'Remove');
    expect(own.value.conditions).toEqual([]);
  });
  it('set totals, lines of what is shown, and the look', async () => {
    const { page, own } = open(CrosstabSettings, table());
    await (await control(page, 'Total of the rows')).setValue('never');
    await (await control(page, 'Median of visible columns')).setValue(true);
    await (await control(page, 'Style')).setValue('ledger');
    await (await control(page, 'Banding')).setValue('region');
    await (await control(page, 'Missing values as')).setValue('n/a');
    expect(own.value).toMatchObject({
      ...{ style: 'ledger', banding: 'region', blank: 'n/a' },
      ...{ side: { total: 'never' }, top: { summaries: ['median'] } },
    });
    await (await control(page, 'Median of visible columns')).setValue(false);
    expect(own.value.top.summaries).toEqual([]);
  });
});

describe('what would be too large', () => {
  const huge = { rows: 12_345, columns: 4, edge: 'side', depth: 1 };
  it('is told with its size, and can be picked from, moved, or drawn all the same', async () => {
    const { page, own } = open(TooLarge, table({ side: axisOver(['region', 'customer']) }), huge);
    expect(page.text()).toContain('This would make 12,345 rows and 4 columns');
    await press(page, 'Top 25, all others as one');
    expect(own.value.side.levels.customer.pick).toMatchObject({ count: 25, per: 'all', measure: 'net_sales', others: true });
    await press(page, 'Move Customer across the top');
    expect([own.value.side.fields, own.value.top.fields]).toEqual([['region'], ['year', 'quarter', 'customer']]);
    await press(page, 'Show anyway');
    expect(page.getComponent(TooLarge).emitted('draw')).toHaveLength(1);
  });
  it('offers no picking where no measure is there to pick by', () => {
    const { page } = open(TooLarge, table({ cells: [] }), huge);
    expect(page.text()).not.toContain('Only the largest');
  });
});
