import type { ReportView } from '@bold-compass/core/api';
import { datasetSchema, reportSchema, type Report, type Scope } from '@bold-compass/core/model';
import { initialScope } from '@bold-compass/core/prompts';
import { flushPromises, mount } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { computed, defineComponent, h } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import definition from '../../../demo/documents/dataset.json';
import document from '../../../demo/documents/sales-against-target.json';
import { useReaderScope } from './reader-scope.ts';

const report: Report = reportSchema.parse(document);
const dataset = datasetSchema.parse(definition);

/** What the server says is left of a scope; it answers when it is told to, as late as that is. */
type Possible = (scope: Scope) => { scope: Scope; dropped: { field: string; members: string[]; labels: string[] }[] };

/** A report as a reader has it open at an address. */
async function open({
  address = '/',
  own = report,
  composing = false,
  possible,
}: { address?: string; own?: Report; composing?: boolean; possible?: Possible } = {}) {
  const asked: { path: string; body: { scope: Scope; changed: string } }[] = [];
  const answers: (() => void)[] = [];
  vi.stubGlobal('fetch', (path: string, { body }: { body: string }) => {
    const parsed = JSON.parse(body) as { scope: Scope; changed: string };
    asked.push({ path, body: parsed });
    return new Promise((resolve) => {
      answers.push(() =>
        resolve({ ok: true, json: () => Promise.resolve(possible?.(parsed.scope) ?? { scope: parsed.scope, dropped: [] }) }),
      );
    });
  });
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/', component: {} }] });
  await router.push(address);
  let scope!: ReturnType<typeof useReaderScope>;
  const view = { report: own, dataset, edition: 1, start: { scope: initialScope(own) } } as unknown as ReportView;
  mount(
    defineComponent({
      setup() {
        scope = useReaderScope(
          computed(() => own),
          () => view,
          () => composing,
        );
        return () => h('div');
      },
    }),
    { global: { plugins: [router] } },
  );
  const answer = async (index: number): Promise<void> => {
    answers[index]();
    await flushPromises();
  };
  return { scope, router, asked, answer };
}
afterEach(() => {
  vi.unstubAllGlobals();
  localStorage.clear();
});

describe('what a reader chose', () => {
  it('is what the report starts with until there is something in the address', async () => {
    expect((await open()).scope.scope.value).toEqual({ year: ['2026'] });
    expect((await open({ address: '/?region=Nordic' })).scope.scope.value).toEqual({ region: ['Nordic'] });
  });

  it('goes into the address at once, and keeps how exhibits stand', async () => {
    const { scope, router } = await open({ address: '/?year=2026&territory.side=1' });
    scope.setScope({ year: ['2025'] });
    await flushPromises();
    expect(router.currentRoute.value.query).toEqual({ year: ['2025'], 'territory.side': '1' });
    expect(scope.asked.value).toMatchObject({ scope: { year: ['2025'] }, where: null });
  });

  it('loses what another choice makes impossible, and says so', async () => {
    const possible: Possible = () => ({
      scope: { year: ['2026'], region: ['Atlantic'] },
      dropped: [{ field: 'country', members: ['Sweden', 'Norway'], labels: ['Sweden', 'Norway'] }],
    });
    const { scope, asked, answer, router } = await open({ address: '/?year=2026&region=Nordic&country=Sweden&country=Norway', possible });
    scope.setScope({ year: ['2026'], region: ['Atlantic'], country: ['Sweden', 'Norway'] }, 'region');
    await flushPromises();
    expect(asked).toMatchObject([{ path: `/api/reports/${report.id}/possible`, body: { changed: 'region', draft: false } }]);
    // Until it is told, the choice stands as it was made.
    expect(scope.scope.value.country).toEqual(['Sweden', 'Norway']);
    await answer(0);
    expect(scope.scope.value).toEqual({ year: ['2026'], region: ['Atlantic'] });
    expect(scope.notes.value).toEqual(['Sweden and Norway were dropped from country: nothing is left there under the new choice.']);
    expect(router.currentRoute.value.query).not.toHaveProperty('country');
    scope.setScope({ year: ['2026'] });
    expect(scope.notes.value).toEqual([]);
  });

  it('is not taken back by an answer about an earlier choice', async () => {
    const possible: Possible = (scope) => ({
      scope: { region: scope.region },
      dropped: [{ field: 'country', members: ['Sweden'], labels: ['Sweden'] }],
    });
    const { scope, answer } = await open({ address: '/?region=Nordic&country=Sweden', possible });
    scope.setScope({ region: ['Atlantic'], country: ['Sweden'] }, 'region');
    scope.setScope({ region: ['Nordic'], country: ['Sweden'] }, 'region');
    await flushPromises();
    await answer(0);
    expect(scope.scope.value).toEqual({ region: ['Nordic'], country: ['Sweden'] });
    expect(scope.notes.value).toEqual([]);
  });

  it('is asked of no one where no other prompt hangs on it', async () => {
    const { scope, asked } = await open({ address: '/?year=2026' });
    scope.setScope({ year: ['2025'] }, 'year');
    await flushPromises();
    expect(asked).toEqual([]);
  });

  it('is there again on the next visit, where a prompt says so', async () => {
    const remembering = {
      ...report,
      prompts: report.prompts.map((prompt) =>
        prompt.kind === 'members' && prompt.fields.includes('region') ? { ...prompt, start: 'last_visit' as const } : prompt,
      ),
    };
    const first = await open({ own: remembering });
    first.scope.setScope({ year: ['2025'], region: ['Nordic'] });
    await flushPromises();
    const next = await open({ own: remembering });
    expect(next.scope.scope.value).toEqual({ year: ['2026'], region: ['Nordic'] });
  });
});
