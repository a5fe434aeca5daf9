import type { Thumbnail, ThumbnailPart } from '@bold-compass/core/api';
import { thumbnailOf, thumbnailQuestion } from '@bold-compass/core/answers';
import type { DataExhibit } from '@bold-compass/core/model';
import { initialReaderScope } from '@bold-compass/core/prompts';
import { ByteCache } from '../data/index.ts';
import type { Caller } from '../people/index.ts';
import { fillingOf } from './filling.ts';
import { datasetsIn } from './library.ts';
import type { ReportReader } from './report-reader.ts';
import { LOCALE } from '@bold-compass/core/format';

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
      const fill = fillingOf(this.reports, caller, reader, { report: seen, edition: stored.edition, asked });
      thumbnail = fill.then((filled) =>
        thumbnailOf(seen, (shown) => draw(stored.report.exhibits.find(({ id: own }) => own === shown.id) as DataExhibit), filled),
      );
      this.made.set(key, thumbnail);
    }
    return thumbnail;
  }
}
