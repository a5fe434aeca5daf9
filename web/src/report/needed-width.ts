import { inject, onScopeDispose, provide, ref, watch, type InjectionKey, type Ref } from 'vue';

const key: InjectionKey<Ref<number | null>> = Symbol('needed width');

/** The width, in pixels, that what is shown within needs; null where it takes whatever width there is, as charts do. */
export function provideNeededWidth(): Readonly<Ref<number | null>> {
  const needed = ref<number | null>(null);
  provide(key, needed);
  return needed;
}

/** Tells whoever lays it out how wide something has to be, in pixels, so that it need not be made smaller than that asks for. */
export function tellNeededWidth(width: () => number): void {
  const needed = inject(key, null);
  if (!needed) return;
  watch(width, (now) => (needed.value = now), { immediate: true });
  onScopeDispose(() => (needed.value = null));
}
