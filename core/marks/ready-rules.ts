import { printName } from '../formula/index.ts';
import { fieldLabel, measureNamed, type Axis, type Dataset } from '../model/index.ts';

/** A rule to begin with: what it is called, the condition, and what the legend says of it. */
export interface ReadyRule {
  title: string;
  formula: string;
  label: string;
}

const SOME = 3;

/** Rules that most tables begin with, for a measure of a table: against the average of its level in the column, by rank, within limits. */
export function readyRules(dataset: Dataset, { side }: { side: Pick<Axis, 'fields'> }, measure: string): ReadyRule[] {
  const { label } = measureNamed(dataset, measure);
  const own = printName(measure);
  /** Each member against the members of its own level. */
  const againstAverage = (sign: '<' | '>'): string =>
    side.fields
      .map((field) => {
        const level = printName(field);
        const held = `${own} ${sign} (avg(${own} per ${level}) at column)`;
        return `level_is(${level}) and ${held}`;
      })
      .join(' or ');
  const [field] = side.fields;
  const members =
    field === undefined
      ? []
      : [
          { title: 'Above average', formula: againstAverage('>'), label: 'Above the average of the column' },
          { title: 'Below average', formula: againstAverage('<'), label: 'Below the average of the column' },
          { title: `Top ${SOME}`, formula: `rank(${own}) <= ${SOME}`, label: `Top ${SOME} by ${label.toLowerCase()}` },
          { title: `Bottom ${SOME}`, formula: `rank(${own}, order: asc) <= ${SOME}`, label: `Bottom ${SOME} by ${label.toLowerCase()}` },
        ];
  return [
    ...members,
    { title: 'Between two values', formula: `${own} between 0 and 100`, label: '' },
    { title: 'Over a value', formula: `${own} > 100`, label: '' },
    { title: 'Less than last year', formula: `${own} < ${own} back 1 year`, label: 'Less than last year' },
  ].map((rule) => ({
    ...rule,
    title:
      field !== undefined && rule.title.endsWith('average')
        ? `${rule.title} of ${side.fields.map((one) => fieldLabel(dataset, one).toLowerCase()).join(', ')}`
        : rule.title,
  }));
}
