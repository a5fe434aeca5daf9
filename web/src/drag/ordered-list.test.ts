import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import { h } from 'vue';
import OrderedList from './OrderedList.vue';

const NAMES = ['Region', 'Country', 'City', 'Showroom'];
const HEIGHT = 20;

/** A list of names, each line as high as the others, with the event that a drag sends to one of its places. */
function list(items: string[] = NAMES) {
  const wrapper = mount(OrderedList<string>, {
    props: { items, keyOf: (item: string) => item, tag: 'ol' as const },
    slots: { default: ({ item, grip }: { item: string; grip: Record<string, unknown> }) => h('span', { class: 'grip', ...grip }, item) },
    attachTo: document.body,
  });
  const lay = (): void =>
    wrapper.findAll('li').forEach(({ element }, index) => {
      element.getBoundingClientRect = () => ({ left: 0, top: index * HEIGHT, width: 100, height: HEIGHT }) as DOMRect;
    });
  lay();
  const take = (index: number) => wrapper.findAll('.grip')[index].trigger('dragstart');
  const over = (clientY: number) => wrapper.get('ol').trigger('dragover', { clientX: 5, clientY });
  const orders = (): string[][] => (wrapper.emitted('order') ?? []).map(([items]) => items as string[]);
  return { wrapper, take, over, orders };
}

describe('an ordered list', () => {
  it('shows where a line would land, and puts it there when it is let go', async () => {
    const { wrapper, take, over, orders } = list();
    await take(2);
    expect(wrapper.findAll('li').map((one) => one.classes('taken'))).toEqual([false, false, true, false]);
    await over(3);
    expect(wrapper.findAll('li')[0].classes('before')).toBe(true);
    await over(HEIGHT * 4 - 2);
    expect(wrapper.findAll('li')[3].classes('after')).toBe(true);
    await over(HEIGHT + 3);
    await wrapper.get('ol').trigger('drop');
    expect(orders()).toEqual([['Region', 'City', 'Country', 'Showroom']]);
    expect(wrapper.findAll('li.before, li.after, li.taken')).toHaveLength(0);
  });

  it('changes nothing where a line is let go beside itself, outside, or where nothing of its own is dragged', async () => {
    const { wrapper, take, over, orders } = list();
    await take(1);
    await over(HEIGHT * 2 + 3);
    await wrapper.get('ol').trigger('drop');
    await take(1);
    await over(3);
    await wrapper.get('ol').trigger('dragleave');
    expect(wrapper.findAll('li.before')).toHaveLength(0);
    await wrapper.get('ol').trigger('drop');
    await wrapper.findAll('.grip')[1].trigger('dragend');
    // A field of the drawer that is dragged across it.
    await over(3);
    await wrapper.get('ol').trigger('drop');
    expect(orders()).toEqual([]);
    expect(wrapper.findAll('li.taken')).toHaveLength(0);
  });
});
