import { axisOver, crosstabSchema, datasetSchema, reportSchema, type Crosstab, type Exhibit } from '@bold-compass/core/model';
import { branchPart, groupKey } from '@bold-compass/core/crosstab';
import { flushPromises, mount } from '@vue/test-utils';
import { createVuetify } from 'vuetify';
import * as components from 'vuetify/components';
import { afterEach, describe, expect, it } from 'vitest';
import { computed, defineComponent, h, nextTick, ref, shallowRef, type ComponentPublicInstance } from 'vue';
import definition from '../../../demo/documents/dataset.json';
import { provideCompose, type Selection } from './context.ts';
import type { Entry } from './exhibit-kinds.ts';
import FieldSection from './FieldSection.vue';
import MemberMenu from './MemberMenu.vue';

const dataset = datasetSchema.parse(definition);
const table = (part: object = {}): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', side: axisOver(['region', 'country']), top: axisOver(['year']) },
    cells: [{ measure: 'net_sales' }],
    ...part,
  });
afterEach(() => void (document.body.innerHTML = ''));
const items = (): HTMLElement[] => [...document.body.querySelectorAll<HTMLElement>('[role=menuitem]')];
const press = async (words: string): Promise<void> => {
  items()
    .find(({ textContent }) => textContent.trim() === words)!
    .click();
  await flushPromises();
};

describe('the menu of a member', () => {
  async function open(exhibit: Crosstab, edge: 'side' | 'top', path: (string | null)[]) {
    const own = shallowRef(exhibit);
    const report = computed(() =>
      reportSchema.parse({ schemaVersion: 1, id: 'trial', title: 'Trial', dataset: dataset.name, exhibits: [own.value] }),
    );
    const selection = ref<Selection | null>(null);
    const header = { path, labels: path.map(String) };
    mount(
      defineComponent({
        setup() {
          provideCompose({
            ...{ written: ref(null), insertion: ref(null), report, selection, setReport: () => undefined },
            ...{ datasets: computed(() => ({ [dataset.name]: dataset })), selected: computed(() => own.value) },
            change: (next: Exhibit) => void (own.value = next as Crosstab),
          });
          return () => h(MemberMenu, { exhibit: own.value, edge, header, target: [10, 10] });
        },
      }),
      { global: { plugins: [createVuetify({ components })] }, attachTo: document.body },
    );
    await flushPromises();
    await nextTick();
    return { own, selection };
  }
  const words = (): string[] => items().map(({ textContent }) => textContent.trim());

  it('puts it together with others, and shows the group in the margin', async () => {
    const { own, selection } = await open(table(), 'side', ['Nordic', 'Sweden']);
    expect(words()).toEqual(['Group with others …', 'Settings of the level']);
    await press('Group with others …');
    const [group] = own.value.side.levels.country.groups!;
    expect(group).toMatchObject({ label: 'Sweden and others', members: ['Sweden'], instead: true });
    expect(selection.value).toEqual({ exhibit: 'table', part: { kind: 'level', edge: 'side', field: 'country', group: group.id } });
  });

  const grouped = table({
    top: axisOver(['year'], {
      levels: { year: { subtotal: true, groups: [{ id: 'before', label: 'Before', members: ['2023'], instead: true }] } },
    }),
  });
  it('puts it into a group that is there, across the top too', async () => {
    const { own } = await open(grouped, 'top', ['2024']);
    expect(words()).toEqual(['Group with others …', 'Add to Before', 'Settings of the level']);
    await press('Add to Before');
    expect(own.value.top.levels.year.groups![0].members).toEqual(['2023', '2024']);
  });

  it('of a group leads to what it is made of, and nothing is grouped that is no member', async () => {
    const { selection } = await open(grouped, 'top', [groupKey(grouped.top.levels.year.groups![0])]);
    expect(words()).toEqual(['Edit group', 'Settings of the level']);
    await press('Edit group');
    expect(selection.value?.part).toMatchObject({ field: 'year', group: 'before' });
    document.body.innerHTML = '';
    await open(table(), 'side', ['Nordic', null]);
    expect(words()).toEqual(['Settings of the level']);
    document.body.innerHTML = '';
    await open(table(), 'side', ['Nordic', branchPart('line', 'Strings')]);
    expect(words()).toEqual([]);
  });
});

describe('a section of the field drawer', () => {
  const entry = (name: string, part: Partial<Entry> = {}): Entry =>
    ({ kind: 'field', name, label: name, fields: [name], ...part }) as Entry;
  const section = (entries: Entry[], used: string[] = []) =>
    mount(FieldSection, {
      props: { group: 'Territory', entries, isFolded: false, used: new Set(used), actions: () => [], hint: 'Nothing.' },
      global: { plugins: [createVuetify({ components })] },
      attachTo: document.body,
    });
  const told = (wrapper: ReturnType<typeof section>): [string, boolean][] =>
    wrapper.findAll('button.field').map((one) => [one.text().replace(/^[·⌥Σ]\s*/, ''), one.classes('used')]);

  it('says what is shown already, and what a field is called now', async () => {
    const wrapper = section([entry('region'), entry('country')], ['region']);
    expect(told(wrapper)).toEqual([
      ['region', true],
      ['country', false],
    ]);
    await wrapper.setProps({ used: new Set(['country']) });
    expect(told(wrapper)).toEqual([
      ['region', false],
      ['country', true],
    ]);
    await wrapper.setProps({ entries: [entry('country', { label: 'Land' }), entry('city'), entry('region')] });
    expect(told(wrapper).map(([label]) => label)).toEqual(['Land', 'city', 'region']);
    await wrapper.setProps({ isFolded: true });
    expect(told(wrapper)).toEqual([]);
    await wrapper.get('button.fold').trigger('click');
    expect(wrapper.emitted('fold')).toHaveLength(1);
  });

  it('draws the one button anew that says something else, and no other menu', async () => {
    const updated: string[] = [];
    const names = Array.from({ length: 30 }, (_, index) => `field_${index}`);
    const wrapper = mount(FieldSection, {
      props: {
        ...{ group: 'Territory', entries: names.map((name) => entry(name)), isFolded: false, hint: 'Nothing.' },
        ...{ used: new Set<string>(), actions: () => [] },
      },
      global: {
        plugins: [createVuetify({ components })],
        mixins: [
          {
            updated(this: ComponentPublicInstance) {
              updated.push(this.$options.name ?? '');
            },
          },
        ],
      },
      attachTo: document.body,
    });
    updated.length = 0;
    await wrapper.setProps({ used: new Set(['field_7']) });
    expect(wrapper.findAll('button.used').map((one) => one.text())).toEqual([expect.stringContaining('field_7') as string]);
    expect(updated.filter((name) => name === 'VOverlay').length).toBeLessThanOrEqual(1);
    expect(updated.filter((name) => name === 'VBtn').length).toBeLessThanOrEqual(1);
  });
});
