<script setup lang="ts">
import type { Image, Text } from '@bold-compass/core/model';
import { ref } from 'vue';
import { useCompose } from '../context.ts';
import SettingsSection from './SettingsSection.vue';

/** A text, or a picture. */
const props = defineProps<{ exhibit: Text | Image }>();
const { change } = useCompose();
const MOST_BYTES = 1_000_000;
const KINDS = ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/svg+xml'];
const message = ref('');

function takePicture(files: FileList | null): void {
  const file = files?.[0];
  const { exhibit } = props;
  if (!file || exhibit.kind !== 'image') return;
  message.value = '';
  if (!KINDS.includes(file.type)) message.value = 'This is no picture that a report can hold. Choose PNG, JPEG, WebP, GIF or SVG.';
  else if (file.size > MOST_BYTES) message.value = 'This picture has more than one megabyte. Make it smaller and choose it again.';
  if (message.value) return;
  const reader = new FileReader();
  reader.onload = () => change({ ...exhibit, source: String(reader.result) });
  reader.onerror = () => (message.value = 'This file could not be read. Choose it again.');
  reader.readAsDataURL(file);
}
</script>

<template>
  <SettingsSection v-if="exhibit.kind === 'text'" title="Words" open>
    <v-textarea
      class="words"
      :model-value="exhibit.text"
      rows="12"
      maxlength="20000"
      aria-label="Words in Markdown"
      @change="exhibit.kind === 'text' && change({ ...exhibit, text: ($event.target as HTMLTextAreaElement).value })"
    />
    <p class="muted">
      Markdown: # heading, **bold**, *italic*, - list, [words](address). Values stand in braces: {scope}, {data as of}, {edition}, a
      prompt’s field, or a measure such as {net_sales}.
    </p>
  </SettingsSection>
  <SettingsSection v-else title="Picture" open>
    <label class="stacked"
      >File
      <input
        type="file"
        :accept="KINDS.join(',')"
        aria-label="Picture file"
        @change="takePicture(($event.target as HTMLInputElement).files)"
    /></label>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>
    <v-text-field
      label="Alternative text"
      maxlength="300"
      :model-value="exhibit.words"
      @change="exhibit.kind === 'image' && change({ ...exhibit, words: ($event.target as HTMLInputElement).value.trim() })"
    />
  </SettingsSection>
</template>

<style scoped>
.words {
  width: 100%;
  resize: vertical;
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12.5px;
  line-height: 1.4;
}
.muted {
  font-size: 12.5px;
  margin: 0;
}
.failure {
  color: var(--off-text);
  margin: 0;
}
</style>
