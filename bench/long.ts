import { crosstabSchema, datasetSchema } from '@bold-compass/core/model';

/** Texts that grow eightfold with each step, of every person and row: what an analyst may write, and nobody waits for gladly. */
function hostileFormula(): string {
  const texts = Array.from({ length: 8 }, () => 'replace(').join('');
  const widened = Array.from({ length: 8 }, (_, at) => `, '${at}', '01234567')`).join('');
  return `sum(length(${texts}max(person)${widened}) per person)`;
}

/** People with five visits each: a cross-tab of one long level. */
export const longDataset = datasetSchema.parse({
  ...{ schemaVersion: 1, name: 'long', label: 'Long' },
  dimensions: [
    {
      ...{ kind: 'table', name: 'people', label: 'People', table: 'people', key: 'id' },
      levels: [{ name: 'person', label: 'Person', plural: 'people', column: 'id', labelColumn: 'name', type: 'text' }],
    },
  ],
  facts: [
    {
      ...{ name: 'visits', label: 'Visits', record: { one: 'visit', many: 'visits' }, table: 'visits' },
      links: [{ dimension: 'people', column: 'id' }],
      fields: [{ name: 'hours', label: 'Hours', column: 'hours', type: 'integer' }],
    },
  ],
  measures: [
    { name: 'hours_spent', label: 'Hours', formula: 'sum(hours)', fact: 'visits' },
    { name: 'hostile', label: 'Hostile', formula: hostileFormula() },
  ],
});

/** Visits of each person. */
export const VISITS = 5;
export const idOf = (person: number): string => `p${String(person).padStart(7, '0')}`;
/** A name whose order is not that of the ids. */
export const nameOf = (person: number, people: number): string => `Person ${(person * 7_919) % people} of ${people}`;
export const hoursOf = (visit: number): number => visit % 9;

export const longCrosstab = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'long', title: 'Long', side: { fields: ['person'] }, top: { fields: [] } },
  cells: [{ measure: 'hours_spent' }],
});

/** The same with the hostile measure beside it. */
export const hostileCrosstab = crosstabSchema.parse({
  ...longCrosstab,
  id: 'hostile',
  cells: [{ measure: 'hostile' }, { measure: 'hours_spent' }],
});

const axis = { open: { depth: 0, exceptions: [] }, hideEmpty: true };
/** What a reader asks for who scrolled to a row. */
export const windowAt = (from: number): object => ({ side: axis, top: axis, rows: { from, count: 80 }, columns: { from: 0, count: 40 } });
