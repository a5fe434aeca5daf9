import { windowAt } from './long.ts';

/** Readers who ask for window after window. */
export interface ReaderTask {
  address: string;
  readers: number;
  seconds: number;
  rows: number;
  /** How many questions of another person, each of which takes as long as it may, are always under way. */
  hostile: number;
}

/** In milliseconds, from request to answer. */
export interface ReaderTimes {
  windows: number;
  median: number;
  p95: number;
}

/** Nobody scrolls through more than ten windows a second; in milliseconds. */
const PAUSE = 100;

const { address, readers, seconds, rows, hostile } = JSON.parse(process.argv[2]) as ReaderTask;

async function signIn(person: string): Promise<string> {
  const answer = await fetch(`${address}/api/demo-session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ person }),
  });
  return answer.headers.getSetCookie()[0].split(';')[0];
}

async function ask(cookie: string, from: number): Promise<number> {
  const started = performance.now();
  const answer = await fetch(`${address}/api/reports/long/exhibits/long/crosstab`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie },
    body: JSON.stringify(windowAt(from)),
  });
  const text = await answer.text();
  if (!answer.ok) throw new Error(text);
  return performance.now() - started;
}

const cookie = await signIn('reader');
await ask(cookie, 0);
process.send!('warm');
const until = performance.now() + seconds * 1000;
/** Asks for what takes long, again and again, as long as the readers read. */
async function askHostile(): Promise<void> {
  const own = await signIn('other');
  while (performance.now() < until)
    await fetch(`${address}/api/reports/long/exhibits/hostile/crosstab`, {
      ...{ method: 'POST', headers: { 'content-type': 'application/json', cookie: own } },
      ...{ body: JSON.stringify(windowAt(0)), signal: AbortSignal.timeout(Math.max(1, Math.ceil(until - performance.now()))) },
    }).then(
      (answer) => answer.text(),
      () => '',
    );
}
const under = Array.from({ length: hostile }, () => askHostile());
const times: number[] = [];
await Promise.all(
  Array.from({ length: readers }, async (_, reader) => {
    for (let turn = 0; performance.now() < until; turn++) {
      const time = await ask(cookie, ((reader * 7_919 + turn * 80) % rows) + 1);
      times.push(time);
      await new Promise((resolve) => setTimeout(resolve, PAUSE - time));
    }
  }),
);
await Promise.all(under);
times.sort((a, b) => a - b);
const at = (share: number): number => times[Math.floor(times.length * share)];
process.send!({ windows: times.length, median: at(0.5), p95: at(0.95) } satisfies ReaderTimes);
