import type { Drift } from '@bold-compass/core/api';
import { namesIn } from '@bold-compass/core/formula';
import type { Dataset, Report, SourceColumn } from '@bold-compass/core/model';
import type { DescribedColumn } from '../drivers/index.ts';

/** What has changed between the columns of a source and what its query answers now. */
export function columnDrift(columns: SourceColumn[], answered: DescribedColumn[], ignored: string[]): Omit<Drift, 'touches'> {
  const now = new Map(answered.map((column) => [column.name, column]));
  const known = new Set([...columns.map(({ from }) => from), ...ignored]);
  return {
    missing: columns.filter(({ from }) => !now.has(from)).map(({ from }) => from),
    retyped: columns.flatMap(({ from, type, keptAsText }) => {
      const is = now.get(from)?.type;
      return is === undefined || is === type || (keptAsText && is === 'integer') ? [] : [{ column: from, was: type, is }];
    }),
    added: answered.filter(({ name }) => !known.has(name)).map(({ name }) => name),
  };
}

/** The datasets, measures and reports that read some physical columns of a table. */
export function touchedBy(
  columns: string[],
  isTable: (part: { table: string }) => boolean,
  datasets: Dataset[],
  reports: Report[],
): Drift['touches'] {
  const touched = new Set(columns);
  return datasets.flatMap((dataset) => {
    const fields = [
      ...dataset.facts.flatMap((fact) => {
        if (!isTable(fact)) return [];
        const linked = fact.links.some((link) => touched.has(link.column)) ? [fact.name] : [];
        const stored = fact.fields.filter(({ column }) => touched.has(column)).map(({ name }) => name);
        const calculated = fact.fields.filter(({ formula }) => formula && stored.some((name) => namesIn(formula).has(name.toLowerCase())));
        return [...stored, ...calculated.map(({ name }) => name), ...linked];
      }),
      ...dataset.dimensions.flatMap((dimension) =>
        dimension.kind === 'table' && isTable(dimension)
          ? [
              ...dimension.levels.filter((level) => [level.column, level.labelColumn, level.within].some((one) => one && touched.has(one))),
              ...dimension.attributes.filter(({ column }) => touched.has(column)),
            ].map(({ name }) => name)
          : [],
      ),
    ];
    if (fields.length === 0) return [];
    const measures = new Set<string>();
    // Measures may stand on measures: what stands on a touched one is touched too.
    for (let before = -1; before !== measures.size;) {
      before = measures.size;
      for (const { name, formula } of dataset.measures)
        if ([...fields, ...measures].some((field) => namesIn(formula).has(field.toLowerCase()))) measures.add(name);
    }
    const names = [...fields, ...measures].map((name) => JSON.stringify(name));
    return [
      { kind: 'dataset' as const, label: dataset.label },
      ...dataset.measures.filter(({ name }) => measures.has(name)).map(({ label }) => ({ kind: 'measure' as const, label })),
      ...reports
        .filter((report) => report.dataset === dataset.name)
        .filter((report) => {
          const document = JSON.stringify(report);
          return names.some((name) => document.includes(name));
        })
        .map(({ title }) => title)
        .filter((title, index, all) => all.indexOf(title) === index)
        .map((title) => ({ kind: 'report' as const, label: title })),
    ];
  });
}
