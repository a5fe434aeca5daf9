import { notesAt, type Category, type Series } from '@bold-compass/core/chart';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import type { DrawnWith } from './drawing.ts';
import { CHART_FONT } from './tokens.ts';
import { wrappedWords } from './wrapped-words.ts';

/** How wide a note may be, and how far it stands from its point, in pixels. */
const [WIDTH, FAR, ASIDE] = [130, 34, 46];

/** Where a note's point is: on the scales, and as shares of their lengths from the left and the bottom. */
export interface NotePlace {
  x: number;
  y: number;
  fromLeft: number;
  fromBottom: number;
}

/** Notes beside their points, each with a line to it, turned to where there is room. */
export function pointNotes(
  { settings, measures, tokens }: DrawnWith,
  series: readonly Series[],
  categories: readonly Category[],
  placeOf: (series: number, category: number) => NotePlace | null,
): AnnotationOptions[] {
  return notesAt(settings.notes, measures, series, categories).flatMap(({ series: own, category, text }): AnnotationOptions[] => {
    const place = placeOf(own, category);
    if (!place) return [];
    const { x, y, fromLeft, fromBottom } = place;
    return [
      {
        ...{ type: 'label', xValue: x, yValue: y, content: wrappedWords(text, WIDTH), textAlign: 'left' },
        ...{ xAdjust: fromLeft > 0.75 ? -ASIDE : fromLeft < 0.25 ? ASIDE : 0, yAdjust: fromBottom > 0.6 ? FAR : -FAR },
        ...{ color: tokens.ink, backgroundColor: tokens.paper, borderColor: tokens.rule, borderWidth: 1, borderRadius: 3, padding: 4 },
        font: { family: CHART_FONT, size: 12, style: 'italic' },
        callout: { display: true, borderColor: tokens.quiet, borderWidth: 1, margin: 2 },
      },
    ];
  });
}
