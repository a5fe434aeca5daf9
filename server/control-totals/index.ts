export { ControlTotals } from './control-totals.ts';
