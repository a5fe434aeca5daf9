import { readFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';

/** How long the event loop was held up, in milliseconds. */
export interface LoopTimes {
  p99: number;
  most: number;
  /** The most that the thread itself worked between two looks; the rest of such a moment it waited for a core. */
  mostWork: number;
}

/** Milliseconds that this thread has worked on a core so far, as Linux counts them (Documentation/scheduler/sched-stats.rst). */
const worked = (): number => Number(readFileSync(`/proc/self/task/${process.pid}/schedstat`, 'utf8').split(' ')[0]) / 1e6;

/** Watches the event loop of the main thread from now on; the function that it returns ends that and tells the times. */
export function watchLoop(): () => LoopTimes {
  const delay = monitorEventLoopDelay({ resolution: 1 });
  delay.enable();
  let mostWork = 0;
  let before = worked();
  const look = setInterval(() => {
    const now = worked();
    mostWork = Math.max(mostWork, now - before);
    before = now;
  }, 1);
  return () => {
    clearInterval(look);
    delay.disable();
    return { p99: delay.percentile(99) / 1e6, most: delay.max / 1e6, mostWork };
  };
}
