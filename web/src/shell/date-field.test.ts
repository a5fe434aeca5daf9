import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import { createVuetify } from 'vuetify';
import * as components from 'vuetify/components';
import DateField from './DateField.vue';

function field(modelValue: string) {
  const wrapper = mount(DateField, {
    attachTo: document.body,
    props: { modelValue, label: 'From' },
    global: { plugins: [createVuetify({ components })] },
  });
  const type = async (text: string): Promise<void> => {
    const input = wrapper.find('input');
    input.element.value = text;
    await input.trigger('change');
  };
  const taken = (): unknown[] => (wrapper.emitted('update:modelValue') ?? []).map(([value]) => value);
  return { wrapper, type, taken };
}

describe('a date field', () => {
  it('takes dates as they are written, leap days too, and none', async () => {
    const { type, taken } = field('2026-01-31');
    await type(' 2024-02-29 ');
    await type('');
    expect(taken()).toEqual(['2024-02-29', '']);
  });

  it('says how a date is written where something else is, and takes nothing of it', async () => {
    const { wrapper, type, taken } = field('2026-01-31');
    for (const text of ['2023-02-29', '31/01/2026', 'soon', '2026-1-5']) {
      await type(text);
      expect(wrapper.text()).toContain('Write the date as year-month-day');
      expect(wrapper.find('input').element.value).toBe(text);
    }
    expect(taken()).toEqual([]);
  });

  it('takes the day that is chosen in the calendar, whatever the time zone', async () => {
    const { wrapper, taken } = field('2026-01-31');
    await wrapper.find('button').trigger('click');
    const picker = wrapper.findComponent({ name: 'VDatePicker' });
    expect(picker.props('modelValue')).toEqual(new Date(2026, 0, 31));
    picker.vm.$emit('update:modelValue', new Date(2026, 2, 1));
    expect(taken()).toEqual(['2026-03-01']);
  });
});
