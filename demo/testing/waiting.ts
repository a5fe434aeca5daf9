import type { ImportView, Load } from '@bold-compass/core/api';
import type { DemoApp } from './database.ts';

type Agent = Awaited<ReturnType<DemoApp['as']>>;
const POLL_MILLISECONDS = 25;
const aMoment = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, POLL_MILLISECONDS));

/** Waits until nothing is going on with a file that was uploaded. */
export async function importFinished(agent: Agent, view: ImportView): Promise<ImportView> {
  let now = view;
  while (now.work) {
    await aMoment();
    now = (await agent.get(`/api/imports/${view.id}`).expect(200)).body as ImportView;
  }
  return now;
}

/** Waits until the newest load of a source has ended. */
export async function loadEnded(agent: Agent, source: string): Promise<Load> {
  for (;;) {
    const [load] = (await agent.get(`/api/sources/${source}/loads`).expect(200)).body as Load[];
    if (load.state !== 'running') return load;
    await aMoment();
  }
}

/** Waits until something holds. */
export async function until(holds: () => boolean | Promise<boolean>): Promise<void> {
  while (!(await holds())) await aMoment();
}
