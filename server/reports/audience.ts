import type { Audience } from '@bold-compass/core/api';
import { conditionsInWords } from '@bold-compass/core/answers';
import type { Report } from '@bold-compass/core/model';
import type { Catalogue } from '../data/index.ts';
import { tables, type Database } from '../database/index.ts';
import { memberFilter } from '../access/index.ts';
import type { Caller, Sessions } from '../people/index.ts';
import { datasetsIn } from './library.ts';
import type { ReportReader } from './report-reader.ts';

/** Who would see what of the datasets that a report stands on, told before it is published. */
export async function audienceOf(
  { db, catalogue, sessions, reports }: { db: Database; catalogue: Catalogue; sessions: Sessions; reports: ReportReader },
  caller: Caller,
  report: Report,
): Promise<Audience> {
  const people = await db.select({ id: tables.people.id }).from(tables.people).orderBy(tables.people.name);
  const callers = (await Promise.all(people.map(({ id }) => sessions.callerOf(id)))).filter((one) => one !== null);
  return Promise.all(
    datasetsIn(report).map(async (name) => {
      const { dataset, accessDecided } = await catalogue.definition(name);
      const reader = await reports.reader(caller, name);
      return {
        ...{ dataset: name, label: dataset.label, decided: accessDecided },
        people: await Promise.all(
          callers.map(async ({ person: { id, name: own, title, role }, rules }) => ({
            ...{ id, name: own, title, role },
            sees: (await conditionsInWords(reports.context(reader, caller), memberFilter(rules, dataset))).join('; '),
          })),
        ),
      };
    }),
  );
}
