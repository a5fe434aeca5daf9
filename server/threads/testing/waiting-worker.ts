import { answering } from '../index.ts';

/** Waits so long, in milliseconds, and says so; for ever where that is no number. */
export default answering(({ wait }: { wait: number | null }) =>
  wait === null ? new Promise<never>(() => undefined) : new Promise<string>((resolve) => setTimeout(() => resolve(`waited ${wait}`), wait)),
);
