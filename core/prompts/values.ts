import { fieldsOf, type PromptOf } from '../model/index.ts';
import type { PromptKind } from './kind.ts';

export const switchKind: PromptKind<PromptOf<'switch'>> = {
  kind: 'switch',
  label: 'Switch',
  about: 'A condition, or a part of a formula, that is on or off.',
  names: ({ filter }) => ({ fields: fieldsOf(filter), measures: [] }),
  title: ({ on }) => on,
  initial: ({ initial }) => (initial ? ['on'] : []),
  startingWith: (own, [state]) => ({ ...own, initial: state === 'on' }),
  isChoice: (_, choice) => choice.length === 0 || (choice.length === 1 && ['on', 'off'].includes(choice[0])),
  condition: ({ filter }, [state]) => (state === 'on' ? filter : null),
  value: (_, [state]) => ({ type: 'boolean', value: Number(state === 'on') }),
  words: ({ on, off }, [state]) => (state === 'on' ? on : off),
  create: ({ id }) => ({ id, kind: 'switch', filter: null, initial: false, on: 'with', off: 'without' }),
};

export const numberKind: PromptKind<PromptOf<'number'>> = {
  kind: 'number',
  label: 'Number',
  about: 'A number that formulas calculate with, as prompt(name).',
  names: () => ({ fields: [], measures: [] }),
  faults: ({ initial, min, max }) =>
    (min !== undefined && initial < min) || (max !== undefined && initial > max)
      ? ['The first value of a number prompt lies outside its limits.']
      : [],
  title: ({ name, id }) => name ?? id,
  initial: ({ initial }) => [String(initial)],
  startingWith: (own, [text]) => ({ ...own, initial: text === undefined ? own.initial : Number(text) }),
  isChoice({ min = -Infinity, max = Infinity }, choice) {
    const [text] = choice;
    const number = Number(text);
    return choice.length === 0 || (choice.length === 1 && text.trim() !== '' && Number.isFinite(number) && number >= min && number <= max);
  },
  value: (_, [text]) => ({ type: 'number', value: text === undefined ? null : Number(text) }),
  words: ({ percent }, [text], { locale }) =>
    text === undefined
      ? 'nothing'
      : new Intl.NumberFormat(locale, { style: percent ? 'percent' : 'decimal', maximumFractionDigits: 6 })
          .format(Number(text))
          .replace('%', '\u202f%'),
  create: ({ id }) => ({ id, kind: 'number', initial: 0 }),
};
