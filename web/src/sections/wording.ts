import type { SectionLayout } from '@bold-compass/core/model';

/** How sections can be laid out, in words. */
export const LAYOUT_WORDS: Record<SectionLayout, string> = { 'one-page': 'One page', 'page-each': 'Page each', 'tab-each': 'Tab each' };
