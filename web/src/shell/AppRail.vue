<script setup lang="ts">
import {
  mdiAccountCircleOutline,
  mdiDatabaseOutline,
  mdiFileChartOutline,
  mdiFlagOutline,
  mdiFunctionVariant,
  mdiHelpCircleOutline,
  mdiLogout,
  mdiLogoutVariant,
  mdiThemeLightDark,
} from '@mdi/js';
import { useMediaQuery } from '@vueuse/core';
import { useQueryClient } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { useTheme } from 'vuetify';
import { useSession } from '../api/session.ts';
import { useSignals } from '../report/watching.ts';
import CompassRose from './CompassRose.vue';

const session = useSession();
const narrow = useMediaQuery('(max-width: 700px)');
const router = useRouter();
const theme = useTheme();
const queries = useQueryClient();

const places = computed(() => [
  { to: '/reports', label: 'Reports', icon: mdiFileChartOutline },
  // Stewards look after the data: who sees it, and whether it is refreshed.
  ...(session.person && session.person.role !== 'manager' ? [{ to: '/data', label: 'Data', icon: mdiDatabaseOutline }] : []),
  ...(session.person?.role === 'analyst' ? [{ to: '/measures', label: 'Measures', icon: mdiFunctionVariant }] : []),
  { to: '/signals', label: 'Signals', icon: mdiFlagOutline },
]);
/** Signals that were not looked at yet. */
const { data: signals } = useSignals({ every: 30_000 });
const unseen = computed(() => signals.value?.unseen ?? 0);

function switchTheme(): void {
  const next = theme.current.value.dark ? 'light' : 'dark';
  void theme.change(next);
  localStorage.setItem('bold-compass-theme', next);
}

async function leave(everywhere: boolean): Promise<void> {
  await (everywhere ? session.signOutEverywhere() : session.signOut());
  queries.clear();
  await router.push({ name: 'sign-in' });
}
</script>

<template>
  <v-navigation-drawer
    permanent
    tag="nav"
    class="rail"
    :class="{ low: narrow }"
    :location="narrow ? 'bottom' : 'left'"
    :width="narrow ? 54 : 60"
    aria-label="Places"
  >
    <RouterLink class="logo" to="/reports" aria-label="Bold Compass, all reports"><CompassRose :size="38" /></RouterLink>
    <RouterLink v-for="place in places" :key="place.to" class="place" :to="place.to" active-class="here">
      <v-icon :icon="place.icon" size="20" aria-hidden="true" />
      <span>{{ place.label }}</span>
      <span v-if="place.to === '/signals' && unseen > 0" class="unseen" :aria-label="`${unseen} new`">{{
        unseen > 99 ? '99+' : unseen
      }}</span>
    </RouterLink>
    <RouterLink v-if="!narrow" class="place help" to="/help" active-class="here">
      <v-icon :icon="mdiHelpCircleOutline" size="20" aria-hidden="true" />
      <span>Help</span>
    </RouterLink>
    <v-menu location="end bottom" :offset="6">
      <template #activator="{ props }">
        <v-btn
          class="person"
          variant="text"
          :icon="mdiAccountCircleOutline"
          v-bind="props"
          :aria-owns="undefined"
          :aria-label="`${session.person?.name}: appearance and signing out`"
        />
      </template>
      <v-list role="menu">
        <div class="who">
          <strong>{{ session.person?.name }}</strong>
          <span class="muted">{{ session.person?.title }}</span>
        </div>
        <v-list-item
          role="menuitem"
          :prepend-icon="mdiThemeLightDark"
          :title="theme.current.value.dark ? 'Light appearance' : 'Dark appearance'"
          @click="switchTheme"
        />
        <v-list-item v-if="narrow" role="menuitem" :prepend-icon="mdiHelpCircleOutline" title="Help" to="/help" />
        <v-list-item role="menuitem" :prepend-icon="mdiLogout" title="Sign out" @click="leave(false)" />
        <v-list-item role="menuitem" :prepend-icon="mdiLogoutVariant" title="Sign out on every device" @click="leave(true)" />
      </v-list>
    </v-menu>
  </v-navigation-drawer>
</template>

<style scoped>
.rail {
  background: var(--rail);
  color: var(--on-rail-2);
  border: 0;
}
.rail :deep(.v-navigation-drawer__content) {
  display: flex;
  flex-direction: column;
  align-items: center;
  padding: 10px 0;
  gap: 4px;
}
.rail.low :deep(.v-navigation-drawer__content) {
  flex-direction: row;
  justify-content: space-around;
  padding: 2px 8px;
}
.low .logo {
  display: none;
}
.logo {
  margin-bottom: 18px;
  line-height: 0;
}
.place {
  width: 46px;
  padding: 6px 0 5px;
  border-radius: 7px;
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 3px;
  font-size: 10.5px;
  color: var(--on-rail-2);
  text-decoration: none;
}
.place:hover,
.place.here {
  background: rgb(255 255 255 / 9%);
  color: var(--on-rail);
}
.rail :focus-visible {
  outline-color: var(--needle);
}
.place.help {
  margin-top: auto;
}
.person.v-btn {
  color: var(--on-rail-2);
}
.who {
  display: flex;
  flex-direction: column;
  padding: 6px 10px 8px;
  border-bottom: 1px solid var(--rule-2);
  margin-bottom: 4px;
}
.place {
  position: relative;
}
.unseen {
  position: absolute;
  top: 2px;
  right: 8px;
  min-width: 16px;
  padding: 0 4px;
  border-radius: 8px;
  background: var(--needle);
  color: var(--rail);
  font-size: 10.5px;
  font-weight: 700;
  line-height: 16px;
  text-align: center;
}
</style>
