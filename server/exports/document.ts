import { LOCALE } from '@bold-compass/core/format';
import { withAggregations } from '@bold-compass/core/crosstab';
import { exportedKind, type ExportDocument, type ExportPart } from '@bold-compass/core/exports';
import type { DataExhibit, Exhibit } from '@bold-compass/core/model';
import type { GatheredExhibit, GatheredPart, GatheredReport } from './gathered.ts';

const placeOf = ({ id, width, startsPage = false }: Pick<Exhibit, 'id' | 'width' | 'startsPage'>) => ({ id, width, startsPage });

function drawn({ exhibit, title, section, note, number, dataset, dataTo, answers, state, beyond }: GatheredExhibit): ExportPart {
  const kind = exportedKind(exhibit.kind);
  const own = withAggregations(dataset, exhibit) as { dataset: typeof dataset; exhibit: DataExhibit };
  const look = { dataset: own.dataset, dataTo, locale: LOCALE, beyond };
  const part = kind.draw(look, own.exhibit, kind.joined(answers as never), state);
  return { ...part, ...placeOf(exhibit), title, section, number, note };
}

function partOf(part: GatheredPart): ExportPart {
  if (part.kind === 'data') return drawn(part);
  if (part.kind === 'failed') return { kind: 'text', ...placeOf(part), text: `**${part.title}**\n\n${part.problem}` };
  const { exhibit } = part;
  if (exhibit.kind === 'text') return { kind: 'text', ...placeOf(exhibit), text: exhibit.text };
  if (exhibit.kind === 'image') return { kind: 'picture', ...placeOf(exhibit), source: exhibit.source, words: exhibit.words };
  return { kind: 'divider', ...placeOf(exhibit) };
}

/** A gathered report as it is written. */
export function documentOf({ pages, pictures: _, ...head }: GatheredReport): ExportDocument {
  return { ...head, pages: pages.map(({ title, parts }) => ({ title, parts: parts.map(partOf) })) };
}
