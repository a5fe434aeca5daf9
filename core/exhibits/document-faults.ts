import { isDataExhibit, reportSchema, withReportMeasures, type Dataset, type Report } from '../model/index.ts';
import { initialReaderScope, promptValues } from '../prompts/index.ts';
import { reportFaults } from './faults.ts';

/** What within a document leads nowhere: pages, prompts and exhibits that are named and not there. */
function danglingNames({ pages, prompts, scopeLine, exhibits }: Report): string[] {
  const faults: string[] = [];
  const twice = (what: string, ids: readonly string[]): void => {
    for (const id of new Set(ids.filter((own, at) => ids.indexOf(own) !== at))) faults.push(`Two ${what} have the id "${id}".`);
  };
  twice(
    'pages',
    pages.map(({ id }) => id),
  );
  twice(
    'prompts',
    prompts.map(({ id }) => id),
  );
  for (const piece of scopeLine)
    if ('prompt' in piece && !prompts.some(({ id }) => id === piece.prompt))
      faults.push(`The scope line names a prompt "${piece.prompt}" that is not there.`);
  for (const exhibit of exhibits) {
    const named = isDataExhibit(exhibit) ? `“${exhibit.title}”` : `The exhibit "${exhibit.id}"`;
    const { page } = exhibit;
    if (page !== undefined && !pages.some(({ id }) => id === page)) faults.push(`${named} is on a page "${page}" that is not there.`);
    const others = [
      ...(isDataExhibit(exhibit) && exhibit.follows !== undefined ? [['follows', exhibit.follows]] : []),
      ...(exhibit.kind === 'chart' && exhibit.chart.inStepWith !== undefined ? [['stays in step with', exhibit.chart.inStepWith]] : []),
    ];
    for (const [verb, other] of others)
      if (!exhibits.some(({ id }) => id === other)) faults.push(`${named} ${verb} an exhibit "${other}" that is not there.`);
  }
  return faults;
}

/**
 * All that is wrong with a report document, in words; empty for a sound one. Held against those of its datasets that are given:
 * names of others cannot be looked up.
 */
export function documentFaults(document: unknown, datasets: readonly Dataset[] = []): string[] {
  const parsed = reportSchema.safeParse(document);
  if (!parsed.success) return parsed.error.issues.map(({ path, message }) => `${path.join('.') || 'The document'}: ${message}.`);
  const report = parsed.data;
  const known = new Map(datasets.map((dataset) => [dataset.name, dataset]));
  const own = known.get(report.dataset);
  const dangling = danglingNames(report);
  if (!own) return dangling;
  const whole = withReportMeasures(own, report.measures, promptValues(report, initialReaderScope(report)));
  // Exhibits over datasets that are not given are left out.
  const exhibits = report.exhibits.filter(
    (exhibit) => !isDataExhibit(exhibit) || exhibit.dataset === undefined || known.has(exhibit.dataset),
  );
  return [...dangling, ...reportFaults({ ...report, exhibits }, (name) => (name === report.dataset ? whole : known.get(name)!))];
}
