import { notesAt, type Category, type Series } from '@bold-compass/core/chart';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import type { DrawnWith } from './drawing.ts';
import { CHART_FONT } from './tokens.ts';
import { textWidth, wrappedWords } from './wrapped-words.ts';

/** How wide a note may be, how far it stands from its point, and its margins, in pixels. */
const [WIDTH, FAR, MARGIN] = [130, 34, 14];

/** Where a note's point is: on the scales, and as shares of their lengths from the left and the bottom. */
export interface NotePlace {
  x: number;
  y: number;
  fromLeft: number;
  fromBottom: number;
}

/** Notes beside their points, each with a line to it, turned to where there is room. */
export function pointNotes(
  { settings, measures, tokens, width }: DrawnWith,
  series: readonly Series[],
  categories: readonly Category[],
  placeOf: (series: number, category: number) => NotePlace | null,
): AnnotationOptions[] {
  return notesAt(settings.notes, measures, series, categories).flatMap(({ series: own, category, text }): AnnotationOptions[] => {
    const place = placeOf(own, category);
    if (!place) return [];
    const { x, y, fromLeft, fromBottom } = place;
    const lines = wrappedWords(text, Math.min(WIDTH, width / 3));
    // Aside of its point, towards the middle, so that it is not cut off.
    const aside = Math.max(...lines.map(textWidth)) / 2 + MARGIN;
    return [
      {
        ...{ type: 'label', xValue: x, yValue: y, content: lines, textAlign: 'left' },
        ...{ xAdjust: fromLeft > 0.5 ? -aside : aside, yAdjust: fromBottom > 0.6 ? FAR : -FAR },
        ...{ color: tokens.ink, backgroundColor: tokens.paper, borderColor: tokens.rule, borderWidth: 1, borderRadius: 3, padding: 4 },
        font: { family: CHART_FONT, size: 12, style: 'italic' },
        callout: { display: true, borderColor: tokens.quiet, borderWidth: 1, margin: 2 },
      },
    ];
  });
}
