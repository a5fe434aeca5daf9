import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { loadDemo, superviseServer } from './application.mjs';

const ANALYST = 'ines-calloway';
const MANAGERS = ['sanna-wikmark', 'henrike-hollin'];
const KILL_SECONDS = 20;
const ROWS = 400;

/** The application at one address, as one person. Failures of the network are answers of status 0. */
class Client {
  constructor(address, person) {
    this.address = address;
    this.person = person;
    this.cookie = '';
  }

  async call(method, path, body) {
    const form = body instanceof FormData;
    try {
      const response = await fetch(`${this.address}/api${path}`, {
        method,
        headers: { cookie: this.cookie, ...(body === undefined || form ? {} : { 'content-type': 'application/json' }) },
        body: body === undefined ? undefined : form ? body : JSON.stringify(body),
        signal: AbortSignal.timeout(30_000),
      });
      const answer = await response.json().catch(() => null);
      if (response.status === 401 && path !== '/demo-session') {
        await this.signIn();
        return this.call(method, path, body);
      }
      return { status: response.status, body: answer, cookie: response.headers.get('set-cookie') };
    } catch {
      return { status: 0, body: null, cookie: null };
    }
  }

  async signIn() {
    for (;;) {
      const { status, cookie } = await this.call('POST', '/demo-session', { person: this.person });
      if (status === 200) return void (this.cookie = cookie.split(';')[0]);
      await sleep(200);
    }
  }

  /** Asks until the application is there again. */
  async until(method, path, body) {
    for (;;) {
      const answer = await this.call(method, path, body);
      if (answer.status !== 0 && answer.status !== 503) return answer;
      await sleep(150);
    }
  }
}

/** As long a start may take before something is killed all the same, in milliseconds. */
const MOST_WAITED = 30_000;

const percentile = (sorted, share) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;

/** Megabytes that a process holds in memory. */
function residentMegabytes(pid) {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}

const window = { from: 0, count: 60 };
const axis = (depth) => ({ open: { depth, exceptions: [] }, order: null, hideEmpty: true });

/** A reader who opens a report, unfolds it and asks why. */
async function read(state, client) {
  await client.signIn();
  while (!state.over) {
    const started = performance.now();
    const depth = Math.floor(Math.random() * 3);
    const answer = await client.call('POST', '/reports/sales-against-target/exhibits/territory/crosstab', {
      ...{ scope: { year: ['2026'] }, side: axis(depth), top: axis(1), rows: window, columns: window },
    });
    if (answer.status === 200) state.took.push(performance.now() - started);
    else if (answer.status === 0 || answer.status === 503) await sleep(100);
    else state.faults.push(`a reader was answered ${answer.status}: ${JSON.stringify(answer.body).slice(0, 200)}`);
    await sleep(20 + Math.random() * 60);
  }
}

/** An analyst who saves one change after the other; what was acknowledged must be there at the end. */
async function save(state, client) {
  await client.signIn();
  const made = await client.until('POST', '/reports', {
    title: 'Saved without end',
    folder: '',
    dataset: 'hollin-marsh',
    layout: 'crosstab',
  });
  const path = `/reports/${made.body.id}`;
  let { revision, report } = (await client.until('GET', `${path}?draft=true`)).body;
  for (let number = 1; !state.over; number++) {
    const next = { ...report, note: `Change ${number}` };
    const answer = await client.call('PUT', path, { report: next, revision });
    if (answer.status === 200) {
      ({ revision } = answer.body);
      report = next;
      state.saved++;
    } else if (answer.status === 0 || answer.status === 503 || answer.status === 409) {
      // Whether it was saved is not known: what is there must be the last acknowledged, or this one.
      const now = (await client.until('GET', `${path}?draft=true`)).body;
      if (now.report.note !== report.note && now.report.note !== next.note)
        state.faults.push(`saved "${report.note}", found "${now.report.note}"`);
      ({ revision, report } = now);
    } else state.faults.push(`a save was answered ${answer.status}: ${JSON.stringify(answer.body).slice(0, 200)}`);
    await sleep(30);
  }
  const last = (await client.until('GET', `${path}?draft=true`)).body;
  if (last.report.note !== report.note) state.faults.push(`the last save "${report.note}" is lost: "${last.report.note}"`);
}

const FILE = `key,amount\n${Array.from({ length: ROWS }, (_, row) => `k${row},${row}.25`).join('\n')}\n`;
const TOTAL = (ROWS * (ROWS - 1)) / 2 + ROWS * 0.25;

async function idle(client, view) {
  let now = view;
  while (now?.work) {
    await sleep(20);
    now = (await client.call('GET', `/imports/${view.id}`)).body;
  }
  return now?.id ? now : null;
}

/** An analyst who imports the same file again and again: each dataset holds all of it, or is not there. */
async function importFiles(state, client) {
  await client.signIn();
  for (let number = 1; !state.over; number++) {
    const form = new FormData();
    form.append('file', new Blob([FILE]), `file ${number}.csv`);
    const view = await idle(client, (await client.call('POST', '/imports', form)).body);
    if (!view?.analysis) {
      await sleep(200);
      continue;
    }
    const plan = { reading: view.reading, columns: view.columns, key: [0], choices: {} };
    const target = { kind: 'dataset', label: `Soak ${number}` };
    await idle(client, (await client.call('POST', `/imports/${view.id}/stage`, { plan, target })).body);
    const done = await client.call('POST', `/imports/${view.id}/commit`, {});
    if (done.status === 200) state.imported++;
    await sleep(100);
  }
}

/** Every registered table holds its whole file; nothing lies beside the registry; nothing is left of what was broken off. */
async function checkTables(state, url) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  client.on('error', () => undefined);
  await client.connect();
  try {
    const { rows: sources } = await client.query(`SELECT id FROM app.sources WHERE label LIKE 'Soak %'`);
    for (const { id } of sources) {
      const { rows } = await client.query(`SELECT count(*)::int AS n, sum(amount)::float8 AS total FROM imported."${id}"`);
      if (rows[0].n !== ROWS || rows[0].total !== TOTAL) state.faults.push(`${id} holds ${rows[0].n} records, ${rows[0].total}`);
    }
    if (sources.length < state.imported) state.faults.push(`${state.imported} imports were acknowledged, ${sources.length} are there`);
    const { rows: strays } = await client.query(
      `SELECT table_schema || '.' || table_name AS name FROM information_schema.tables
       WHERE (table_schema = 'imported' AND table_name NOT IN (SELECT id FROM app.sources))
          OR (table_schema = 'staging' AND table_name NOT IN (SELECT table_name FROM app.stagings))`,
    );
    for (const { name } of strays) state.faults.push(`${name} belongs to nothing`);
    const { rows: running } = await client.query(`SELECT count(*)::int AS n FROM app.loads WHERE state = 'running'`);
    if (running[0].n > 0) state.faults.push(`${running[0].n} loads run on though nobody runs them`);
  } finally {
    await client.end();
  }
}

/**
 * Works the application over for some minutes, killing the server and the database in turns, then looks whether all that
 * was acknowledged is there. `postgres` must be a private cluster.
 */
export async function soak(postgres, { minutes, readers, say, killSeconds = KILL_SECONDS, databaseUrl = postgres.url }) {
  await loadDemo(databaseUrl);
  const state = { over: false, took: [], faults: [], saved: 0, imported: 0 };
  const server = await superviseServer(databaseUrl, 0, undefined, {
    onRestart: () => undefined,
    onGivenUp: (code) => state.faults.push(`the server ended for good with ${code}`),
  });
  const client = (person) => new Client(server.address, person);
  const work = [
    ...Array.from({ length: readers }, (_, number) => read(state, client(MANAGERS[number % MANAGERS.length]))),
    save(state, client(ANALYST)),
    importFiles(state, client(ANALYST)),
  ];
  const memory = [];
  const end = Date.now() + minutes * 60_000;
  let kills = { server: 0, database: 0 };
  for (let turn = 0; Date.now() < end; turn++) {
    const before = state.took.length;
    await sleep(Math.min(killSeconds * 1000, Math.max(0, end - Date.now())));
    // On a busy machine a server is not killed before it answered anything: that would only try its start.
    for (let waited = 0; state.took.length === before && waited < MOST_WAITED; waited += 200) await sleep(200);
    memory.push(residentMegabytes(server.child().pid));
    if (Date.now() >= end) break;
    if (turn % 3 === 2 && postgres.control) {
      postgres.control.pause();
      await sleep(300);
      postgres.control.resume();
      kills.database++;
    } else if (turn % 3 === 0) {
      server.child().kill('SIGKILL');
      kills.server++;
    }
  }
  state.over = true;
  await Promise.all(work);
  // Once more from a clean start: what was broken off is cleared away then.
  server.child().kill('SIGKILL');
  kills.server++;
  await sleep(1_500);
  await client(ANALYST).signIn();
  await checkTables(state, databaseUrl);
  await server.end();
  const sorted = state.took.sort((a, b) => a - b);
  const ms = (share) => `${Math.round(percentile(sorted, share))} ms`;
  say(
    `${sorted.length} reads: median ${ms(0.5)}, 95 % ${ms(0.95)}, 99 % ${ms(0.99)}. ${state.saved} saves, ${state.imported} imports. ` +
      `The server was killed ${kills.server} times, the database ${kills.database} times. Memory ${memory.map((one) => Math.round(one)).join(', ')} MB.`,
  );
  // What did nothing has proved nothing.
  if (sorted.length === 0) state.faults.push('nobody read anything');
  if (state.saved === 0) state.faults.push('nothing was saved');
  if (state.imported === 0) state.faults.push('nothing was imported');
  for (const fault of [...new Set(state.faults)].slice(0, 20)) say(`FAULT ${fault}`);
  return { faults: state.faults, saved: state.saved, imported: state.imported, reads: sorted.length };
}
