import type { JoinAsked, JoinCheck, TableSummary } from '@bold-compass/core/api';
import type { ColumnType } from '@bold-compass/core/model';
import type { Queryable } from '../sql/index.ts';

/** Where a database is, and who asks it. */
export interface ConnectionSettings {
  host: string;
  port: number;
  database: string;
  user: string;
  password: string;
}

/** The most that is taken of a database before its connection is cut. */
export interface SessionLimits {
  /** Of one statement. */
  milliseconds: number;
  rowBytes: number;
  /** Of all rows until `Session.countAnew`. */
  answerBytes: number;
}

/** An answer of a database that is larger than is taken. The connection is cut as soon as that shows. */
export class AnswerTooLarge extends Error {
  constructor(readonly bytes: number) {
    super(`This answer is larger than ${Math.round(bytes / 1_000_000)} MB.`);
    this.name = 'AnswerTooLarge';
  }
}

/** A column of what a statement answers. */
export interface DescribedColumn {
  name: string;
  type: ColumnType;
  /** Decimal places; null where the type does not say, so that only the records tell. */
  scale: number | null;
  /** A binary floating-point number: what it holds is itself a rounding. */
  approximate: boolean;
}

/** A statement with the values of its placeholders, in their order. */
export interface Bound {
  text: string;
  values: readonly (string | null)[];
}

/** The rows of a statement, as many at a time as they are asked for, each value as the text that the server writes. */
export interface TextRows {
  /** The next rows; fewer than asked for where these are the last. */
  next(count: number): Promise<(string | null)[][]>;
  /** Ends before all rows were read. */
  close(): Promise<void>;
}

/** A database while it is asked: it reads only, and nothing of it stays. */
export interface Session extends Queryable {
  /** The columns of what a statement answers, without its records. */
  describe(statement: Bound): Promise<DescribedColumn[]>;
  read(statement: Bound): TextRows;
  /** Begins to count the bytes of an answer anew. */
  countAnew(): void;
  end(): Promise<void>;
}

/** Why a server refused a statement. `at` is the place in the statement, counted from 0, where it says one. */
export interface Refusal {
  reason: 'syntax' | 'writes' | 'too-slow' | 'not-open' | 'name' | 'other';
  /** What the server says, and what it advises. */
  message: string;
  hint: string;
  at: number | null;
}

/** What a written query is put into: a statement, and how many characters of it stand before the query. */
export interface Wrapped {
  text: string;
  offset: number;
}

/** How statements about written queries are written for a kind of database. `query` is one without the semicolon that ends it. */
export interface SourceDialect {
  /** All columns and no row: what describes the query. */
  described(query: string): Wrapped;
  /** The first rows, each value cut after some characters. */
  firstRows(query: string, columns: number, rows: number, characters: number): Wrapped;
  /** Some columns of all rows, as texts of which every digit is kept. */
  columns(query: string, columns: readonly Pick<DescribedColumn, 'name' | 'type' | 'approximate'>[]): string;
  /** Everything in a table. */
  table(schema: string, table: string): string;
}

/** A kind of database that records are read from. What its package is called is known in its folder only. */
export interface Driver {
  /** Connects, to read only. Throws ApiError `connection-failed` in words for people. */
  open(settings: ConnectionSettings, limits: SessionLimits): Promise<Session>;
  /**
   * Refuses a connection that leads to the application's own database with more rights than a source needs. Throws ApiError
   * `connection-failed`.
   */
  refuseOwn(session: Session, own: Queryable): Promise<void>;
  /** The tables and views that the user may read, with the server's estimate of their rows. */
  tables(session: Session): Promise<TableSummary[]>;
  /** What the data says of a join; keys are held against each other as texts, whatever their types. */
  joinCheck(session: Session, join: JoinAsked, examples: number): Promise<JoinCheck>;
  /** Why a statement was refused; null where that is not what went wrong. */
  refusalOf(error: unknown): Refusal | null;
  dialect: SourceDialect;
}
