import type { ReportView } from '@bold-compass/core/api';
import { parseIsoDate } from '@bold-compass/core/calendar';
import { LOCALE, plainMemberLabel } from '@bold-compass/core/format';
import type { PromptWording } from '@bold-compass/core/prompts';

/** What choices of a report are put into words with. */
export const wordingOf = ({ dataset, dataFrom, dataTo }: ReportView): PromptWording => ({
  ...{ dataset, label: plainMemberLabel(dataset, LOCALE), locale: LOCALE },
  days: { first: parseIsoDate(dataFrom) ?? 0, last: parseIsoDate(dataTo) ?? 0 },
});
