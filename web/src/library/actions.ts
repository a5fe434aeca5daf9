import { madeReportSchema, reportDocumentSchema, reportViewSchema, savedSchema, type ReportSummary } from '@bold-compass/core/api';
import { useQueryClient } from '@tanstack/vue-query';
import { ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { saveText } from '../shell/save-file.ts';
import { useGoOn } from '../shell/go-on.ts';

const done = z.object({});

/** What can be done with a report in the library; `message` says why something did not work. */
export function useReportActions() {
  const goOn = useGoOn();
  const queries = useQueryClient();
  const message = ref('');
  /** The report that was deleted last, for as long as it can be restored here. */
  const moveToBin = ref<ReportSummary | null>(null);

  /** Whether an action worked. */
  async function attempt(action: () => Promise<void>): Promise<boolean> {
    message.value = '';
    try {
      await action();
      return true;
    } catch (failure) {
      message.value = failure instanceof ApiProblem ? failure.message : 'This did not work. Try again.';
      return false;
    }
  }
  const changed = (): Promise<void> => queries.invalidateQueries({ queryKey: ['reports'] });

  return {
    message,
    moveToBin,
    mark: (report: ReportSummary): Promise<boolean> =>
      attempt(async () => {
        await ask(done, 'PUT', `/reports/${report.id}/favourite`, { favourite: !report.favourite });
        await changed();
      }),
    copy: (report: ReportSummary): Promise<boolean> =>
      attempt(async () => {
        const { id } = await ask(madeReportSchema, 'POST', `/reports/${report.id}/copy`, {});
        void changed();
        await goOn({ name: 'report', params: { report: id }, query: { compose: '' } });
      }),
    remove: (report: ReportSummary): Promise<boolean> =>
      attempt(async () => {
        await ask(done, 'DELETE', `/reports/${report.id}`);
        moveToBin.value = report;
        await changed();
      }),
    restore: (): Promise<boolean> =>
      attempt(async () => {
        await ask(done, 'POST', `/reports/${moveToBin.value!.id}/restore`, {});
        moveToBin.value = null;
        await changed();
      }),
    /** Renames or moves by changing the draft: what managers see changes with the next edition. */
    rename: (id: string, title: string, folder: string): Promise<boolean> =>
      attempt(async () => {
        const { report, revision } = await ask(reportViewSchema, 'GET', `/reports/${id}?draft=true`);
        const renamed = { ...report, title: title.trim() || report.title, folder: folder.trim() };
        await ask(savedSchema, 'PUT', `/reports/${id}`, { report: renamed, revision });
        queries.removeQueries({ queryKey: ['report', id] });
        await changed();
      }),
    /** Saves a report as a document: one that can be read, compared and taken in elsewhere. */
    save: (report: ReportSummary): Promise<boolean> =>
      attempt(async () => {
        const file = await ask(reportDocumentSchema, 'GET', `/reports/${report.id}/document`);
        saveText(`${report.id}.json`, 'application/json', `${JSON.stringify(file.report, null, 2)}\n`);
      }),
  };
}
