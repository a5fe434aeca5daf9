export { createCubeCache, crosstabWindow, type CubeCache } from './crosstab.ts';
export { explainCell } from './explain.ts';
export { kpiValues } from './kpis.ts';
export { canCompose, Library, validReport, type StoredReport } from './library.ts';
export { listPage } from './list.ts';
export { promptMembers } from './members.ts';
export { checkScope, scopeFilter } from './scope.ts';
