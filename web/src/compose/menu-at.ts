import { isCellExhibit, type CellExhibit } from '@bold-compass/core/model';
import { computed, nextTick, onMounted, ref, watch, type ComputedRef, type Ref } from 'vue';
import { useCompose } from './context.ts';

/** A menu that opens at a place of a cross-tab as soon as it is there, and says when it is closed. */
export function useMenuAt(
  exhibit: () => CellExhibit,
  close: () => void,
): { isOpen: Ref<boolean>; own: ComputedRef<CellExhibit | undefined> } {
  const { report } = useCompose();
  const isOpen = ref(false);
  onMounted(() => nextTick(() => (isOpen.value = true)));
  watch(isOpen, (open) => !open && close());
  /** The cross-tab as it is written in the document: what is shown may be written in full. */
  const own = computed(() => report.value.exhibits.find((one): one is CellExhibit => isCellExhibit(one) && one.id === exhibit().id));
  return { isOpen, own };
}
