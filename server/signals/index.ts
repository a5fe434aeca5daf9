export { SignalBox } from './signals.ts';
export { Watching } from './watching.ts';
