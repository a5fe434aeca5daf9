export { createCubeCache, crosstabWindow, type CubeCache } from './crosstab.ts';
export { explainCell } from './explain.ts';
export { kpiValues } from './kpis.ts';
export { canCompose, Library, validReport, type StoredReport } from './library.ts';
export { listPage } from './list.ts';
export { promptMembers } from './members.ts';
export { checkScope, scopeFilter, scopeIn } from './scope.ts';
export { reportFaults } from './faults.ts';
export { measuresUnder } from './cubes.ts';
