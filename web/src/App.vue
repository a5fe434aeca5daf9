<script setup lang="ts">
import { computed } from 'vue';
import { useQueryClient } from '@tanstack/vue-query';
import { useRoute, useRouter } from 'vue-router';
import { useViewAs } from './api/view-as.ts';
import { useSession } from './api/session.ts';
import ExhibitState from './report/ExhibitState.vue';
import AppRail from './shell/AppRail.vue';

const session = useSession();
const route = useRoute();
const queries = useQueryClient();
const router = useRouter();
const { name: viewedName, end } = useViewAs();
async function backToMyself(): Promise<void> {
  end();
  queries.clear();
  await router.push('/data');
}
/** A report in the sheet of another one stands alone. */
const isBeside = window.self !== window.top;
/** Pages that are for other roles show nothing of what is asked there, not even that it was refused. */
const isClosed = computed(() => session.person !== null && route.meta.roles?.includes(session.person.role) === false);
const withRail = computed(() => session.person !== null && route.name !== 'sign-in' && !isBeside);
</script>

<template>
  <v-app>
    <a class="skip" href="#content">Skip to the page</a>
    <AppRail v-if="withRail" />
    <v-main id="content" class="content" tabindex="-1">
      <p v-if="withRail && viewedName" class="viewing" role="status">
        You see what {{ viewedName }} sees. Nothing can be changed meanwhile.
        <v-btn @click="backToMyself">Back to yourself</v-btn>
      </p>
      <ExhibitState
        v-if="isClosed"
        kind="no-access"
        title="This page is not for your role"
        message="Data and measures are looked after by analysts and stewards. What they made for you is under Reports."
      >
        <v-btn :to="{ name: 'reports' }">Go to reports</v-btn>
      </ExhibitState>
      <RouterView v-else :key="viewedName" />
    </v-main>
  </v-app>
</template>

<style scoped>
.content {
  min-width: 0;
  outline: none;
}
.viewing {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  padding: 6px 30px;
  background: var(--brass-tint);
  border-bottom: 1px solid var(--brass-line);
}
.skip {
  position: absolute;
  left: -1000px;
  z-index: 3000;
}
.skip:focus {
  left: 8px;
  top: 8px;
  padding: 6px 12px;
  background: var(--sheet);
}
@media (max-width: 700px) {
  .frame.with-rail {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: 54px;
  }
}
</style>
