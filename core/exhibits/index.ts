export type { ExhibitKind } from './kind.ts';
export { EXHIBIT_KINDS, isExhibitKind, kindOf } from './registry.ts';
export { copiedExhibit, newExhibit } from './new-exhibit.ts';
export { exhibitAsChosen } from './swap-exhibit.ts';
export { newKpi } from './kpi-strip.ts';
export { measuresShown } from './measures-shown.ts';
export { reportFaults } from './faults.ts';
export { isSame, settingChanges } from './changes.ts';
export { linksOf } from './links.ts';
