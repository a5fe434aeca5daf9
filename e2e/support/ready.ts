import { request, type FullConfig } from '@playwright/test';

/** Waits until the server has loaded its data: what a first start takes says nothing about the interface. */
export default async function waitUntilReady({ projects }: FullConfig): Promise<void> {
  const api = await request.newContext({ baseURL: projects[0].use.baseURL, timeout: 120_000 });
  await api.post('/api/demo-session', { data: { person: 'ines-calloway' } });
  const answer = await api.get('/api/reports/sales-against-target');
  if (!answer.ok()) throw new Error(`The demo does not answer: ${answer.status()}`);
  await api.dispose();
}
