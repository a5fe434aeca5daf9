// `npm run check-exports [ADDRESS]`: every report of a running demo in every format, read back by programs that wrote none of it and
// held against the figures of its JSON. Python is Debian’s own. Needs, from Debian: python3-openpyxl, qpdf, poppler-utils, libreoffice-calc, libreoffice-impress.
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { capture, reportAndExit, root } from './lib/shell.mjs';

const address = process.argv[2] ?? 'http://127.0.0.1:4600';
const PERSON = 'henrike-hollin';
const folder = mkdtempSync(join(tmpdir(), 'bold-compass-exports-'));
let failed = 0;
let passed = 0;

function check(words, isTrue, more = '') {
  if (isTrue) passed += 1;
  else {
    failed += 1;
    process.stderr.write(`FAILED ${words}${more === '' ? '' : `: ${more}`}\n`);
  }
}

/** What a program says; throws where it is missing or fails. */
function said(program, args) {
  const { status, stdout, stderr, error } = capture(program, args, { encoding: 'utf8', maxBuffer: 1e9 });
  if (error)
    throw new Error(`${program} is missing: apt-get install python3-openpyxl qpdf poppler-utils libreoffice-calc libreoffice-impress`);
  if (status !== 0) throw new Error(`${program} ${args.at(-1)}: ${stderr || stdout}`);
  return stdout;
}

/** Calls the API as a manager of the demo. */
async function session() {
  const entered = await fetch(`${address}/api/demo-session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ person: PERSON }),
  });
  const cookie = entered.headers.get('set-cookie').split(';')[0];
  return async (method, path, body) => {
    const answer = await fetch(`${address}/api${path}`, {
      method,
      // A connection that is kept is closed while other programs read.
      headers: { cookie, 'content-type': 'application/json', connection: 'close' },
      body: body && JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
    return answer;
  };
}

async function exported(call, request) {
  const { id } = await (await call('POST', '/exports', request)).json();
  for (;;) {
    const found = (await (await call('GET', '/exports')).json()).find((one) => one.id === id);
    if (found.state === 'done') {
      const file = join(folder, `${request.report}.${request.format}`);
      writeFileSync(file, Buffer.from(await (await call('GET', `/exports/${id}/file`)).arrayBuffer()));
      await call('DELETE', `/exports/${id}`);
      return { file, contents: found.contents };
    }
    if (found.state !== 'queued' && found.state !== 'active') throw new Error(`${request.report} as ${request.format}: ${found.problem}`);
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

/** All tables of an export as JSON. */
const tablesOf = ({ pages }) => pages.flatMap(({ exhibits }) => exhibits.flatMap((one) => one.tables ?? (one.rows ? [one] : [])));
const numberOf = (contents) => Number(/[\d,]+/.exec(contents)?.[0].replaceAll(',', ''));

function checkPdf(name, { file, contents }, data) {
  said('qpdf', ['--check', file]);
  const pages = Number(/^Pages:\s+(\d+)/m.exec(said('pdfinfo', [file]))?.[1]);
  check(`${name}: the number of pages`, pages === numberOf(contents), `${pages} and ${contents}`);
  const text = said('pdftotext', ['-layout', file, '-']).replaceAll(/\s+/g, ' ');
  check(`${name}: its title`, text.includes(data.title.replaceAll(/\s+/g, ' ')));
  check(`${name}: the day of its data`, text.includes(data.dataAsOf));
  // Charts name only some of their members.
  const written = { pages: data.pages.map(({ exhibits }) => ({ exhibits: exhibits.filter(({ kind }) => kind === 'table') })) };
  const labels = new Set(
    tablesOf(written)
      .flatMap(({ rows }) => rows.map(([label]) => label))
      .filter((label) => typeof label === 'string'),
  );
  const missing = [...labels].filter((label) => label.length < 24 && !text.includes(label));
  // What no page has room for is cut.
  check(
    `${name}: its labels`,
    missing.length <= labels.size / 20,
    `${missing.length} of ${labels.size}: ${missing.slice(0, 5).join(', ')}`,
  );
}

function checkSpreadsheet(name, { file, contents }, data) {
  const sheets = JSON.parse(said('/usr/bin/python3', [join(root, 'scripts/check-exports.py'), file]));
  check(
    `${name}: the number of sheets`,
    Object.keys(sheets).length === numberOf(contents),
    `${Object.keys(sheets).length} and ${contents}`,
  );
  const left = new Map();
  for (const { numbers } of Object.values(sheets)) for (const number of numbers) left.set(number, (left.get(number) ?? 0) + 1);
  const missing = [];
  let count = 0;
  for (const { rows } of tablesOf(data))
    for (const value of rows.flat().filter((one) => typeof one === 'number')) {
      count += 1;
      if ((left.get(value) ?? 0) > 0) left.set(value, left.get(value) - 1);
      else missing.push(value);
    }
  check(
    `${name}: its ${count} figures`,
    missing.length <= count / 200,
    `${missing.length} are not there, such as ${missing.slice(0, 5).join(', ')}`,
  );
  said('soffice', ['--headless', '--convert-to', 'csv', '--outdir', folder, file]);
  passed += 1;
}

function checkSlides(name, { file, contents }) {
  said('soffice', ['--headless', '--convert-to', 'pdf:impress_pdf_Export', '--outdir', join(folder, 'slides'), file]);
  const pages = Number(
    /^Pages:\s+(\d+)/m.exec(said('pdfinfo', [join(folder, 'slides', file.split('/').at(-1).replace(/pptx$/, 'pdf'))]))?.[1],
  );
  check(`${name}: the number of slides`, pages === numberOf(contents), `${pages} and ${contents}`);
}

const CHECKS = { pdf: checkPdf, xlsx: checkSpreadsheet, pptx: checkSlides };

try {
  const call = await session();
  for (const { id, title } of await (await call('GET', '/reports')).json()) {
    const { report, start } = await (await call('GET', `/reports/${id}`)).json();
    if (report.prompts.some(({ required }) => required)) continue;
    const request = { report: id, ...start };
    const data = JSON.parse(readFileSync((await exported(call, { ...request, format: 'json' })).file, 'utf8'));
    for (const [format, held] of Object.entries(CHECKS)) {
      const made = await exported(call, { ...request, format }).catch((error) => {
        // A refusal of what a format cannot hold is no fault.
        if (!/This would be .* cells/.test(error.message)) throw error;
        return null;
      });
      if (made) held(`${title}, ${format}`, made, data);
    }
    process.stdout.write(`read back: ${title}\n`);
  }
  rmSync(folder, { recursive: true });
  process.stdout.write(`${passed} passed, ${failed} failed\n`);
  process.exit(failed > 0 ? 1 : 0);
} catch (error) {
  reportAndExit(error);
}
