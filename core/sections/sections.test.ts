import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reportSchema, sectionsSchema, type Report } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import {
  allTogether,
  askedInSections,
  chosenSections,
  inSectionsOf,
  knownSections,
  levelsLeft,
  placeLeft,
  sectionFaults,
  sectionsOnPage,
  withSection,
  withSectionsOnPage,
  withWhole,
  type Section,
} from './index.ts';

const NORDIC: Section = { field: 'region', member: 'Nordic' };
const asked = { scope: {}, choices: {}, where: null };
const member = fc.option(fc.string(), { nil: null });
const id = fc.stringMatching(/^[a-z][a-z0-9-]{0,8}$/).filter((text) => text !== 'report');

describe('a section as a choice', () => {
  it('is read back as it was chosen, that of the page before that of an exhibit', () => {
    fc.assert(
      fc.property(member, member, id, (outer, inner, exhibit) => {
        const page = { field: 'region', member: outer };
        const own = { field: 'city', member: inner };
        const { choices } = withSection(withSection(asked, page), own, exhibit);
        expect(chosenSections(choices, exhibit)).toEqual([page, own]);
        expect(chosenSections(choices, 'another')).toEqual([page]);
        expect(chosenSections(choices)).toEqual([page]);
        expect(withSection(withSection({ ...asked, choices }, null), null, exhibit)).toEqual(asked);
      }),
      { seed: 1 },
    );
  });

  it('leaves what else was chosen, and the choices that it began from', () => {
    const before = { ...asked, choices: { dates: ['2026-01-01', ''] } };
    expect(withSection(before, NORDIC).choices).toEqual({ dates: ['2026-01-01', ''], 'report.section': ['region', 'Nordic'] });
    expect(before.choices).toEqual({ dates: ['2026-01-01', ''] });
  });
});

describe('what is asked in sections', () => {
  it('is the member, in the place of several that hold it', () => {
    expect(askedInSections({ scope: { region: ['Nordic', 'Atlantic'], year: ['2026'] }, where: null }, [NORDIC])).toEqual({
      scope: { region: ['Nordic'], year: ['2026'] },
      where: null,
    });
  });

  it('is nothing where others are chosen', () => {
    expect(askedInSections({ scope: { region: ['Atlantic'] }, where: null }, [NORDIC])).toEqual({
      scope: { region: ['Atlantic'] },
      where: { op: 'in', field: 'region', values: ['Nordic'] },
    });
  });

  it('is those without a member, beside other conditions', () => {
    const where = { op: 'eq', field: 'channel', value: 'Online' } as const;
    expect(
      askedInSections({ scope: {}, where }, [
        { field: 'region', member: null },
        { field: 'country', member: 'Sweden' },
      ]),
    ).toEqual({
      scope: { country: ['Sweden'] },
      where: { op: 'and', items: [where, { op: 'empty', field: 'region' }] },
    });
  });
});

describe('levels in a section', () => {
  it.each([
    ['region', ['region', 'country', 'city'], ['country', 'city']],
    ['country', ['region', 'country', 'city'], ['city']],
    ['city', ['region', 'country', 'city'], ['region', 'country', 'city']],
    ['region', ['channel', 'region'], ['channel']],
    ['region', ['region'], ['region']],
    ['month', ['year', 'month'], ['year', 'month']],
    ['month', ['year', 'quarter', 'day'], ['quarter', 'day']],
    ['channel', ['region', 'country'], ['region', 'country']],
    ['gone', ['region', 'country'], ['region', 'country']],
  ])('by %s of %j are %j', (field, fields, left) => {
    expect(levelsLeft(workedDataset, fields, [{ field, member: 'one' }])).toEqual(left);
  });

  it('are those that neither the page nor the exhibit goes by', () => {
    const sections = [NORDIC, { field: 'channel', member: 'Online' }];
    expect(levelsLeft(workedDataset, ['region', 'channel', 'city'], sections)).toEqual(['city']);
  });

  it('keep their part of a path', () => {
    expect(placeLeft(['Nordic', 'Sweden'], ['region', 'country', 'city'], ['country', 'city'])).toEqual(['Sweden']);
    expect(placeLeft(['Nordic'], ['region', 'country'], ['country'])).toEqual([]);
  });
});

const reportWith = (part: object): Report =>
  reportSchema.parse({ schemaVersion: 1, id: 'sections', title: 'Sections', dataset: 'worked', exhibits: [], ...part });

describe('all sections together', () => {
  it.each([
    ['last', ['a', 'b', 'all']],
    ['first', ['all', 'a', 'b']],
    ['none', ['a', 'b']],
  ] as const)('stand %s', (whole, expected) => {
    const sections = sectionsSchema.parse({ field: 'region', whole });
    expect(withWhole(sections, ['a', 'b'], 'all')).toEqual(expected);
    expect(withWhole(sections, ['a'], 'all')).toEqual(['a']);
    expect(allTogether(workedDataset, sections)).toBe('All regions');
  });
});

describe('what is asked in the sections of something else', () => {
  it('keeps its own choices, and no section of its own', () => {
    const other = withSection(withSection(asked, NORDIC), { field: 'channel', member: 'Online' }, 'own');
    const own = withSection({ ...asked, choices: { dates: ['2026-01-01', ''] } }, { field: 'region', member: 'Atlantic' });
    expect(inSectionsOf(own, other, 'own').choices).toEqual({ dates: ['2026-01-01', ''], ...other.choices });
    expect(inSectionsOf(own, asked, 'own').choices).toEqual({ dates: ['2026-01-01', ''] });
  });
});

describe('settings of sections', () => {
  const byRegion = sectionsSchema.parse({ field: 'region' });
  const byCountry = sectionsSchema.parse({ field: 'country' });
  const pages = [
    { id: 'one', title: 'One' },
    { id: 'two', title: 'Two', sections: byCountry },
  ];

  it('are those of the page, else those of the report', () => {
    const report = reportWith({ sections: byRegion, pages });
    expect([undefined, 'one', 'two'].map((page) => sectionsOnPage(report, page)?.field)).toEqual(['region', 'region', 'country']);
    const other = withSectionsOnPage(report, 'two', { ...byCountry, layout: 'one-page' });
    expect([other.sections?.layout, other.pages[1].sections?.layout]).toEqual(['tab-each', 'one-page']);
    const whole = withSectionsOnPage(report, 'one', { ...byRegion, layout: 'one-page' });
    expect([whole.sections?.layout, whole.pages[0].sections, whole.pages[1].sections?.layout]).toEqual(['one-page', undefined, 'tab-each']);
  });

  it('are unsound where they go by no level, or read measures that are not there', () => {
    const order = { by: 'measure', measure: 'gone' } as const;
    const figure = { measure: 'net', indicator: { against: { kind: 'measure', measure: 'lost' }, onCourse: 1 } } as const;
    const report = reportWith({
      sections: { field: 'nowhere' },
      pages: [{ id: 'one', title: 'One', sections: { field: 'unit_price', order, figure } }],
    });
    expect(sectionFaults(report, () => workedDataset)).toEqual([
      'Sections go by "nowhere", and there is no such field in Worked example.',
      'Sections go by members, and the numbers of "unit_price" are none.',
      'Sections read "gone", and there is no such measure in Worked example.',
      'Sections read "lost", and there is no such measure in Worked example.',
    ]);
    expect(sectionFaults(reportWith({ sections: byRegion }), () => workedDataset)).toEqual([]);
    expect(knownSections(sectionsSchema.parse({ field: 'region', order }), workedDataset)).toBeUndefined();
    expect(knownSections(byRegion, workedDataset)).toBe(byRegion);
  });
});
