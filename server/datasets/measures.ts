import type { MeasureUse } from '@bold-compass/core/api';
import { namesIn } from '@bold-compass/core/formula';
import type { Report } from '@bold-compass/core/model';
import { desc, eq, isNull } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { maySee, type Caller } from '../people/index.ts';

const usesMeasure = (report: Report, measure: string): boolean => JSON.stringify(report.exhibits).includes(`"${measure}"`);

const keyOf = (dataset: string, measure: string): string => JSON.stringify([dataset, measure]);

/** The last change of each measure that has changed since it came. */
async function lastChanges(db: Database): Promise<Map<string, { at: Date; person: string | null }>> {
  const { measureChanges: changes, people } = tables;
  const rows = await db
    .selectDistinctOn([changes.dataset, changes.measure], {
      dataset: changes.dataset,
      measure: changes.measure,
      at: changes.at,
      person: people.name,
    })
    .from(changes)
    .leftJoin(people, eq(people.id, changes.person))
    .orderBy(changes.dataset, changes.measure, desc(changes.id));
  return new Map(rows.map(({ dataset, measure, at, person }) => [keyOf(dataset, measure), { at, person }]));
}

/** All measures of all datasets that a person sees, and where each is used. */
export async function allMeasures(db: Database, caller: Caller): Promise<Omit<MeasureUse, 'controlTotals' | 'untied'>[]> {
  const [changes, datasets, reports] = await Promise.all([
    lastChanges(db),
    db.select().from(tables.datasets).orderBy(tables.datasets.name),
    db.select({ draft: tables.reports.draft }).from(tables.reports).where(isNull(tables.reports.deletedAt)).orderBy(tables.reports.id),
  ]);
  const seen = datasets.filter((dataset) => maySee(caller, dataset));
  return seen.flatMap(({ definition }) =>
    definition.measures.map(({ name, label, description, formula, fact }) => ({
      ...{ dataset: definition.name, datasetLabel: definition.label, name, label, formula },
      description: description ?? '',
      changedAt: changes.get(keyOf(definition.name, name))?.at.toISOString() ?? null,
      changedBy: changes.get(keyOf(definition.name, name))?.person ?? null,
      fact: definition.facts.find((one) => one.name === fact)?.label ?? '',
      usedBy: reports
        .map(({ draft }) => draft)
        .filter((report) => report.dataset === definition.name && usesMeasure(report, name))
        .map(({ id, title }) => ({ id, title })),
      usedIn: definition.measures
        .filter((other) => other.name !== name && namesIn(other.formula).has(name.toLowerCase()))
        .map((other) => other.label),
    })),
  );
}
