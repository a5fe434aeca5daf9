<script setup lang="ts">
import {
  mdiAccountCircleOutline,
  mdiDatabaseOutline,
  mdiFileChartOutline,
  mdiFunctionVariant,
  mdiLogout,
  mdiLogoutVariant,
  mdiThemeLightDark,
} from '@mdi/js';
import { useQueryClient } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { useTheme } from 'vuetify';
import { useSession } from '../api/session.ts';
import CompassRose from './CompassRose.vue';

const session = useSession();
const router = useRouter();
const theme = useTheme();
const queries = useQueryClient();

const places = computed(() => [
  { to: '/reports', label: 'Reports', icon: mdiFileChartOutline },
  ...(session.person?.role === 'analyst'
    ? [
        { to: '/data', label: 'Data', icon: mdiDatabaseOutline },
        { to: '/measures', label: 'Measures', icon: mdiFunctionVariant },
      ]
    : []),
]);

function switchTheme(): void {
  const next = theme.current.value.dark ? 'light' : 'dark';
  theme.change(next);
  localStorage.setItem('bold-compass-theme', next);
}

async function leave(everywhere: boolean): Promise<void> {
  await (everywhere ? session.signOutEverywhere() : session.signOut());
  queries.clear();
  await router.push({ name: 'sign-in' });
}
</script>

<template>
  <nav class="rail" aria-label="Places">
    <RouterLink class="logo" to="/reports" aria-label="Bold Compass, all reports"><CompassRose :size="38" /></RouterLink>
    <RouterLink v-for="place in places" :key="place.to" class="place" :to="place.to" active-class="here">
      <v-icon :icon="place.icon" size="20" aria-hidden="true" />
      <span>{{ place.label }}</span>
    </RouterLink>
    <v-menu location="end bottom" :offset="6">
      <template #activator="{ props }">
        <button
          class="place person"
          type="button"
          v-bind="props"
          :aria-owns="undefined"
          :aria-label="`${session.person?.name}: appearance and signing out`"
        >
          <v-icon :icon="mdiAccountCircleOutline" size="24" aria-hidden="true" />
        </button>
      </template>
      <div class="menu-sheet">
        <div class="who">
          <strong>{{ session.person?.name }}</strong>
          <span class="muted">{{ session.person?.title }}</span>
        </div>
        <button class="menu-item" type="button" @click="switchTheme">
          <v-icon :icon="mdiThemeLightDark" size="18" />{{ theme.current.value.dark ? 'Light appearance' : 'Dark appearance' }}
        </button>
        <button class="menu-item" type="button" @click="leave(false)"><v-icon :icon="mdiLogout" size="18" />Sign out</button>
        <button class="menu-item" type="button" @click="leave(true)">
          <v-icon :icon="mdiLogoutVariant" size="18" />Sign out on every device
        </button>
      </div>
    </v-menu>
  </nav>
</template>

<style scoped>
.rail {
  position: sticky;
  top: 0;
  height: 100vh;
  background: var(--rail);
  color: var(--on-rail-2);
  display: flex;
  flex-direction: column;
  align-items: center;
  padding: 10px 0;
  gap: 4px;
  z-index: 20;
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
.person {
  margin-top: auto;
}
.who {
  display: flex;
  flex-direction: column;
  padding: 6px 10px 8px;
  border-bottom: 1px solid var(--rule-2);
  margin-bottom: 4px;
}
@media (max-width: 700px) {
  .rail {
    position: fixed;
    top: auto;
    bottom: 0;
    left: 0;
    right: 0;
    height: 54px;
    flex-direction: row;
    justify-content: space-around;
    padding: 2px 8px;
  }
  .logo {
    display: none;
  }
  .person {
    margin-top: 0;
  }
}
</style>
