import type { AccessView } from '@bold-compass/core/api';
import { findField } from '@bold-compass/core/model';
import { eq } from 'drizzle-orm';
import type { Catalogue } from '../data/index.ts';
import { tables, type Connection } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import type { Sessions } from '../people/index.ts';

/** Who sees which members of a dataset. */
export class AccessEditor {
  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly sessions: Sessions,
  ) {}

  async view(dataset: string): Promise<AccessView> {
    await this.catalogue.definition(dataset);
    const { db } = this.connection;
    const [people, groups, members, rules] = await Promise.all([
      db.select().from(tables.people).orderBy(tables.people.name),
      db.select().from(tables.groups).orderBy(tables.groups.name),
      db.select().from(tables.groupMembers),
      db.select().from(tables.accessRules).where(eq(tables.accessRules.dataset, dataset)).orderBy(tables.accessRules.id),
    ]);
    return {
      people: people.map(({ id, name, title, role }) => ({
        ...{ id, name, title, role },
        groups: members.filter(({ person }) => person === id).map(({ group }) => group),
      })),
      groups: groups.map(({ id, name }) => ({ id, name, people: members.filter(({ group }) => group === id).length })),
      rules: rules.map(({ person, group, field, members: chosen }) => ({ person, group, field, members: chosen })),
    };
  }

  /** Replaces the rules of a dataset; they hold at once. Throws ApiError for a field that the dataset does not have. */
  async save(dataset: string, rules: AccessView['rules']): Promise<AccessView> {
    const { dataset: definition } = await this.catalogue.definition(dataset);
    const unknown = rules.find(({ field }) => !findField(definition, field));
    if (unknown) throw new ApiError('bad-request', `${definition.label} has no field called "${unknown.field}".`);
    await this.connection.db.transaction(async (db) => {
      await db.delete(tables.accessRules).where(eq(tables.accessRules.dataset, dataset));
      if (rules.length > 0) await db.insert(tables.accessRules).values(rules.map((rule) => ({ ...rule, dataset })));
    });
    this.sessions.forget();
    return this.view(dataset);
  }
}
