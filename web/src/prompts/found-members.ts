import type { MembersResponse } from '@bold-compass/core/api';

type Member = MembersResponse['members'][number];

const fold = (text: string): string =>
  text
    .normalize('NFD')
    .replaceAll(/\p{Diacritic}/gu, '')
    .toLowerCase();

/** A member as it is offered. */
interface Offered extends Member {
  /** What tells it from others of the same name: what it is in, else its own key; empty where it has no namesake. */
  about: string;
}

/** Members with what tells namesakes apart, those with records first; each group stays in its order. */
export function offered(members: readonly Member[]): Offered[] {
  const named = new Map<string, number>();
  for (const { label } of members) named.set(label, (named.get(label) ?? 0) + 1);
  const all = members.map((one): Offered => {
    const isAlone = named.get(one.label) === 1;
    const within = one.under?.[0]?.join(' › ') ?? '';
    return { ...one, about: isAlone ? '' : [within, one.member === one.label ? '' : one.member].filter((part) => part !== '').join(' · ') };
  });
  return [...all.filter(({ records }) => records > 0), ...all.filter(({ records }) => records === 0)];
}

/** The members that hold every word that is looked for, in any order, whatever their case and accents. */
export function found(members: readonly Offered[], search: string): readonly Offered[] {
  const words = fold(search)
    .split(/\s+/)
    .filter((word) => word !== '');
  if (words.length === 0) return members;
  return members.filter(({ label, about }) => {
    const text = fold(`${label} ${about}`);
    return words.every((word) => text.includes(word));
  });
}
