/** Where something stands in the text of a formula. */
export interface Span {
  from: number;
  to: number;
}

export type BinaryOperator = '^' | '*' | '/' | '%' | '+' | '-' | '||';
export type ComparisonOperator = '=' | '<>' | '<' | '<=' | '>' | '>=';

/** A name as it is written; in quotes it is never a word with a meaning of its own, such as `parent`. */
export interface WrittenName {
  name: string;
  quoted: boolean;
  span: Span;
}

/** A formula as written: nothing is resolved yet. */
export type Syntax =
  | { kind: 'number'; text: string; span: Span }
  | { kind: 'text'; value: string; span: Span }
  | { kind: 'date'; value: string; span: Span }
  | { kind: 'boolean'; value: boolean; span: Span }
  | { kind: 'null'; span: Span }
  | { kind: 'name'; name: string; quoted: boolean; span: Span }
  | { kind: 'call'; name: string; args: Syntax[]; named: { name: string; value: Syntax; span: Span }[]; where: Syntax | null; span: Span }
  | { kind: 'per'; operand: Syntax | null; levels: WrittenName[]; span: Span }
  | { kind: 'duration'; amount: string; unit: string; span: Span }
  | { kind: 'at'; operand: Syntax; level: WrittenName; span: Span }
  | { kind: 'back'; operand: Syntax; duration: Extract<Syntax, { kind: 'duration' }>; span: Span }
  | { kind: 'negative'; operand: Syntax; span: Span }
  | { kind: 'binary'; op: BinaryOperator; left: Syntax; right: Syntax; span: Span }
  | { kind: 'comparison'; op: ComparisonOperator; left: Syntax; right: Syntax; span: Span }
  | { kind: 'in'; negated: boolean; operand: Syntax; items: Syntax[]; span: Span }
  | { kind: 'between'; negated: boolean; operand: Syntax; low: Syntax; high: Syntax; span: Span }
  | { kind: 'isNull'; negated: boolean; operand: Syntax; span: Span }
  | { kind: 'like'; negated: boolean; operand: Syntax; pattern: string; span: Span }
  | { kind: 'not'; operand: Syntax; span: Span }
  | { kind: 'and' | 'or'; left: Syntax; right: Syntax; span: Span }
  | { kind: 'case'; branches: { when: Syntax; then: Syntax }[]; otherwise: Syntax | null; span: Span };

/** What is wrong with a formula: a code with its parameters, and where. Wording is the interface's affair. */
export interface FormulaProblem {
  code:
    | 'syntax'
    | 'empty'
    | 'too-deep'
    | 'too-large'
    | 'unknown-name'
    | 'unknown-function'
    | 'argument-count'
    | 'record-value-in-measure'
    | 'aggregate-in-record'
    | 'condition-outside-aggregate'
    | 'not-a-condition'
    | 'not-a-number'
    | 'literal-expected'
    | 'fraction-out-of-range'
    | 'several-facts'
    | 'no-fact'
    | 'unknown-argument'
    | 'duration-expected'
    | 'not-a-level'
    | 'not-a-period'
    | 'name-expected'
    | 'word-expected'
    | 'whole-number-expected'
    | 'not-a-member-aggregate'
    | 'types-differ'
    | 'value-expected'
    | 'condition-as-value'
    | 'running-aggregate'
    | 'no-prompt'
    | 'cycle';
  span: Span;
  /** The offending text, and what helps: the nearest known name, the members of a cycle, … */
  subject: string;
  hint?: string;
}

export class FormulaError extends Error {
  constructor(readonly problem: FormulaProblem) {
    super(describeProblem(problem));
    this.name = 'FormulaError';
  }
}

/** A problem in plain English. */
export function describeProblem({ code, subject, hint }: FormulaProblem): string {
  switch (code) {
    case 'syntax':
      return subject ? `"${subject}" is not expected here.` : 'Something is missing here: a value, a name or a closing bracket.';
    case 'empty':
      return 'Write a formula, for example sum(quantity).';
    case 'too-deep':
      return `This is nested more than ${subject} deep. Move a part of it into a measure of its own.`;
    case 'too-large':
      return `This is calculated in more than ${subject} steps for each cell. Make it of fewer parts.`;
    case 'unknown-name':
      return `There is no field or measure called "${subject}".${hint ? ` Did you mean ${hint}?` : ''}`;
    case 'unknown-function':
      return `There is no function called "${subject}".${hint ? ` Did you mean ${hint}?` : ''}`;
    case 'argument-count':
      return `${subject} takes ${hint}.`;
    case 'record-value-in-measure':
      return `"${subject}" has one value per record: wrap it in sum(…) or avg(…).`;
    case 'aggregate-in-record':
      return `"${subject}" has one value per cell and cannot stand inside an aggregate.`;
    case 'condition-outside-aggregate':
      return `A condition after "where" belongs inside an aggregate such as sum(…), not in ${subject}.`;
    case 'not-a-condition':
      return `"${subject}" is not a condition. Compare it with something, as in channel = 'Online'.`;
    case 'not-a-number':
      return `"${subject}" is not a number and cannot be calculated with.`;
    case 'literal-expected':
      return `Compare with a plain text, number or date; "${subject}" is none.`;
    case 'fraction-out-of-range':
      return `The fraction of a percentile lies between 0 and 1; "${subject}" does not.`;
    case 'several-facts':
      return `One aggregate reads one fact, but ${subject} are in different ones.`;
    case 'no-fact':
      return `It is not clear which records "${subject}" reads. Choose the measure's fact.`;
    case 'unknown-argument':
      return `There is no argument called "${subject}" here.${hint ? ` It takes ${hint}.` : ''}`;
    case 'duration-expected':
      return `"${subject}" is no length of time: write a whole number and years, quarters, months, weeks or days, as in 1 year.`;
    case 'not-a-level':
      return `"${subject}" is no level. Name a level of a dimension or a period of a calendar.`;
    case 'not-a-period':
      return `"${subject}" is no period. Write year, quarter or month, or name a level of a calendar.`;
    case 'name-expected':
      return `Write a name here instead of "${subject}".`;
    case 'word-expected':
      return `After "${subject}" one of these stands: ${hint}.`;
    case 'whole-number-expected':
      return `"${subject}" has to be a whole number from 1 to 1000.`;
    case 'not-a-member-aggregate':
      return `${subject} cannot be calculated over members. Write sum, avg, min, max, count, median, percentile or a deviation.`;
    case 'types-differ':
      return `${hint ?? 'Values of different types'} cannot stand together in "${subject}".`;
    case 'value-expected':
      return `"${subject}" has to be a ${hint}.`;
    case 'condition-as-value':
      return `"${subject}" is a condition. Write what stands for it, as in if(${subject}, 1, 0).`;
    case 'running-aggregate':
      return `running cannot go over "${subject}": medians, deviations and distinct counts have to be of a field. Make what they are of a calculated field.`;
    case 'no-prompt':
      return subject && hint === 'outside'
        ? `prompt(${subject}) is answered in a report: write this as a measure of the report that has the prompt.`
        : `There is no prompt called "${subject}" that stands for one value in this report.${hint ? ` Did you mean ${hint}?` : ''}`;
    case 'cycle':
      return `These measures need each other: ${subject}.`;
  }
}
