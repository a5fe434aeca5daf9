import type { ReportView, ScopeLabels } from '@bold-compass/core/api';
import { LOCALE, plainMemberLabel, type MemberLabel } from '@bold-compass/core/format';
import type { Choices, Exhibit, Filter, ReaderScope, Report, Scope } from '@bold-compass/core/model';
import type { PromptWording } from '@bold-compass/core/prompts';
import { computed, inject, provide, type ComputedRef, type InjectionKey } from 'vue';
import type { LocationQuery, LocationQueryRaw } from 'vue-router';
import type { FillValues } from './values.ts';
import { wordingOf } from './wording.ts';

/** What every exhibit of an open report shares. */
export interface ReportContext {
  /** Whether the report is being composed, and how an exhibit is changed then. */
  composing: ComputedRef<boolean>;
  change(exhibit: Exhibit): void;
  /** Values that titles and texts show, by what stands in the braces. */
  fill: FillValues;
  view: ComputedRef<ReportView>;
  report: ComputedRef<Report>;
  scope: ComputedRef<Scope>;
  /** Choices of prompts that are no plain lists of members. */
  choices: ComputedRef<Choices>;
  /** Conditions that came along a link beside the scope. */
  where: ComputedRef<Filter | null>;
  /** All that exhibits are asked under. */
  asked: ComputedRef<ReaderScope>;
  /** The address, as far as it is about what is shown here. */
  address: ComputedRef<LocationQuery>;
  /** What choices are put into words with. */
  wording: ComputedRef<PromptWording>;
  /** The draft instead of the edition, and which of its states. */
  draft: ComputedRef<boolean>;
  /** The state of the document: answers about the report as a whole hang on it. */
  version: ComputedRef<string>;
  /** The state of an exhibit: its answers hang on it. */
  versionOf(exhibit: string): string;
  label: ComputedRef<MemberLabel>;
  /** The words for chosen members whose key is not what they are called, as far as they are known. */
  memberLabels: ComputedRef<ScopeLabels>;
  /** Changes the address: a new step for the Back key, or the same step rewritten. */
  navigate(query: LocationQueryRaw, how: 'step' | 'rewrite'): void;
  /** Chooses members; `changed` is the field whose choice may make others impossible. */
  setScope(scope: Scope, changed?: string): void;
  setChoice(prompt: string, choice: readonly string[] | undefined, scope?: Scope): void;
  resetScope(): void;
  /** Opens another page of the application in a sheet at the side. */
  openBeside(href: string, label: string): void;
}

const key: InjectionKey<ReportContext> = Symbol('report');

export function provideReport(context: Omit<ReportContext, 'label' | 'wording'>): ReportContext {
  const label = computed((): MemberLabel => {
    const plain = plainMemberLabel(context.view.value.dataset, LOCALE);
    const known = context.memberLabels.value;
    return (field, member) => (member === null ? undefined : known[field]?.[member]) ?? plain(field, member);
  });
  const wording = computed(() => ({ ...wordingOf(context.view.value), label: label.value }));
  const whole = { ...context, label, wording };
  provide(key, whole);
  return whole;
}

export function useReport(): ReportContext {
  const context = inject(key);
  if (!context) throw new Error('No report is open here.');
  return context;
}
