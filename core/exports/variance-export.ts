import type { VarianceResponse } from '../api/index.ts';
import { cellText, plainFigure, unitWords } from '../format/index.ts';
import { measureNamed, type Measure, type Variance } from '../model/index.ts';
import { contributionRows, signedDifference, varianceColumns } from '../variance/index.ts';
import type { ExportLook } from './crosstab-export.ts';
import type { ExportCell, ExportLine, ExportTable } from './document.ts';

/** What members of a field made of a difference. */
function contributionTable(
  field: VarianceResponse['fields'][number],
  { format }: Measure,
  columns: readonly string[],
  locale: string,
): ExportTable {
  const cell = (value: number | null, text: string): ExportCell => ({
    ...{ value, text, format, state: null, bearing: null, marks: null },
    warns: value !== null && value < 0,
  });
  const lines = contributionRows(field, locale).map(({ label, before, after, change }): ExportLine => ({
    ...{ labels: [label], indent: 0, depth: 0, role: 'member', strong: false, startsGroup: false, band: false },
    cells: [
      cell(before, cellText(before, format, locale)),
      cell(after, cellText(after, format, locale)),
      cell(change, signedDifference(change, format, locale)),
    ],
  }));
  return {
    ...{ caption: `By ${field.label.toLowerCase()}`, unit: unitWords(format, locale), labels: [field.label], legend: [], lines },
    head: [columns.map((text, from) => ({ text, from, count: 1 }))],
    columns: columns.map((heading) => ({ heading, type: 'number', format })),
    plain: () => [
      [field.label, ...columns],
      ...lines.map(({ labels, cells }) => [
        labels[0],
        ...cells.map(({ value }) => (typeof value === 'number' ? plainFigure(value, format) : null)),
      ]),
    ],
  };
}

/** The members that made a difference, field by field. Throws UnknownNameError. */
export function varianceExport({ dataset, locale }: ExportLook, exhibit: Variance, answer: VarianceResponse): ExportTable[] {
  const measure = measureNamed(dataset, exhibit.measure);
  const { before, after, change } = varianceColumns(answer.between);
  return answer.fields.map((field) => contributionTable(field, measure, [before, after, change], locale));
}
