import type { SavedView, Watched } from '@bold-compass/core/api';
import type { State } from '@bold-compass/core/indicators';
import type { Dataset, Filter, Origin, ReaderScope, Report, SourceColumn } from '@bold-compass/core/model';
import type { ImportRecipe } from '@bold-compass/core/imports';
import type { AccessRule } from '../access/index.ts';
import { sql } from 'drizzle-orm';
import {
  bigint,
  bigserial,
  boolean,
  check,
  customType,
  index,
  integer,
  jsonb,
  pgSchema,
  primaryKey,
  real,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';

/** The application's own tables. Imported data lives beside them, in schemas of its own. */
export const app = pgSchema('app');

const at = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

export const people = app.table(
  'people',
  {
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    email: text('email').notNull(),
    title: text('title').notNull().default(''),
    role: text('role', { enum: ['analyst', 'manager', 'steward'] }).notNull(),
    /** Argon2id hash with its parameters. */
    passwordHash: text('password_hash').notNull(),
    /** Place on the demo sign-in page; null for people who are not offered there. */
    demoPosition: integer('demo_position'),
  },
  (table) => [uniqueIndex('people_email').on(table.email)],
);

export const groups = app.table('groups', { id: text('id').primaryKey(), name: text('name').notNull() });

export const groupMembers = app.table(
  'group_members',
  {
    group: text('group_id')
      .notNull()
      .references(() => groups.id, { onDelete: 'cascade' }),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
  },
  (table) => [primaryKey({ columns: [table.group, table.person] })],
);

/** Which members of a field a person or a group may see. Several rules on one field add up; on several fields all must hold. */
export const accessRules = app.table('access_rules', {
  id: bigserial('id', { mode: 'number' }).primaryKey(),
  person: text('person_id').references(() => people.id, { onDelete: 'cascade' }),
  group: text('group_id').references(() => groups.id, { onDelete: 'cascade' }),
  dataset: text('dataset').notNull(),
  field: text('field').notNull(),
  members: jsonb('members').$type<string[]>().notNull(),
});

export const sessions = app.table(
  'sessions',
  {
    /** SHA-256 of the cookie's token: the table alone lets nobody in. */
    tokenHash: text('token_hash').primaryKey(),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    expiresAt: at('expires_at').notNull(),
  },
  (table) => [index('sessions_expiry').on(table.expiresAt)],
);

export const datasets = app.table('datasets', {
  name: text('name').primaryKey(),
  definition: jsonb('definition').$type<Dataset>().notNull(),
  /** Raised with every change of data or definition; caches hang on it. */
  version: integer('version').notNull().default(1),
  updatedAt: at('updated_at').notNull().defaultNow(),
  /** A definition that is being worked on and not applied yet. */
  draft: jsonb('draft').$type<Dataset>(),
  /** The definition that the draft began from: what was applied since is merged into it. */
  draftBase: jsonb('draft_base').$type<Dataset>(),
  /** Raised with every save of the draft. */
  draftRevision: integer('draft_revision').notNull().default(0),
  /** Who made it: until access is decided, nobody else sees its records. */
  owner: text('owner').references(() => people.id, { onDelete: 'set null' }),
  accessDecided: boolean('access_decided').notNull().default(true),
  /** Raised with every save of its access rules. */
  accessRevision: integer('access_revision').notNull().default(0),
});

export const reports = app.table('reports', {
  id: text('id').primaryKey(),
  draft: jsonb('draft').$type<Report>().notNull(),
  /** Raised with every save; a save that started from an older one is refused. */
  revision: integer('revision').notNull().default(1),
  owner: text('owner').references(() => people.id, { onDelete: 'set null' }),
  updatedAt: at('updated_at').notNull().defaultNow(),
  /** When it was deleted; it can be brought back. */
  deletedAt: at('deleted_at'),
});

/** What a person keeps of a report: that they like it, and when they last opened it. */
export const reportMarks = app.table(
  'report_marks',
  {
    report: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    favourite: boolean('favourite').notNull().default(false),
    openedAt: at('opened_at'),
  },
  (table) => [primaryKey({ columns: [table.report, table.person] })],
);

/** Choices in a report that a person keeps under a name, as the address of the report holds them. */
export const savedViews = app.table(
  'saved_views',
  {
    id: text('id').primaryKey(),
    report: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    query: jsonb('query').$type<Record<string, string[]>>().notNull(),
    /** Whether the report opens with it. */
    isStart: boolean('is_start').notNull().default(false),
  },
  (table) => [
    uniqueIndex('saved_views_name').on(table.report, table.person, table.name),
    uniqueIndex('saved_views_start')
      .on(table.report, table.person)
      .where(sql`is_start`),
  ],
);

export const editions = app.table(
  'editions',
  {
    report: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    document: jsonb('document').$type<Report>().notNull(),
    note: text('note').notNull().default(''),
    person: text('person_id').references(() => people.id, { onDelete: 'set null' }),
    publishedAt: at('published_at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.report, table.number] })],
);

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });

/** Pictures and shapes of maps of reports, once each: documents name them. */
export const assets = app.table('assets', {
  /** SHA-256 of the media type and the bytes. */
  id: text('id').primaryKey(),
  /** Media type. */
  type: text('type').notNull(),
  bytes: bytea('bytes').notNull(),
  /** When it was put into a report last: one that no report shows is kept for a while, so that taking it out can be undone. */
  usedAt: at('used_at').notNull().defaultNow(),
});

/** Work that takes long: any server takes it up, one at a time, and none twice. */
export const jobs = app.table(
  'jobs',
  {
    id: text('id').primaryKey(),
    kind: text('kind').notNull(),
    /** Whose it is: they alone see it. */
    owner: text('owner_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    input: jsonb('input').notNull(),
    state: text('state', { enum: ['queued', 'active', 'done', 'failed', 'cancelled'] })
      .notNull()
      .default('queued'),
    progress: real('progress').notNull().default(0),
    /** Why it failed, and what can be done. */
    problem: text('problem').notNull().default(''),
    /** What came of it, in words. */
    outcome: text('outcome').notNull().default(''),
    /** How often it was taken up. */
    attempts: integer('attempts').notNull().default(0),
    /** Until when whoever works on it has to be heard of. */
    leaseUntil: at('lease_until'),
    createdAt: at('created_at').notNull().defaultNow(),
    keptUntil: at('kept_until').notNull(),
  },
  (table) => [index('jobs_by_owner').on(table.owner, table.createdAt), index('jobs_open').on(table.state, table.createdAt)],
);

/** What a job made. */
export const jobFiles = app.table('job_files', {
  job: text('job_id')
    .primaryKey()
    .references(() => jobs.id, { onDelete: 'cascade' }),
  name: text('name').notNull(),
  /** Media type. */
  type: text('type').notNull(),
  size: integer('size').notNull(),
  bytes: bytea('bytes').notNull(),
});

/** A PostgreSQL-protocol server that sources are read from. The password is kept encrypted and never leaves the server. */
export const connections = app.table('connections', {
  id: text('id').primaryKey(),
  label: text('label').notNull(),
  host: text('host').notNull(),
  port: integer('port').notNull(),
  database: text('database').notNull(),
  user: text('user_name').notNull(),
  secret: text('secret').notNull(),
  revision: integer('revision').notNull().default(1),
  createdAt: at('created_at').notNull().defaultNow(),
});

/**
 * Records that were imported, or that are queried at the source: what facts and dimensions are made of. The registry of
 * tables: an imported one lies in the schema `imported` under the source's id, and nothing else lies there.
 */
export const sources = app.table('sources', {
  id: text('id').primaryKey(),
  label: text('label').notNull(),
  columns: jsonb('columns').$type<SourceColumn[]>().notNull(),
  key: jsonb('key').$type<string[]>().notNull().default([]),
  origin: jsonb('origin').$type<Origin>().notNull(),
  live: boolean('live').notNull().default(false),
  /** When it is refreshed, as a cron expression in UTC; null for by hand. */
  schedule: text('schedule'),
  rows: integer('rows').notNull().default(0),
  updatedAt: at('updated_at').notNull().defaultNow(),
  /** Raised with every change of its query, its schedule or its records. */
  revision: integer('revision').notNull().default(1),
  owner: text('owner').references(() => people.id, { onDelete: 'set null' }),
  /** How its first file was read: every later one goes through the same. Null for a query. */
  recipe: jsonb('recipe').$type<ImportRecipe>(),
});

/** Tables that are being filled and that nobody reads yet, in the schema `staging`, with the server that fills them. */
export const stagings = app.table('stagings', {
  table: text('table_name').primaryKey(),
  instance: bigint('instance', { mode: 'number' }).notNull(),
  createdAt: at('created_at').notNull().defaultNow(),
});

/** Every time records were brought in, or were to be. */
export const loads = app.table(
  'loads',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    source: text('source_id')
      .notNull()
      .references(() => sources.id, { onDelete: 'cascade' }),
    kind: text('kind', { enum: ['import', 'replace', 'append', 'update', 'refresh'] }).notNull(),
    state: text('state', { enum: ['running', 'done', 'stopped', 'failed', 'cancelled'] }).notNull(),
    startedAt: at('started_at').notNull().defaultNow(),
    finishedAt: at('finished_at'),
    rows: integer('rows'),
    message: text('message').notNull().default(''),
    person: text('person_id').references(() => people.id, { onDelete: 'set null' }),
    /** The server that runs it. */
    instance: bigint('instance', { mode: 'number' }),
    /** SHA-256 of the file: the same one is noticed when it comes again. */
    content: text('content'),
  },
  (table) => [
    index('loads_by_source').on(table.source, table.id),
    // One at a time, also where several servers share a database.
    uniqueIndex('loads_running')
      .on(table.source)
      .where(sql`state = 'running'`),
  ],
);

/** Every time a measure of a dataset was added, changed or deleted. */
export const measureChanges = app.table(
  'measure_changes',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    dataset: text('dataset')
      .notNull()
      .references(() => datasets.name, { onDelete: 'cascade' }),
    measure: text('measure').notNull(),
    /** Null where it was deleted. */
    formula: text('formula'),
    person: text('person_id').references(() => people.id, { onDelete: 'set null' }),
    at: at('at').notNull().defaultNow(),
  },
  (table) => [index('measure_changes_by_measure').on(table.dataset, table.measure, table.id)],
);

/** Figures that must hold: what a measure is expected to come to under some conditions. */
export const controlTotals = app.table(
  'control_totals',
  {
    id: text('id').primaryKey(),
    dataset: text('dataset')
      .notNull()
      .references(() => datasets.name, { onDelete: 'cascade' }),
    measure: text('measure').notNull(),
    filter: jsonb('filter').$type<Filter | null>(),
    /** As it was typed: all its digits count. */
    expected: text('expected').notNull(),
    note: text('note').notNull().default(''),
    person: text('person_id').references(() => people.id, { onDelete: 'set null' }),
    createdAt: at('created_at').notNull().defaultNow(),
  },
  (table) => [index('control_totals_by_dataset').on(table.dataset)],
);

/** Figures that people want to be told of, with where each stood when it was last looked at. */
export const watches = app.table(
  'watches',
  {
    id: text('id').primaryKey(),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    report: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    exhibit: text('exhibit').notNull(),
    watched: jsonb('watched').$type<Watched>().notNull(),
    asked: jsonb('asked').$type<ReaderScope>().notNull(),
    label: text('label').notNull(),
    query: jsonb('query').$type<SavedView['query']>().notNull(),
    state: text('state').$type<State>().notNull(),
    value: text('value').notNull(),
    problem: text('problem').notNull().default(''),
    /** Rises with every look: two servers that look at once tell once. */
    looks: integer('looks').notNull().default(0),
    /** The access rules of its person at the last look. */
    rules: jsonb('rules').$type<AccessRule[]>(),
    createdAt: at('created_at').notNull().defaultNow(),
  },
  (table) => [index('watches_by_person').on(table.person)],
);

/** That a watched figure changed its state. */
export const signals = app.table(
  'signals',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    report: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    label: text('label').notNull(),
    query: jsonb('query').$type<SavedView['query']>().notNull(),
    before: text('state_before').$type<State>().notNull(),
    after: text('state_after').$type<State>().notNull(),
    valueBefore: text('value_before').notNull(),
    valueAfter: text('value_after').notNull(),
    at: at('at').notNull().defaultNow(),
    seenAt: at('seen_at'),
    /** The access rules that its figures were seen under; not known of those from before they were kept. */
    rules: jsonb('rules').$type<AccessRule[]>(),
  },
  (table) => [index('signals_by_person').on(table.person, table.id)],
);

/** The simulated mail box: letters that would have been sent. */
export const mails = app.table(
  'mails',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    person: text('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    address: text('address').notNull(),
    subject: text('subject').notNull(),
    body: text('body').notNull(),
    /** The access rules that its figures were seen under. */
    rules: jsonb('rules').$type<AccessRule[]>(),
    at: at('at').notNull().defaultNow(),
  },
  (table) => [index('mails_by_person').on(table.person, table.id)],
);

/** What an analyst said a text of a file means: kept for the next file. */
export const corrections = app.table(
  'corrections',
  {
    dataset: text('dataset').notNull(),
    level: text('level').notNull(),
    text: text('text').notNull(),
    member: text('member').notNull(),
  },
  (table) => [primaryKey({ columns: [table.dataset, table.level, table.text] })],
);

/** Where the tiles behind maps come from: one row, or none. */
export const tileServer = app.table(
  'tile_server',
  {
    one: boolean('one').primaryKey().default(true),
    address: text('address').notNull(),
    attribution: text('attribution').notNull().default(''),
  },
  (table) => [check('tile_server_is_one', sql`${table.one}`)],
);
