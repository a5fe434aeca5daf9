import type { AccessView } from '@bold-compass/core/api';
import { findField } from '@bold-compass/core/model';
import { and, eq, sql } from 'drizzle-orm';
import type { Catalogue, DatasetHead } from '../data/index.ts';
import { tables, type Connection } from '../database/index.ts';
import { maySee, seesAll, type Caller, type Sessions } from '../people/index.ts';
import { ApiError, staleRevision } from '../problems/index.ts';

/** Who sees which members of a dataset. */
export class AccessEditor {
  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly sessions: Sessions,
  ) {}

  /** Throws ApiError `not-found`; `not-allowed` for analysts who see the dataset only in part. */
  async view(caller: Caller, dataset: string): Promise<AccessView> {
    await this.head(caller, dataset);
    return this.read(dataset);
  }

  private async read(dataset: string): Promise<AccessView> {
    const { db } = this.connection;
    const [people, groups, members, rules, [row]] = await Promise.all([
      db.select().from(tables.people).orderBy(tables.people.name),
      db.select().from(tables.groups).orderBy(tables.groups.name),
      db.select().from(tables.groupMembers),
      db.select().from(tables.accessRules).where(eq(tables.accessRules.dataset, dataset)).orderBy(tables.accessRules.id),
      db.select().from(tables.datasets).where(eq(tables.datasets.name, dataset)),
    ]);
    return {
      people: people.map(({ id, name, title, role }) => ({
        ...{ id, name, title, role },
        groups: members.filter(({ person }) => person === id).map(({ group }) => group),
      })),
      groups: groups.map(({ id, name }) => ({ id, name, people: members.filter(({ group }) => group === id).length })),
      rules: rules.map(({ person, group, field, members: chosen }) => ({ person, group, field, members: chosen })),
      revision: row?.accessRevision ?? 0,
      decided: row?.accessDecided ?? false,
      owner: people.find(({ id }) => id === row?.owner)?.name ?? null,
    };
  }

  /**
   * Replaces the rules of a dataset, from the revision that was seen; they hold at once, and access counts as decided.
   * Throws ApiError for a field that the dataset does not have, and `stale-revision`.
   */
  async save(caller: Caller, dataset: string, rules: AccessView['rules'], revision: number): Promise<AccessView> {
    const { dataset: definition } = await this.head(caller, dataset);
    const unknown = rules.find(({ field }) => !findField(definition, field));
    if (unknown) throw new ApiError('bad-request', `${definition.label} has no field called "${unknown.field}".`);
    await this.requirePeople(rules);
    await this.connection.db.transaction(async (db) => {
      const [held] = await db.select().from(tables.datasets).where(eq(tables.datasets.name, dataset)).for('update');
      const saved = await db
        .update(tables.datasets)
        .set({ accessDecided: true, accessRevision: sql`${tables.datasets.accessRevision} + 1` })
        .where(and(eq(tables.datasets.name, dataset), eq(tables.datasets.accessRevision, revision)))
        .returning({ name: tables.datasets.name });
      if (saved.length === 0) throw staleRevision(`the access rules of ${definition.label}`, held?.accessRevision ?? 0);
      await db.delete(tables.accessRules).where(eq(tables.accessRules.dataset, dataset));
      if (rules.length > 0) await db.insert(tables.accessRules).values(rules.map((rule) => ({ ...rule, dataset })));
    });
    this.sessions.forget();
    this.catalogue.forgetHead(dataset);
    return this.read(dataset);
  }

  private async requirePeople(rules: AccessView['rules']): Promise<void> {
    const { db } = this.connection;
    const [people, groups] = await Promise.all([
      db.select({ id: tables.people.id }).from(tables.people),
      db.select({ id: tables.groups.id }).from(tables.groups),
    ]);
    const known = new Set([...people, ...groups].map(({ id }) => id));
    if (rules.some(({ person, group }) => !known.has(person ?? group ?? '')))
      throw new ApiError('bad-request', 'A rule is for a person or a group that is not here any more. Remove that rule.');
  }

  /** Stewards decide about every dataset; analysts about those that they see whole. */
  private async head(caller: Caller, dataset: string): Promise<DatasetHead> {
    const head = await this.catalogue.definition(dataset);
    if (caller.person.role === 'steward') return head;
    if (!maySee(caller, head)) throw new ApiError('not-found', `There is no dataset called "${dataset}". It may have been deleted.`);
    if (!seesAll(caller, head))
      throw new ApiError('not-allowed', `Access rules show you a part of ${head.dataset.label}: who sees what is for others to say.`);
    return head;
  }
}
