import type { ReportView } from '@bold-compass/core/api';
import { measuresInTexts, scopeWords, textsOf } from '@bold-compass/core/exhibits';
import { datasetSchema, reportSchema, type Report, type Scope } from '@bold-compass/core/model';
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query';
import { flushPromises, mount } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { computed, ref } from 'vue';
import definition from '../../../demo/documents/dataset.json';
import document from '../../../demo/documents/sales-against-target.json';
import { useValues } from './values.ts';
import { wordingOf } from './wording.ts';

const dataset = datasetSchema.parse(definition);
const plain = reportSchema.parse(document);
const view = { dataset, datasets: {}, dataTo: '2026-10-31', edition: 3, revision: 7 } as unknown as ReportView;

/** Texts as the page fills them, and the measures that were asked for. */
function filled(report: Report, scope: Scope = {}, edition: number | null = 3) {
  let fill!: (text: string) => string;
  mount(
    {
      setup() {
        const chosen = ref(scope);
        fill = useValues(
          computed(() => ({ ...view, edition })),
          computed(() => report),
          computed(() => ({ scope: chosen.value, choices: {}, where: null })),
          computed(() => false),
        );
        return () => null;
      },
    },
    { global: { plugins: [[VueQueryPlugin, { queryClient: new QueryClient() }]] } },
  );
  return (text: string): string => fill(text);
}

describe('values in titles and texts', () => {
  const asked: string[][] = [];
  beforeEach(() => {
    asked.length = 0;
    vi.stubGlobal('fetch', (_url: string, { body }: { body: string }) => {
      const { measures } = JSON.parse(body) as { measures: string[] };
      asked.push(measures);
      const values = Object.fromEntries(measures.map((name) => [name, { value: 93_534_210.5, reason: '' }]));
      return Promise.resolve(new Response(JSON.stringify(values), { headers: { 'content-type': 'application/json' } }));
    });
  });
  afterEach(() => void vi.unstubAllGlobals());

  it('are the scope, the day of the data, the edition and what a prompt chooses', () => {
    const fill = filled(plain, { year: ['2026'], region: ['Nordic'] });
    expect(fill('Data as of {data as of}, edition {edition}')).toBe('Data as of 31 October 2026, edition 3');
    expect(fill('{Year} in {region}, {country}')).toBe('2026 in Nordic, every country');
    expect(fill('{scope}')).toBe(
      scopeWords({ report: plain, asked: { scope: { year: ['2026'], region: ['Nordic'] }, choices: {} }, wording: wordingOf(view) }),
    );
    expect(filled(plain, {}, null)('{edition}')).toBe('Draft');
  });

  it('are measures, asked for once with all that any text names, and written in their formats', async () => {
    const report: Report = { ...plain, title: 'Net sales of {net_sales}', note: '{ Net_Sales } and {units}' };
    const fill = filled(report);
    await flushPromises();
    expect(asked).toEqual([['net_sales', 'units']]);
    expect(fill('{NET_SALES}')).toMatch(/^€/);
    expect(fill('{attainment}')).not.toContain('{');
  });

  it('that are none stay as they were written', () => {
    const fill = filled(plain);
    for (const text of ['{nothing}', '{}', '{ }', 'a { b', 'set {1, 2}', '{{year', `{${'x'.repeat(90)}}`]) expect(fill(text)).toBe(text);
    expect(asked).toEqual([]);
  });

  it('are looked for in every text that a report has', () => {
    const report: Report = { ...plain, title: '{net_sales}', subtitle: '{units}', note: '{nothing}' };
    const texts = textsOf(report);
    expect(texts).toEqual(
      expect.arrayContaining([
        '{net_sales}',
        '{units}',
        '{nothing}',
        ...plain.exhibits.flatMap((one) => ('title' in one ? [one.title] : [])),
      ]),
    );
    expect(measuresInTexts(view.dataset, report)).toEqual(['net_sales', 'units']);
  });
});
