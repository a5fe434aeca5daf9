import type { Signals, Watch, Watched } from '@bold-compass/core/api';
import { OTHERS, writtenPath } from '@bold-compass/core/crosstab';
import { VueQueryPlugin, QueryClient } from '@tanstack/vue-query';
import { flushPromises, mount } from '@vue/test-utils';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { computed, defineComponent, h } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { provideReport, type ReportContext } from './context.ts';
import { useWatching } from './watching.ts';

/** The server as far as watched figures go. */
const server = vi.hoisted(() => ({
  watches: [] as unknown[],
  asked: [] as { method: string; path: string; body: unknown }[],
  refusal: '',
}));
vi.mock('../api/client.ts', async (original) => {
  const client = await original<typeof import('../api/client.ts')>();
  return {
    ...client,
    ask(_schema: unknown, method: string, path: string, body: unknown) {
      server.asked.push({ method, path, body });
      if (method === 'GET') return Promise.resolve({ signals: [], watches: server.watches, unseen: 0 } as Signals);
      if (server.refusal)
        return Promise.reject(new client.ApiProblem({ type: '', title: '', status: 422, code: 'too-many', detail: server.refusal }));
      if (method === 'POST') server.watches = [...server.watches, { ...(body as object), id: 'made' }];
      else server.watches = server.watches.filter((one) => `/watches/${(one as Watch).id}` !== path);
      return Promise.resolve(server.watches);
    },
  };
});
beforeEach(() => Object.assign(server, { watches: [], asked: [], refusal: '' }));

const cell = (...side: string[]): Watched => ({ side, top: ['2026'], measure: 'net_sales' });

async function open(address = '/?year=2026&compose=&territory.side=1') {
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/', component: {} }] });
  await router.push(address);
  let watching!: ReturnType<typeof useWatching>;
  const inside = defineComponent({
    setup() {
      watching = useWatching();
      return () => h('div');
    },
  });
  mount(
    {
      setup() {
        provideReport({
          report: computed(() => ({ id: 'trial' })),
          address: computed(() => router.currentRoute.value.query),
          asked: computed(() => ({ scope: { year: ['2026'] }, choices: {}, where: null })),
        } as unknown as ReportContext);
        return () => h(inside);
      },
    },
    { global: { plugins: [router, [VueQueryPlugin, { queryClient: new QueryClient() }]] } },
  );
  await flushPromises();
  return watching;
}

describe('a watched figure', () => {
  it('is known by its place, and watched no longer when it is chosen again', async () => {
    const { watchOf, toggle } = await open();
    expect(watchOf.value('table', cell('Nordic'))).toBeNull();
    await toggle('table', cell('Nordic'), 'Net sales, Nordic');
    await flushPromises();
    expect(watchOf.value('table', cell('Nordic'))).toMatchObject({ id: 'made', label: 'Net sales, Nordic' });
    for (const [exhibit, other] of [
      ['other', cell('Nordic')],
      ['table', cell('Atlantic')],
      ['table', { kpi: 'net_sales' }],
    ] as const)
      expect(watchOf.value(exhibit, other)).toBeNull();
    await toggle('table', cell('Nordic'), 'Net sales, Nordic');
    await flushPromises();
    expect(server.asked.at(-2)).toMatchObject({ method: 'DELETE', path: '/watches/made' });
    expect(watchOf.value('table', cell('Nordic'))).toBeNull();
  });

  it('is another one in another section', async () => {
    const first = await open('/?report.section=Nordic');
    await first.toggle('strip', { kpi: 'net' }, 'Net sales, Nordic');
    await flushPromises();
    expect(first.watchOf.value('strip', { kpi: 'net' })).not.toBeNull();
    for (const elsewhere of ['/?report.section=Atlantic', '/', '/?report.section=Nordic&strip.section=Online']) {
      const { watchOf } = await open(elsewhere);
      expect(watchOf.value('strip', { kpi: 'net' }), elsewhere).toBeNull();
    }
  });

  it('is kept with the address that leads back to it, and under what it was asked', async () => {
    const { toggle } = await open();
    await toggle('table', cell('Nordic'), 'x'.repeat(300));
    const [{ body }] = server.asked.filter(({ method }) => method === 'POST');
    expect(body).toMatchObject({
      report: 'trial',
      exhibit: 'table',
      query: { year: ['2026'], 'territory.side': ['1'] },
      scope: { year: ['2026'] },
    });
    expect(body).not.toHaveProperty('query.compose');
    expect((body as Watch).label).toHaveLength(200);
  });

  it('may stand at all others, which no database could keep as they are', async () => {
    const { toggle, watchOf } = await open();
    await toggle('table', cell(OTHERS), 'All others');
    await flushPromises();
    expect(server.watches).toMatchObject([{ watched: { side: writtenPath([OTHERS]) } }]);
    expect(JSON.stringify(server.watches)).not.toContain('\\u0000');
    expect(watchOf.value('table', cell(OTHERS))).not.toBeNull();
  });

  it('says why it cannot be watched', async () => {
    const { toggle, message, watchOf } = await open();
    server.refusal = 'Fifty figures are watched already. Stop watching one of them.';
    await toggle('table', { kpi: 'net_sales' }, 'Net sales');
    expect(message.value).toBe(server.refusal);
    server.refusal = '';
    await toggle('table', { kpi: 'net_sales' }, 'Net sales');
    await flushPromises();
    expect([message.value, watchOf.value('table', { kpi: 'net_sales' })?.id]).toEqual(['', 'made']);
  });
});
