import type { Explanation } from '@bold-compass/core/api';
import { allOf, isDataExhibit, linkKind, type Exhibit, type ExhibitLink, type Filter, type Scope } from '@bold-compass/core/model';
import { carriedAlong, conditionsFor, filledAddress } from '@bold-compass/core/prompts';
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router';
import { useReport } from './context.ts';
import { pageQuery } from './pages.ts';
import { keepTrail } from './trail.ts';
import { linkedQuery, scopeQuery, stateQuery, whereQuery } from './url-state.ts';

/** A link with all that it carries, ready to be followed. */
export type ReadyLink = Pick<Explanation['drills'][number], 'label' | 'to' | 'opens' | 'report' | 'page' | 'address' | 'scope' | 'where'>;

/** What a place that a link stands at adds to the reader's choices. */
interface LinkPlace {
  scope?: Scope;
  where?: Filter | null;
}

/** Where the links of an open report lead, and how they are followed. */
export function useLinks() {
  const route = useRoute();
  const router = useRouter();
  const { report, asked, wording, fill, openBeside } = useReport();

  function locationOf({ to, report: target, page, scope, where }: ReadyLink): RouteLocationRaw {
    const query = { ...scopeQuery(scope), ...whereQuery(where), ...(page ? pageQuery(page) : {}) };
    // Another page of this report keeps how its exhibits stand.
    if (to === 'page') return { name: 'report', params: { report: report.value.id }, query: { ...stateQuery(route.query), ...query } };
    return { name: 'report', params: { report: target }, query: { ...query, ...linkedQuery } };
  }
  const hrefOf = (link: ReadyLink): string => (link.to === 'address' ? (link.address ?? '') : router.resolve(locationOf(link)).href);

  function follow(link: ReadyLink): void {
    if (link.to === 'records') return;
    if (link.to === 'address' || link.opens === 'tab') return void window.open(hrefOf(link), '_blank', 'noopener,noreferrer');
    if (link.opens === 'beside') return openBeside(hrefOf(link), link.label);
    keepTrail(link.to === 'page' ? report.value.id : link.report, report.value.id, {
      title: fill(report.value.title),
      path: route.fullPath,
    });
    void router.push(locationOf(link));
  }

  /** A link that stands at an exhibit, or at a part of it, with the reader's choices. */
  function readyLink(exhibit: Exhibit, link: ExhibitLink, place: LinkPlace = {}): ReadyLink {
    const { dataset, days } = wording.value;
    const own = conditionsFor(report.value, asked.value, { dataset, days }, exhibit);
    const filter = isDataExhibit(exhibit) ? exhibit.filter : null;
    const conditions = { scope: { ...own.scope, ...place.scope }, where: allOf(own.where, filter, place.where) };
    const along = carriedAlong(link, conditions, dataset, null);
    const values = new Map(Object.entries(conditions.scope).map(([field, members]) => [field, members.join(',')]));
    return {
      label: link.label,
      to: linkKind(link) ?? 'page',
      opens: link.opens ?? 'here',
      report: link.report ?? '',
      page: link.page,
      address: link.address === undefined ? undefined : (filledAddress(link.address, values) ?? undefined),
      ...along,
    };
  }
  return { hrefOf, follow, readyLink };
}
