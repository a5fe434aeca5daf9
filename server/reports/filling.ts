import { dataDays } from '@bold-compass/core/answers';
import type { ValuesResponse } from '@bold-compass/core/api';
import { filledText, measuresInTexts } from '@bold-compass/core/exhibits';
import { plainMemberLabel, type MemberLabel } from '@bold-compass/core/format';
import type { ReaderScope, Report } from '@bold-compass/core/model';
import type { DatasetReader } from '../data/index.ts';
import type { Caller } from '../people/index.ts';
import type { ReportReader } from './report-reader.ts';
import { LOCALE } from '@bold-compass/core/format';

/** Fills values into a text; `written` says how a value is written there. */
export type FillValues = (text: string, written?: (value: string) => string) => string;

/** What texts of a report are filled with. */
interface Filling {
  report: Report;
  edition: number | null;
  asked: ReaderScope;
  /** The words for members; their keys where it is not said. */
  label?: MemberLabel;
}

/** What fills values into the texts of a report. What cannot be calculated has no value. */
export async function fillingOf(
  reports: ReportReader,
  caller: Caller,
  reader: DatasetReader,
  { report, edition, asked, label }: Filling,
): Promise<FillValues> {
  const { dataset } = reader;
  const measures = measuresInTexts(dataset, report);
  const under = reports.conditions(report, reader, asked);
  const figures = (
    measures.length === 0
      ? {}
      : await reports.values(caller, reader, measures, under).then(
          (answer) => answer.read(),
          () => ({}),
        )
  ) as ValuesResponse;
  const { dataTo } = await reports.span(reader);
  const wording = { dataset, label: label ?? plainMemberLabel(dataset, LOCALE), locale: LOCALE, days: dataDays(reader) };
  const values = { report, asked, wording, dataTo, edition, figure: (measure: string) => figures[measure]?.value ?? null };
  return (text, written) => filledText(text, values, written);
}
