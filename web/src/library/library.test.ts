import type { ReportSummary, Thumbnail } from '@bold-compass/core/api';
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query';
import { flushPromises, mount } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick, ref } from 'vue';
import ReportFolders from './ReportFolders.vue';
import ReportThumbnail from './ReportThumbnail.vue';
import { useTurn } from './turns.ts';

const summary = (id: string, folder: string): ReportSummary => ({
  ...{ id, folder, title: `Report ${id}`, note: '', dataset: 'd', edition: 1, kinds: [] },
  ...{ publishedAt: null, updatedAt: '2026-11-03T08:00:00Z', favourite: false, openedAt: null },
});

describe('reports in their folders', () => {
  const folders = (reports: ReportSummary[]) =>
    mount(ReportFolders, {
      props: { reports },
      slots: { default: '<template #default="{ report }">{{ report.title }}</template>' },
      attachTo: document.body,
    });
  const texts = (wrapper: ReturnType<typeof folders>): string[] => wrapper.findAll('li').map((line) => line.text());

  it('stand under the heading of their folder, those of none under “Reports”', async () => {
    const wrapper = folders([summary('a', ''), summary('b', 'Sales'), summary('c', 'Sales'), summary('d', '')]);
    await nextTick();
    expect(texts(wrapper)).toEqual(['Reports', 'Report a', 'Report d', 'Sales', 'Report b', 'Report c']);
    expect(wrapper.findAll('h2').map((heading) => heading.text())).toEqual(['Reports', 'Sales']);
    await wrapper.setProps({ reports: [summary('c', 'Sales')] });
    await nextTick();
    expect(texts(wrapper)).toEqual(['Sales', 'Report c']);
  });

  it('are drawn as far as they are in view where there are thousands, each told its place among all', async () => {
    const wrapper = folders(Array.from({ length: 2_000 }, (_, index) => summary(String(index), `Folder ${index % 40}`)));
    await nextTick();
    const lines = wrapper.findAll('li');
    expect(lines.length).toBeLessThan(60);
    expect(lines.every((line) => line.attributes('aria-setsize') === '2040')).toBe(true);
    // Forty headings of 58 pixels and two thousand reports of 128 at first guess.
    expect(wrapper.find('ul').attributes('style')).toContain(`height: ${40 * 58 + 2_000 * 128}px`);
  });
});

describe('a small picture of a report', () => {
  let observe: (seen: boolean) => void = () => undefined;
  const fetched = vi.fn();
  const drawn = (title: string): Thumbnail => ({
    title,
    parts: [
      { width: 12, title: '', figures: [{ label: 'Net', value: '€ 93 M', state: 'on' }] },
      {
        width: 6,
        title: 'By region',
        table: { columns: ['2026'], lines: [{ label: 'Nordic', depth: 0, strong: true, cells: ['4,909'] }] },
      },
      { width: 6, title: '', picture: `asset:${'a'.repeat(64)}` },
      { width: 12, title: '', text: 'Words' },
    ],
  });
  let title = 'Sales';
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal(
      'IntersectionObserver',
      class {
        constructor(callback: (entries: { isIntersecting: boolean }[]) => void) {
          observe = (isIntersecting) => callback([{ isIntersecting }]);
        }
        observe(): void {}
        disconnect(): void {}
      },
    );
    vi.stubGlobal('fetch', (url: string) => {
      fetched(url);
      return Promise.resolve(new Response(JSON.stringify(drawn(title)), { headers: { 'content-type': 'application/json' } }));
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
    fetched.mockClear();
    title = 'Sales';
  });
  const picture = () =>
    mount(ReportThumbnail, {
      props: { report: 'sales', version: '1', kinds: ['kpis', 'crosstab', 'toString'] },
      global: { plugins: [[VueQueryPlugin, { queryClient: new QueryClient() }]] },
      attachTo: document.body,
    });
  const wait = async (): Promise<void> => {
    await vi.advanceTimersByTimeAsync(400);
    await flushPromises();
  };

  it('says what is on its pages, and asks for nothing, until it is seen', async () => {
    const wrapper = picture();
    await wait();
    expect(wrapper.text()).toBe('KPI strip, cross-tab');
    observe(false);
    await wait();
    expect(fetched).not.toHaveBeenCalled();
  });

  it('is one request, and then the first page made small', async () => {
    const wrapper = picture();
    await wait();
    observe(true);
    await wait();
    await wait();
    expect(fetched.mock.calls).toEqual([['/api/reports/sales/thumbnail']]);
    for (const words of ['Sales', 'Net', '€ 93 M', 'By region', '2026', 'Nordic', '4,909', 'Words'])
      expect(wrapper.text()).toContain(words);
    expect(wrapper.find('img').attributes('src')).toBe(`/api/reports/sales/pictures/${'a'.repeat(64)}`);
    expect(wrapper.find('[aria-hidden=true][inert]').exists()).toBe(true);
  });

  it('is asked for anew once its report was changed, and gives no title until then', async () => {
    const wrapper = picture();
    await wait();
    observe(true);
    await wait();
    await wait();
    expect(wrapper.emitted('update:title')?.at(-1)).toEqual(['Sales']);
    title = 'Moved';
    await wrapper.setProps({ version: '2' });
    expect(wrapper.emitted('update:title')?.at(-1)).toEqual([undefined]);
    await wait();
    expect(wrapper.emitted('update:title')?.at(-1)).toEqual(['Moved']);
    expect(fetched).toHaveBeenCalledTimes(2);
  });
});

describe('what can wait', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('takes turns, one at a time, in the order in which it was wanted', async () => {
    const wanted = [ref(false), ref(false), ref(false)];
    const turns: { value: boolean }[] = [];
    mount(
      { setup: () => (turns.push(...wanted.map((one) => useTurn(one))), () => null) },
      { global: { plugins: [[VueQueryPlugin, { queryClient: new QueryClient() }]] } },
    );
    const had = (): boolean[] => turns.map(({ value }) => value);
    await vi.advanceTimersByTimeAsync(500);
    expect(had()).toEqual([false, false, false]);
    wanted[2].value = true;
    wanted[0].value = true;
    await vi.advanceTimersByTimeAsync(20);
    expect(had()).toEqual([false, false, true]);
    await vi.advanceTimersByTimeAsync(300);
    expect(had()).toEqual([true, false, true]);
  });
});
