<script setup lang="ts">
import { connectionViewSchema, type ConnectionView } from '@bold-compass/core/api';
import { ref } from 'vue';
import { ApiProblem, ask } from '../api/client.ts';

/** A connection to a PostgreSQL-protocol server; it is tried before it is kept. */
const props = defineProps<{ known: ConnectionView | null }>();
const emit = defineEmits<{ saved: [connection: ConnectionView]; close: [] }>();

const form = ref({
  label: props.known?.label ?? '',
  host: props.known?.host ?? '127.0.0.1',
  port: props.known?.port ?? 5432,
  database: props.known?.database ?? '',
  user: props.known?.user ?? '',
});
const password = ref('');
/** The revision that this change starts from; that of someone else, once it was said to replace theirs. */
const revision = ref(props.known?.revision);
const theirs = ref<number>();
function replaceTheirs(): void {
  revision.value = theirs.value;
  void save();
}
const busy = ref(false);
const message = ref('');

async function save(): Promise<void> {
  busy.value = true;
  message.value = '';
  try {
    const body = {
      ...form.value,
      ...(revision.value === undefined ? {} : { revision: revision.value }),
      port: Number(form.value.port),
      ...(password.value === '' && props.known ? {} : { password: password.value }),
    };
    emit(
      'saved',
      props.known
        ? await ask(connectionViewSchema, 'PUT', `/connections/${props.known.id}`, body)
        : await ask(connectionViewSchema, 'POST', '/connections', body),
    );
  } catch (error) {
    message.value = error instanceof ApiProblem ? error.message : 'This did not work. Try again.';
    theirs.value = error instanceof ApiProblem ? error.revision : undefined;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="form" :aria-label="known ? `Change ${known.label}` : 'Add a connection'" @submit.prevent="save">
    <v-text-field v-model="form.label" label="Name" required maxlength="60" />
    <v-text-field v-model="form.host" label="Host" required />
    <v-text-field v-model="form.port" label="Port" class="port" type="number" min="1" max="65535" required />
    <v-text-field v-model="form.database" label="Database" required />
    <v-text-field v-model="form.user" label="User" required autocomplete="off" />
    <v-text-field v-model="password" label="Password" type="password" autocomplete="new-password" :placeholder="known ? 'unchanged' : ''" />
    <div class="actions">
      <v-btn color="primary" variant="flat" type="submit" :disabled="busy">{{ busy ? 'Connecting …' : 'Test and save' }}</v-btn>
      <v-btn @click="emit('close')">Close</v-btn>
    </div>
    <p v-if="message" class="failure" role="alert">
      {{ message }}
      <v-btn v-if="theirs !== undefined" @click="replaceTheirs">Overwrite</v-btn>
    </p>
    <p class="muted note">
      Any server that speaks PostgreSQL's protocol. A user who may only read is best; the password is kept encrypted.
    </p>
  </form>
</template>

<style scoped>
.form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: end;
  padding: 12px 14px;
  border: 1px solid var(--rule);
  background: var(--sheet);
  border-radius: 8px;
}
label {
  display: flex;
  flex-direction: column;
  font-size: 13px;
  color: var(--ink-2);
}
.actions {
  display: flex;
  gap: 8px;
}
.failure,
.note {
  flex-basis: 100%;
  font-size: 13px;
}
.failure {
  color: var(--off-text);
}
</style>
