import type { Audience } from '@bold-compass/core/api';
import { conditionWords } from '@bold-compass/core/format';
import type { Report } from '@bold-compass/core/model';
import type { Catalogue } from '../data/index.ts';
import { tables, type Database } from '../database/index.ts';
import { memberFilter, type Caller, type Sessions } from '../people/index.ts';
import { datasetsIn } from './library.ts';
import type { Reading } from './reading.ts';

/** Who would see what of the datasets that a report stands on, told before it is published. */
export async function audienceOf(
  { db, catalogue, sessions, reading }: { db: Database; catalogue: Catalogue; sessions: Sessions; reading: Reading },
  caller: Caller,
  report: Report,
): Promise<Audience> {
  const people = await db.select({ id: tables.people.id }).from(tables.people).orderBy(tables.people.name);
  const callers = (await Promise.all(people.map(({ id }) => sessions.callerAs(id, caller)))).filter((one) => one !== null);
  return Promise.all(
    datasetsIn(report).map(async (name) => {
      const { dataset, accessDecided } = await catalogue.definition(name);
      const desk = await reading.desk(caller, name);
      return {
        ...{ dataset: name, label: dataset.label, decided: accessDecided },
        people: callers.map(({ person: { id, name: own, title, role }, rules }) => ({
          ...{ id, name: own, title, role },
          sees: conditionWords(dataset, memberFilter(rules, dataset), desk.label).join('; '),
        })),
      };
    }),
  );
}
