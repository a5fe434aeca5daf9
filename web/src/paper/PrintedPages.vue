<script setup lang="ts">
import { onKeyStroke } from '@vueuse/core';
import { ApiProblem } from '../api/client.ts';
import { useLeaving } from '../shell/go-on.ts';
import { usePagesRequest } from './pages-request.ts';
import { print, printedPages, type PagesRequest } from './printed-pages.ts';

/** Prints the pages of the report around it, by Ctrl+P too: what the browser would print of a screen is no report. */
const props = defineProps<{ settled: () => Promise<void> }>();
const emit = defineEmits<{ tell: [words: string] }>();
const request = usePagesRequest();
const leaving = useLeaving();
let isBusy = false;

/** Of what is asked for; of the report as it stands where nothing is. */
async function start(own?: PagesRequest): Promise<void> {
  if (isBusy) return;
  isBusy = true;
  emit('tell', 'Laying out the pages to print …');
  try {
    await props.settled();
    print(await printedPages(own ?? request.value, leaving));
    emit('tell', '');
  } catch (failure) {
    if (!leaving.aborted) emit('tell', failure instanceof ApiProblem ? failure.message : 'The pages could not be laid out. Try again.');
  } finally {
    isBusy = false;
  }
}
onKeyStroke('p', (event) => {
  if (!(event.ctrlKey || event.metaKey) || event.shiftKey || event.altKey) return;
  event.preventDefault();
  void start();
});
defineExpose({ start });
</script>

<template>
  <!-- The browser prints from a frame of its own. -->
  <span hidden />
</template>
