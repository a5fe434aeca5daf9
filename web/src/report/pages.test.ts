import { reportSchema, textSchema, type Report } from '@bold-compass/core/model';
import { mount } from '@vue/test-utils';
import { afterEach, describe, expect, it } from 'vitest';
import { computed, defineComponent, h, nextTick } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { ownKey } from '../shell/own-storage.ts';
import { useClipboard } from '../compose/clipboard.ts';
import { moveAmong } from '../prompts/move-among.ts';
import { pageQuery, usePages } from './pages.ts';

const text = (id: string, page?: string) => textSchema.parse({ kind: 'text', id, text: id, page });
const reportOf = (pages: string[], exhibits: ReturnType<typeof text>[]): Report =>
  reportSchema.parse({
    ...{ schemaVersion: 1, id: 'trial', title: 'Trial', dataset: 'hollin-marsh', exhibits },
    pages: pages.map((id) => ({ id, title: id })),
  });
afterEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the pages of a report', () => {
  async function open(report: Report, query = {}) {
    const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/', component: {} }] });
    await router.push({ path: '/', query });
    let pages!: ReturnType<typeof usePages>;
    mount(
      defineComponent({
        setup() {
          pages = usePages(computed(() => report));
          return () => h('div');
        },
      }),
      { global: { plugins: [router] } },
    );
    const shown = (): string[] => pages.exhibits.value.map(({ id }) => id);
    return { router, pages, shown };
  }
  const report = reportOf(['first', 'second'], [text('unplaced'), text('one', 'first'), text('two', 'second')]);

  it('are turned by the address; what is on no page is on the first', async () => {
    const { router, pages, shown } = await open(report);
    expect([pages.page.value, shown()]).toEqual(['first', ['unplaced', 'one']]);
    await router.push({ query: pageQuery('second') });
    expect([pages.page.value, shown()]).toEqual(['second', ['two']]);
    await router.push({ query: pageQuery('no such page') });
    expect(pages.page.value).toBe('first');
  });

  it('may be none: then all there is is shown', async () => {
    const { pages, shown } = await open(reportOf([], [text('one'), text('two')]));
    expect([pages.page.value, shown()]).toEqual([undefined, ['one', 'two']]);
  });
});

describe('an exhibit that was copied', () => {
  it('is there in another report, unless what is kept is no exhibit', async () => {
    const key = ownKey('copied exhibit');
    const { copied, copy } = useClipboard();
    expect(copied.value).toBeNull();
    copy(text('one'), 'hollin-marsh');
    await nextTick();
    expect(useClipboard().copied.value).toEqual({ exhibit: text('one'), dataset: 'hollin-marsh' });
    for (const broken of ['no JSON', '{"exhibit":{"kind":"nothing"},"dataset":"x"}', 'null']) {
      localStorage.setItem(key, broken);
      window.dispatchEvent(new StorageEvent('storage', { key, newValue: broken, storageArea: localStorage }));
      await nextTick();
      expect(copied.value).toBeNull();
    }
  });
});

describe('arrow keys in a prompt', () => {
  it('move among the search field and the choices, and stay at the ends', () => {
    document.body.innerHTML = '<div><input /><button role="option">A</button><button role="option">B</button><button>Else</button></div>';
    const list = document.body.querySelector<HTMLElement>('div')!;
    const press = (key: string): string => {
      moveAmong(list, new KeyboardEvent('keydown', { key, cancelable: true }));
      return (document.activeElement as HTMLElement).textContent || (document.activeElement as HTMLElement).tagName;
    };
    list.querySelector('input')!.focus();
    expect(['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowUp', 'ArrowUp', 'ArrowUp', 'x'].map(press)).toEqual([
      ...['A', 'B', 'B', 'A'],
      ...['INPUT', 'INPUT', 'INPUT'],
    ]);
    moveAmong(null, new KeyboardEvent('keydown', { key: 'ArrowDown' }));
  });
});
