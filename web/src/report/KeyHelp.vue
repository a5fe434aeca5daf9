<script setup lang="ts">
/** The keys, shown with "?". */
const shown = defineModel<boolean>({ required: true });
const keys = [
  ['Arrow keys', 'move in the cross-tab; on a label, right and left open and close'],
  ['E, Shift+E', 'open this member, or all members of its level'],
  ['C', 'close this member'],
  ['O', 'order the rows by this column'],
  ['W', 'why this number'],
  ['Enter', 'drill through'],
  ['Backspace', 'back to where you came from'],
  ['/', 'to the scope line'],
  ['Ctrl+P', 'print the pages of the report'],
  ['Esc', 'let go of the chosen figure'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo and redo, while composing'],
];
</script>

<template>
  <v-dialog v-model="shown" max-width="460" aria-labelledby="keys-heading">
    <v-card class="sheet">
      <h2 id="keys-heading">Keys</h2>
      <dl>
        <template v-for="[key, words] in keys" :key="key">
          <dt>{{ key }}</dt>
          <dd>{{ words }}</dd>
        </template>
      </dl>
      <v-btn @click="shown = false">Close</v-btn>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.sheet {
  padding: 18px 22px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 5px 18px;
  margin: 12px 0 16px;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
  color: var(--ink-2);
}
</style>
