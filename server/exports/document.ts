import { LOCALE } from '@bold-compass/core/format';
import { withAggregations } from '@bold-compass/core/crosstab';
import { exportedKind, type ExportDocument, type ExportPart } from '@bold-compass/core/exports';
import type { DataExhibit } from '@bold-compass/core/model';
import type { GatheredExhibit, GatheredPart, GatheredReport } from './gathered.ts';

function drawn({ exhibit, title, section, note, number, dataset, dataTo, answers, state, beyond }: GatheredExhibit): ExportPart {
  const kind = exportedKind(exhibit.kind);
  const own = withAggregations(dataset, exhibit) as { dataset: typeof dataset; exhibit: DataExhibit };
  const look = { dataset: own.dataset, dataTo, locale: LOCALE, beyond };
  const part = kind.draw(look, own.exhibit, kind.joined(answers as never), state);
  return { ...part, id: exhibit.id, width: exhibit.width, title, section, number, note };
}

function partOf(part: GatheredPart): ExportPart {
  if (part.kind === 'data') return drawn(part);
  if (part.kind === 'failed') return { kind: 'text', width: part.width, text: `**${part.title}**\n\n${part.problem}` };
  const { exhibit } = part;
  const { width } = exhibit;
  if (exhibit.kind === 'text') return { kind: 'text', width, text: exhibit.text };
  if (exhibit.kind === 'image') return { kind: 'picture', width, source: exhibit.source, words: exhibit.words };
  return { kind: 'divider', width };
}

/** A gathered report as it is written. */
export function documentOf({ pages, pictures: _, ...head }: GatheredReport): ExportDocument {
  return { ...head, pages: pages.map(({ title, parts }) => ({ title, parts: parts.map(partOf) })) };
}
