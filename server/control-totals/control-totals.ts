import { randomUUID } from 'node:crypto';
import type { ControlTotal, PinControlTotal } from '@bold-compass/core/api';
import { conditionsInWords, measureUnder } from '@bold-compass/core/answers';
import { QueryError } from '@bold-compass/core/engine';
import { measuresShown } from '@bold-compass/core/exhibits';
import { FormulaError, planMeasure } from '@bold-compass/core/formula';
import { fieldsOf, findField, findMeasure, isDataExhibit, type Filter, type Report } from '@bold-compass/core/model';
import { and, asc, eq, inArray } from 'drizzle-orm';
import type { DatasetReader } from '../data/index.ts';
import { tables, type Database } from '../database/index.ts';
import { maySee, type Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import type { ReportReader } from '../reports/index.ts';

type Row = typeof tables.controlTotals.$inferSelect & { name: string | null };
type Checked = Pick<ControlTotal, 'value' | 'difference' | 'state' | 'reason'>;

/** As many control totals a dataset may have: all of them are calculated with it. */
const MOST = 500;

/**
 * Figures that must hold. Each is recalculated over every version of the data and of its definition, so that a refresh
 * or a changed formula that breaks one shows with the next look. They are figures of all records: who sees only some of them is
 * told that one does not tie out, and nothing else.
 */
export class ControlTotals {
  private readonly results = new Map<string, { key: string; result: Promise<Checked> }>();

  constructor(
    private readonly db: Database,
    private readonly reports: ReportReader,
  ) {}

  /** All of a dataset, with what the data says of them. Throws ApiError `not-found`, `not-allowed`. */
  async of(caller: Caller, dataset: string): Promise<ControlTotal[]> {
    return this.checked(caller, await this.reports.reader(caller, dataset), await this.rows(dataset));
  }

  /** How many are pinned on a measure, and how many of them do not tie out, in every dataset that the caller sees. */
  async counts(caller: Caller): Promise<(dataset: string, measure: string) => { controlTotals: number; untied: number }> {
    const { controlTotals: pinned, datasets } = tables;
    const found = await this.db
      .selectDistinct({ name: datasets.name, owner: datasets.owner, accessDecided: datasets.accessDecided })
      .from(pinned)
      .innerJoin(datasets, eq(datasets.name, pinned.dataset));
    const all = (await Promise.all(found.filter((dataset) => maySee(caller, dataset)).map(({ name }) => this.of(caller, name)))).flat();
    return (dataset, measure) => {
      const own = all.filter((total) => total.dataset === dataset && total.measure.toLowerCase() === measure.toLowerCase());
      return { controlTotals: own.length, untied: own.filter(({ state }) => state !== 'ties').length };
    };
  }

  /** Pins a figure. Throws ApiError `not-allowed`, `control-total-invalid`. */
  async pin(caller: Caller, dataset: string, pinned: PinControlTotal): Promise<ControlTotal> {
    const reader = await this.reports.reader(caller, dataset);
    requireWholeSight(reader);
    await requireSound(reader, pinned);
    if ((await this.rows(dataset)).length >= MOST)
      throw new ApiError(
        'control-total-invalid',
        `This dataset has ${MOST} control totals already. Delete some that are not needed any more.`,
      );
    const id = randomUUID();
    await this.db.insert(tables.controlTotals).values({ id, dataset, ...pinned, person: caller.person.id });
    const [made] = await this.checked(caller, reader, await this.rows(dataset, id));
    return made;
  }

  /** Throws ApiError `not-allowed`, `not-found`. */
  async remove(caller: Caller, dataset: string, id: string): Promise<void> {
    requireWholeSight(await this.reports.reader(caller, dataset));
    const gone = await this.db
      .delete(tables.controlTotals)
      .where(and(eq(tables.controlTotals.dataset, dataset), eq(tables.controlTotals.id, id)))
      .returning({ id: tables.controlTotals.id });
    if (gone.length === 0)
      throw new ApiError('not-found', 'This control total is not there any more. Reload the page to see those there are.');
    this.results.delete(id);
  }

  /** Those of the measures that a report shows which do not tie out. */
  async untiedIn(caller: Caller, report: Report): Promise<ControlTotal[]> {
    const names = [
      ...new Set([report.dataset, ...report.exhibits.flatMap((one) => (isDataExhibit(one) && one.dataset ? [one.dataset] : []))]),
    ];
    const rows = await this.db
      .select({ dataset: tables.controlTotals.dataset })
      .from(tables.controlTotals)
      .where(inArray(tables.controlTotals.dataset, names));
    const found = await Promise.all(
      [...new Set(rows.map(({ dataset }) => dataset))].map(async (name) => {
        const reader = await this.reports.reader(caller, name);
        const shown = measuresShown(report, name, reader.withMeasures(name === report.dataset ? report.measures : []).dataset);
        const meant = (await this.rows(name)).filter(({ measure }) => shown.has(measure.toLowerCase()));
        return this.checked(caller, reader, meant);
      }),
    );
    return found.flat().filter(({ state }) => state !== 'ties');
  }

  private rows(dataset: string, id?: string): Promise<Row[]> {
    const { controlTotals: pinned, people } = tables;
    return this.db
      .select({
        ...{ id: pinned.id, dataset: pinned.dataset, measure: pinned.measure, filter: pinned.filter, expected: pinned.expected },
        ...{ note: pinned.note, person: pinned.person, createdAt: pinned.createdAt, name: people.name },
      })
      .from(pinned)
      .leftJoin(people, eq(people.id, pinned.person))
      .where(and(eq(pinned.dataset, dataset), id === undefined ? undefined : eq(pinned.id, id)))
      .orderBy(asc(pinned.createdAt), asc(pinned.id));
  }

  private async checked(caller: Caller, reader: DatasetReader, rows: Row[]): Promise<ControlTotal[]> {
    if (rows.length === 0) return [];
    const seesAll = reader.restriction === null;
    const whole = await this.reports.wholeReader(reader.dataset.name);
    const context = this.reports.context(reader, caller);
    return Promise.all(
      rows.map(async ({ id, dataset, measure, filter, expected, note, name, createdAt }): Promise<ControlTotal> => {
        const result = await this.result(whole, id, measure, filter, expected);
        const known = { ...{ id, dataset, measure }, createdAt: createdAt.toISOString(), person: name ?? '' };
        if (!seesAll)
          return {
            ...known,
            ...{ conditions: [], expected: '', note: '', value: null, difference: null, reason: '' },
            state: result.state,
          };
        const isKnown = fieldsOf(filter).every((field) => findField(reader.dataset, field));
        return { ...known, ...result, expected, note, conditions: isKnown ? await conditionsInWords(context, filter) : [] };
      }),
    );
  }

  private result(whole: DatasetReader, id: string, measure: string, filter: Filter | null, expected: string): Promise<Checked> {
    const known = this.results.get(id);
    // The key is another one with every load, every applied definition, and each minute over records at their source.
    if (known?.key === whole.key) return known.result;
    const result = check(whole, measure, filter, expected);
    this.results.set(id, { key: whole.key, result });
    return result;
  }
}

function requireWholeSight(reader: DatasetReader): void {
  if (reader.restriction !== null)
    throw new ApiError(
      'not-allowed',
      'A control total is a figure of all records, and you see only some of them. Ask someone who sees all to pin it.',
    );
}

/** Throws ApiError `control-total-invalid` for what cannot be calculated. */
async function requireSound(reader: DatasetReader, { measure, filter }: PinControlTotal): Promise<void> {
  const { dataset } = reader;
  if (!findMeasure(dataset, measure))
    throw new ApiError(
      'control-total-invalid',
      `There is no measure called "${measure}" in ${dataset.label}. Pin a figure of one of its measures.`,
    );
  const unknown = fieldsOf(filter).find((field) => !findField(dataset, field));
  if (unknown)
    throw new ApiError(
      'control-total-invalid',
      `There is no field called "${unknown}" in ${dataset.label}. Pin a figure of what there is.`,
    );
  const { state, reason } = await check(reader, measure, filter, '0');
  if (state === 'unknown')
    throw new ApiError('control-total-invalid', `This figure cannot be calculated: ${reason} Pin one that has a value.`);
}

/** Half of the last digit that was typed: rounded to these digits, the figures are the same. */
const toleranceOf = (expected: string): number => 0.5 * 10 ** -(expected.split('.')[1]?.length ?? 0) + 1e-9;

async function check(reader: DatasetReader, measure: string, filter: Filter | null, expected: string): Promise<Checked> {
  const unknown = (reason: string): Checked => ({ value: null, difference: null, state: 'unknown', reason });
  const { dataset } = reader;
  if (!findMeasure(dataset, measure)) return unknown(`There is no measure called "${measure}" any more.`);
  const field = fieldsOf(filter).find((one) => !findField(dataset, one));
  if (field) return unknown(`There is no field called "${field}" any more.`);
  try {
    if (planMeasure(dataset, measure).type !== 'number') return unknown('It is no number.');
    const { value, reason } = await measureUnder({ dataset, data: reader }, measure, filter);
    if (Number.isNaN(value)) return unknown(reason);
    const difference = value - Number(expected);
    return { value, difference, state: Math.abs(difference) <= toleranceOf(expected) ? 'ties' : 'differs', reason: '' };
  } catch (error) {
    if (error instanceof FormulaError || error instanceof QueryError || error instanceof ApiError) return unknown(error.message);
    throw error;
  }
}
