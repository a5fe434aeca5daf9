<script setup lang="ts">
import { keptAssetSchema } from '@bold-compass/core/api';
import { MOST_ASSET_BYTES, PICTURE_TYPES, type Image, type Text } from '@bold-compass/core/model';
import { computed, ref } from 'vue';
import { ApiProblem, ask } from '../../api/client.ts';
import { datasetOf, useCompose } from '../context.ts';
import { dataUrlOf } from '../data-url.ts';
import LinkList from './LinkList.vue';
import SettingsSection from './SettingsSection.vue';

/** A text, or a picture. */
const props = defineProps<{ exhibit: Text | Image }>();
const compose = useCompose();
const { change, report } = compose;
const dataset = computed(() => datasetOf(compose, undefined));
const asked = computed(() => report.value.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : [])));
const levels = computed(() =>
  dataset.value.dimensions.flatMap(({ levels: own }) => [...own].map(({ name, label }) => ({ value: name, title: label }))),
);
/** The members that a click on the picture leads to. */
function choose(field: string | null | undefined, members: readonly string[]): void {
  if (props.exhibit.kind === 'image') change({ ...props.exhibit, chooses: field ? { [field]: [...members] } : undefined });
}
const message = ref('');
const sending = ref(false);

/** A file as a data URL; throws where a browser can show no picture of it. */
async function readPicture(file: File): Promise<string> {
  const url = await dataUrlOf(file);
  const picture = new window.Image();
  picture.src = url;
  await picture.decode();
  return url;
}

async function takePicture(chosen: File | File[] | null): Promise<void> {
  const file = Array.isArray(chosen) ? chosen[0] : chosen;
  if (!file || props.exhibit.kind !== 'image') return;
  message.value = '';
  if (!(PICTURE_TYPES as readonly string[]).includes(file.type))
    message.value = 'This is no picture that a report can hold. Choose PNG, JPEG, WebP, GIF or SVG.';
  else if (file.size > MOST_ASSET_BYTES) message.value = 'This picture has more than five megabytes. Make it smaller and choose it again.';
  if (message.value) return;
  sending.value = true;
  try {
    const url = await readPicture(file);
    const { source } = await ask(keptAssetSchema, 'POST', '/assets', { source: url });
    // What was said of it in the meantime stays.
    if (props.exhibit.kind === 'image') change({ ...props.exhibit, source });
  } catch (failure) {
    message.value = failure instanceof ApiProblem ? failure.message : 'This file holds no picture that can be shown. Choose another one.';
  } finally {
    sending.value = false;
  }
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
    <v-file-input label="Picture file" :accept="PICTURE_TYPES.join(',')" :loading="sending" @update:model-value="takePicture" />
    <p v-if="message" class="failure" role="alert">{{ message }}</p>
    <v-text-field
      label="Alternative text"
      maxlength="300"
      :model-value="exhibit.words"
      @change="exhibit.kind === 'image' && change({ ...exhibit, words: ($event.target as HTMLInputElement).value.trim() })"
    />
    <LinkList
      :links="exhibit.link ? [exhibit.link] : []"
      :report="report"
      :dataset="dataset"
      :fields="asked"
      :records="false"
      :most="1"
      @change="exhibit.kind === 'image' && change({ ...exhibit, link: $event[0], chooses: $event[0] ? exhibit.chooses : undefined })"
    />
    <template v-if="exhibit.link">
      <v-autocomplete
        label="Filter field"
        clearable
        :model-value="Object.keys(exhibit.chooses ?? {})[0] ?? null"
        :items="levels"
        @update:model-value="choose($event, [])"
      />
      <v-combobox
        v-if="exhibit.chooses"
        label="Members"
        multiple
        chips
        closable-chips
        :model-value="Object.values(exhibit.chooses)[0] ?? []"
        @update:model-value="choose(Object.keys(exhibit.kind === 'image' ? (exhibit.chooses ?? {}) : {})[0], $event)"
      />
    </template>
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
