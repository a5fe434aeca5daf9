import { createRouter, createWebHistory } from 'vue-router';
import type { Role } from '@bold-compass/core/api';
import { useSession } from './api/session.ts';

/** Whom the pages about data are for. */
const DATA: Role[] = ['analyst', 'steward'];

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/reports' },
    { path: '/sign-in', name: 'sign-in', component: () => import('./pages/SignInPage.vue'), meta: { open: true, title: 'Sign in' } },
    { path: '/reports', name: 'reports', component: () => import('./pages/LibraryPage.vue'), meta: { title: 'Reports' } },
    { path: '/reports/:report', name: 'report', component: () => import('./pages/ReportPage.vue'), meta: { title: 'Report' } },
    { path: '/data', name: 'data', component: () => import('./pages/DataPage.vue'), meta: { title: 'Data', roles: DATA } },
    {
      path: '/data/files/:id',
      name: 'import',
      component: () => import('./pages/ImportPage.vue'),
      props: true,
      meta: { title: 'Import', roles: DATA },
    },
    {
      path: '/data/query/:connection?',
      name: 'query',
      component: () => import('./pages/QueryPage.vue'),
      props: true,
      meta: { title: 'New database source', roles: DATA },
    },
    {
      path: '/data/sources/:source/query',
      name: 'source-query',
      component: () => import('./pages/QueryPage.vue'),
      props: true,
      meta: { title: 'Query', roles: DATA },
    },
    {
      path: '/data/sources/:source',
      name: 'source',
      component: () => import('./pages/SourcePage.vue'),
      props: true,
      meta: { title: 'Records', roles: DATA },
    },
    {
      path: '/data/datasets/:dataset',
      name: 'dataset',
      component: () => import('./pages/DatasetPage.vue'),
      props: true,
      meta: { title: 'Dataset', roles: DATA },
    },
    {
      path: '/measures',
      name: 'measures',
      component: () => import('./pages/MeasuresPage.vue'),
      meta: { title: 'Measures', roles: ['analyst'] },
    },
    { path: '/signals', name: 'signals', component: () => import('./pages/SignalsPage.vue'), meta: { title: 'Signals' } },
    { path: '/help', name: 'help', component: () => import('./pages/HelpPage.vue'), meta: { title: 'Help' } },
    { path: '/:rest(.*)*', name: 'not-found', component: () => import('./pages/NotFoundPage.vue'), meta: { title: 'Not found' } },
  ],
  scrollBehavior: (to, from, saved) => (to.path === from.path ? false : (saved ?? (to.hash ? { el: to.hash } : { top: 0 }))),
});

router.beforeEach(async (to) => {
  const session = useSession();
  // A server that does not answer yet is met by the page itself, which tries again.
  if (!session.known) await session.refresh().catch(() => undefined);
  if (!to.meta.open && session.known && !session.person)
    return { name: 'sign-in', query: to.path === '/reports' ? {} : { to: to.fullPath } };
  return true;
});

router.afterEach((to) => {
  document.title = `${String(to.meta.title ?? '')} · Bold Compass`;
});
