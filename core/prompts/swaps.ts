import { findField, findMeasure, type PromptOf } from '../model/index.ts';
import type { PromptKind } from './kind.ts';

export const measureKind: PromptKind<PromptOf<'measure'>> = {
  kind: 'measure',
  label: 'Measure to show',
  about: 'Another measure in the place of the first.',
  names: ({ measures }) => ({ fields: [], measures }),
  title: () => 'Measure',
  initial: () => [],
  isChoice: ({ measures }, choice) => choice.length <= 1 && choice.every((name) => measures.includes(name)),
  swap({ measures: [first] }, [chosen]) {
    // Where both are shown, each stands in the place of the other.
    const swapped = chosen && chosen !== first ? [[first, chosen] as const, [chosen, first] as const] : [];
    return { measures: new Map(swapped), fields: [] };
  },
  value: ({ measures: [first] }, [chosen]) => ({ type: 'text', value: chosen ?? first }),
  words: ({ measures: [first] }, [chosen], { dataset }) => {
    const name = chosen ?? first;
    return (findMeasure(dataset, name)?.label ?? name).toLowerCase();
  },
  create({ id, dataset, about }) {
    const first = findMeasure(dataset, about ?? '') ?? dataset.measures.find(({ hidden }) => !hidden);
    const others = dataset.measures.filter(({ hidden, fact }) => !hidden && fact === first?.fact);
    const names = [...new Set([first, ...others].flatMap((one) => one?.name ?? []))].slice(0, 4);
    return names.length < 2 ? null : { id, kind: 'measure', measures: names };
  },
};

export const dimensionKind: PromptKind<PromptOf<'dimension'>> = {
  kind: 'dimension',
  label: 'Dimension to show',
  about: 'Other levels in the place of the first.',
  names: ({ choices }) => ({ fields: choices.flatMap(({ fields }) => fields), measures: [] }),
  faults: ({ choices }) =>
    new Set(choices.map(({ label }) => label)).size < choices.length ? ['Two choices of a prompt have the same name.'] : [],
  title: () => 'Shown by',
  initial: () => [],
  isChoice: ({ choices }, choice) => choice.length <= 1 && choice.every((label) => choices.some((one) => one.label === label)),
  swap({ choices }, [label]) {
    const [first] = choices;
    const chosen = choices.find((one) => one.label === label) ?? first;
    if (chosen === first) return { measures: new Map(), fields: [] };
    return { measures: new Map(), fields: [{ from: first.fields, to: chosen.fields }] };
  },
  value: ({ choices: [first] }, [label]) => ({ type: 'text', value: label ?? first.label }),
  words: ({ choices: [first] }, [label]) => (label ?? first.label).toLowerCase(),
  create({ id, dataset, about }) {
    const dimensions = dataset.dimensions.filter(({ kind }) => kind === 'table');
    const own = about ? findField(dataset, about)?.dimension : undefined;
    const ordered = [...dimensions].sort((a, b) => Number(b.name === own?.name) - Number(a.name === own?.name)).slice(0, 3);
    const choices = ordered.map(({ label, levels }) => ({ label, fields: levels.slice(0, 2).map(({ name }) => name) }));
    return choices.length < 2 ? null : { id, kind: 'dimension', choices };
  },
};
