import { ref } from 'vue';

/** What is being dragged over the page. Browsers tell a drop target nothing of it until it is dropped. */
export type Dragged =
  | { kind: 'field'; name: string; fields: string[] }
  | { kind: 'measure'; name: string }
  | { kind: 'level'; exhibit: string; name: string; fields: string[] }
  | { kind: 'cell'; exhibit: string; index: number }
  | { kind: 'column'; exhibit: string; index: number }
  | { kind: 'group'; exhibit: string; field: string }
  | { kind: 'exhibit'; id: string };

export const dragged = ref<Dragged | null>(null);

export function beginDrag(event: DragEvent, what: Dragged, words: string): void {
  dragged.value = what;
  event.dataTransfer?.setData('text/plain', words);
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move';
}
export const endDrag = (): void => void (dragged.value = null);
