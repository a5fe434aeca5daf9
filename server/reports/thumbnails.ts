import type { Thumbnail, ThumbnailPart, ValuesResponse } from '@bold-compass/core/api';
import { dataDays, thumbnailOf, thumbnailQuestion } from '@bold-compass/core/answers';
import { filledText, measuresInTexts } from '@bold-compass/core/exhibits';
import { plainMemberLabel } from '@bold-compass/core/format';
import type { DataExhibit, Report } from '@bold-compass/core/model';
import { initialReaderScope } from '@bold-compass/core/prompts';
import { ByteCache, type DatasetReader } from '../data/index.ts';
import type { Caller } from '../people/index.ts';
import { datasetsIn } from './library.ts';
import { LOCALE, type ReportReader } from './report-reader.ts';

const BYTES = 20_000_000;

/**
 * First pages of reports made small. Each is remembered by the state of the document and, for every dataset it answers from,
 * by the version of the data and the access rules of who sees it.
 */
export class Thumbnails {
  private readonly made = new ByteCache<Thumbnail>(BYTES, (thumbnail) => JSON.stringify(thumbnail).length * 2);

  constructor(private readonly reports: ReportReader) {}

  /** Throws ApiError `report-not-found`, `not-allowed`. */
  async of(caller: Caller, id: string): Promise<Thumbnail> {
    const { stored, reader } = await this.reports.report(caller, id, false);
    const others = datasetsIn(stored.report).filter((name) => name !== stored.report.dataset);
    const readers = [reader, ...(await Promise.all(others.map((name) => this.reports.reader(caller, name))))];
    const key = JSON.stringify([stored.state, ...readers.map((one) => one.key)]);
    let thumbnail = this.made.get(key);
    if (!thumbnail) {
      const seen = await this.reports.documentFor(caller, stored.report, reader);
      const asked = initialReaderScope(seen);
      const draw = async (exhibit: DataExhibit): Promise<Partial<ThumbnailPart>> => {
        const question = thumbnailQuestion(exhibit.kind);
        if (!question) return {};
        const opened = await this.reports.opened(caller, stored.report, reader, exhibit, asked);
        const answer = await this.reports.answer(caller, question, opened, question.thumbnail.request(exhibit));
        const look = { dataset: opened.reader.dataset, dataTo: (await this.reports.span(opened.reader)).dataTo, locale: LOCALE };
        return question.thumbnail.draw(look, exhibit, answer.read());
      };
      const fill = this.filling(caller, { ...stored, report: seen }, reader);
      thumbnail = fill.then((filled) =>
        thumbnailOf(seen, (shown) => draw(stored.report.exhibits.find(({ id: own }) => own === shown.id) as DataExhibit), filled),
      );
      this.made.set(key, thumbnail);
    }
    return thumbnail;
  }

  /** What fills values into the texts of a report, as it is first seen. What cannot be calculated has no value. */
  private async filling(
    caller: Caller,
    { report, edition }: { report: Report; edition: number | null },
    reader: DatasetReader,
  ): Promise<(text: string) => string> {
    const asked = initialReaderScope(report);
    const { dataset } = reader;
    const measures = measuresInTexts(dataset, report);
    const under = this.reports.conditions(report, reader, asked);
    const figures = (
      measures.length === 0
        ? {}
        : await this.reports.values(caller, reader, measures, under).then(
            (answer) => answer.read(),
            () => ({}),
          )
    ) as ValuesResponse;
    const { dataTo } = await this.reports.span(reader);
    const wording = { dataset, label: plainMemberLabel(dataset, LOCALE), locale: LOCALE, days: dataDays(reader) };
    return (text) => filledText(text, { report, asked, wording, dataTo, edition, figure: (measure) => figures[measure]?.value ?? null });
  }
}
