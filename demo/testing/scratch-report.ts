import type { ReportView } from '@bold-compass/core/api';
import type { Report } from '@bold-compass/core/model';
import type { DemoApp } from './database.ts';

/** A draft over the demo company that a test shows its exhibits in. */
export interface ScratchReport {
  id: string;
  /** Saves the draft with these exhibits alone. */
  show(...exhibits: Report['exhibits']): Promise<void>;
  /** Saves the draft with some of its parts changed. */
  save(changes: Partial<Report>): Promise<void>;
}

/** Makes an empty report as an analyst does. */
export async function scratchReport(agent: Awaited<ReturnType<DemoApp['as']>>, title: string): Promise<ScratchReport> {
  const made = await agent.post('/api/reports').send({ title, folder: '', dataset: 'hollin-marsh', layout: 'empty' }).expect(200);
  const { id } = made.body as { id: string };
  async function save(changes: Partial<Report>): Promise<void> {
    const { report, revision } = (await agent.get(`/api/reports/${id}?draft=true`).expect(200)).body as ReportView;
    await agent
      .put(`/api/reports/${id}`)
      .send({ report: { ...report, ...changes }, revision })
      .expect(200);
  }
  return { id, save, show: (...exhibits) => save({ exhibits }) };
}
