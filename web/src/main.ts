import './theme/zod.ts';
import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-serif-4';
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { retryWhilePassing, whenSignedOut } from './api/client.ts';
import { useSession } from './api/session.ts';
import App from './App.vue';
import { router } from './router.ts';
import { vuetify } from './theme/vuetify.ts';

const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: retryWhilePassing, retryDelay: 1_500, staleTime: 60_000, refetchOnWindowFocus: false } },
});

const app = createApp(App);
app.use(createPinia());
app.use(VueQueryPlugin, { queryClient });
app.use(vuetify);

whenSignedOut(() => {
  const session = useSession();
  session.person = null;
  queryClient.clear();
  const { fullPath, name } = router.currentRoute.value;
  if (name !== 'sign-in') void router.push({ name: 'sign-in', query: { to: fullPath, ended: '1' } });
});

app.use(router);
app.mount('#app');
