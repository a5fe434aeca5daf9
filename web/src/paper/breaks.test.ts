import { reportSchema, textSchema } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { breaksOf, movedBreak, placesOn, withBreak } from './breaks.ts';

const part = (exhibit: string, top: number, height: number, continues = false) => ({ exhibit, top, height, continues });
const page = (...parts: ReturnType<typeof part>[]) => ({ width: 842, height: 595, begins: null, parts });
const report = reportSchema.parse({
  ...{ schemaVersion: 1, id: 'r', title: 'R', dataset: 'd' },
  exhibits: ['one', 'two', 'three', 'four'].map((id) =>
    textSchema.parse({ kind: 'text', id, text: id, startsPage: id === 'three' || undefined }),
  ),
});

describe('breaks between pages', () => {
  const pages = [
    page(part('one', 42, 100), part('two', 160, 300)),
    page(part('two', 42, 80, true)),
    page(part('three', 42, 100), part('four', 42, 90)),
    page(),
  ];

  it('say what the next page begins with, and whether they were put there', () => {
    expect(breaksOf(pages, report.exhibits)).toEqual([
      { page: 0, exhibit: 'two', begins: null, continues: true, isSet: false },
      { page: 1, exhibit: 'three', begins: null, continues: false, isSet: true },
    ]);
  });

  it('are none that were put there where a section begins', () => {
    const begun = pages.map((own, index) => (index === 2 ? { ...own, begins: 'Nordic' } : own));
    expect(breaksOf(begun, report.exhibits)[1]).toEqual({ page: 1, exhibit: 'three', begins: 'Nordic', continues: false, isSet: false });
  });

  it('can be put above what begins below the top of a page, once for what stands beside each other', () => {
    expect(placesOn(pages[0])).toEqual([{ exhibit: 'two', top: 160 }]);
    expect(placesOn(pages[1])).toEqual([]);
    expect(placesOn(page(part('one', 42, 50), part('four', 200, 10), part('two', 110, 20), part('three', 110, 30)))).toEqual([
      { exhibit: 'two', top: 110 },
      { exhibit: 'four', top: 200 },
    ]);
    expect(placesOn(page())).toEqual([]);
  });

  it('that were put there move, others are added to', () => {
    const starts = ({ exhibits }: typeof report) => exhibits.filter(({ startsPage }) => startsPage).map(({ id }) => id);
    const [own, set] = breaksOf(pages, report.exhibits);
    expect(starts(movedBreak(report, set, 'two'))).toEqual(['two']);
    expect(starts(movedBreak(report, own, 'two'))).toEqual(['two', 'three']);
    expect(withBreak(report, 'three', false).exhibits[2]).not.toHaveProperty('startsPage', false);
    expect(starts(withBreak(report, 'three', false))).toEqual([]);
  });
});
