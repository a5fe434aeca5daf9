import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express, type Request } from 'express';
import rateLimit from 'express-rate-limit';
import helmet from 'helmet';
import { pino, type Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { Connections, SourceQuery, SecretBox } from './connections/index.ts';
import { Catalogue, Engine } from './data/index.ts';
import { disconnect, type Connection } from './database/index.ts';
import { AccessEditor, DatasetEditor, WholeSight } from './datasets/index.ts';
import { datasetRoutes } from './http/dataset-routes.ts';
import { importRoutes } from './http/import-routes.ts';
import { ControlTotals } from './control-totals/index.ts';
import { controlTotalRoutes } from './http/control-total-routes.ts';
import { signalRoutes } from './http/signal-routes.ts';
import { SignalBox, Watching } from './signals/index.ts';
import { dataRoutes } from './http/data-routes.ts';
import { sessionToken } from './http/cookies.ts';
import { refuseDeep } from './http/depth.ts';
import { errorHandler } from './http/errors.ts';
import { openApiDocument } from './http/openapi.ts';
import { ApiError } from './problems/index.ts';
import { editionRoutes } from './http/edition-routes.ts';
import { exhibitRoutes } from './http/exhibit-routes.ts';
import { exportRoutes } from './http/export-routes.ts';
import { EXPORT_JOB, Exports } from './exports/index.ts';
import { Jobs } from './jobs/index.ts';
import { assetRoutes } from './http/asset-routes.ts';
import { reportRoutes } from './http/report-routes.ts';
import { mount, type Route } from './http/routing.ts';
import { sourceRoutes } from './http/source-routes.ts';
import { sessionRoutes } from './http/session-routes.ts';
import { tileRoutes } from './http/tile-routes.ts';
import { ImportThreads, Imports } from './imports/index.ts';
import { Instance } from './instance/index.ts';
import { Assets } from './assets/index.ts';
import { Sessions } from './people/index.ts';
import { audienceOf, canCompose, DatasetSight, Library, ReportReader, SavedViews, Thumbnails } from './reports/index.ts';
import { liveSources, Refresher } from './refreshes/index.ts';
import { SourceRegistry } from './sources/index.ts';
import { TableStore } from './tables/index.ts';
import type { LaneLimits } from './threads/index.ts';
import { Tiles } from './tiles/index.ts';

export interface AppOptions {
  connection: Connection;
  /** Offers the demo's people on the sign-in page. */
  demo: boolean;
  /** What the passwords of connections are sealed with. */
  secretKey: string;
  /** Folder for snapshots of columns, which make the next start fast; none where it is not given. */
  snapshotFolder?: string;
  /** Folder of the built interface; none in tests of the API. */
  webFolder?: string;
  /** Whose word is taken for the client's address and protocol, as Express's `trust proxy`; nobody's where it is not given. */
  trustProxy?: string | number;
  /** How long questions may take; as usual where it is not given. */
  answerLimits?: LaneLimits;
  logger?: Logger;
}

export interface App {
  express: Express;
  routes: Route[];
  catalogue: Catalogue;
  /** Clears away what killed processes left half done, and sets schedules going. Once, before the first request. */
  begin(): Promise<void>;
  /** Loads what reports stand on, so that the first reader does not wait for it. */
  warm(): Promise<void>;
  /** Looks at the figures that people watch; returns how many signals that raised. */
  look(): Promise<number>;
  close(): Promise<void>;
}

/** Header that names the person whose view is asked for. */
const VIEW_AS = 'x-view-as';

/** Refuses changes that another site's page sends with the visitor's cookie: browsers name the origin. */
function refuseCrossSite(request: Request): void {
  if (request.method === 'GET' || request.method === 'HEAD') return;
  const site = request.get('sec-fetch-site');
  const origin = request.get('origin');
  const own = origin === undefined || (URL.canParse(origin) && new URL(origin).host === request.get('host'));
  if ((site !== undefined && site !== 'same-origin' && site !== 'none') || !own) {
    throw new ApiError('cross-site', 'This request came from another site and was refused. Open the application itself and try there.');
  }
}

/** Puts the application together. The caller listens, and closes it at the end. */
export function createApp({
  connection,
  demo,
  secretKey,
  snapshotFolder,
  webFolder,
  trustProxy,
  answerLimits,
  logger = pino({ level: 'silent' }),
}: AppOptions): App {
  const engine = new Engine(answerLimits);
  const sessions = new Sessions(connection.db);
  const assets = new Assets(connection.db);
  const instance = new Instance(connection);
  const store = new TableStore(connection, instance);
  const sources = new SourceRegistry(connection.db, instance);
  const connections = new Connections(connection, new SecretBox(secretKey));
  const catalogue = new Catalogue(connection, engine, snapshotFolder ?? null, liveSources(sources, connections));
  const sight = new DatasetSight(catalogue);
  const library = new Library(connection.db, sight);
  const reports = new ReportReader(library, catalogue, sight);
  const controls = new ControlTotals(connection.db, reports);
  const signals = new SignalBox(connection, reports, sessions);
  const watching = new Watching(signals, logger);
  const threads = new ImportThreads();
  const imports = new Imports(connection, catalogue, sources, store, threads);
  const sourceQuery = new SourceQuery(connections);
  const refresher = new Refresher(connection, catalogue, sources, connections, sourceQuery, store, threads, instance);
  const editor = new DatasetEditor(connection, catalogue, sources, store);
  const exports = new Exports(reports, assets, sessions);
  const jobs = new Jobs(connection, { [EXPORT_JOB]: (input, tools) => exports.work(input, tools) }, logger);
  const routes = [
    ...sessionRoutes(sessions, demo),
    ...reportRoutes(library, reports, assets, new Thumbnails(reports), controls, new SavedViews(connection, library)),
    ...assetRoutes(library, reports, assets),
    ...editionRoutes(library, reports, (caller, report) => audienceOf({ db: connection.db, catalogue, sessions, reports }, caller, report)),
    ...exhibitRoutes(reports),
    ...exportRoutes(exports, jobs),
    ...importRoutes(imports, new WholeSight(catalogue, sources)),
    ...dataRoutes(catalogue, sources),
    ...sourceRoutes(connections, sourceQuery, sources, refresher),
    ...datasetRoutes(editor, new AccessEditor(connection, catalogue, sessions), controls, connection.db),
    ...controlTotalRoutes(controls),
    ...signalRoutes(signals),
    ...tileRoutes(new Tiles(connection.db)),
  ];

  const app = express();
  app.disable('x-powered-by');
  if (trustProxy !== undefined) app.set('trust proxy', trustProxy);
  app.use(pinoHttp({ logger, autoLogging: false }));
  app.use((_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          styleSrc: ["'self'", (_request, response) => `'nonce-${(response as unknown as { locals: { nonce: string } }).locals.nonce}'`],
          // Positions of virtual rows are set through the style property, which needs no exception; attributes stay forbidden.
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          // Pages are printed from a frame that holds nothing else.
          frameSrc: ["'self'", 'blob:'],
          // A report may open in a sheet beside another one, and nowhere else.
          frameAncestors: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use((request, response, next) => {
    // Only where the browser came over TLS, by itself or as a trusted proxy says.
    if (request.secure) response.set('Strict-Transport-Security', 'max-age=31536000; includeSubDomains');
    next();
  });
  app.use('/api', (request, response, next) => {
    response.set('Cache-Control', 'no-store');
    refuseCrossSite(request);
    next();
  });
  // A person tries a few passwords; a program tries thousands, of one account or of many. Only failures count.
  app.use(
    '/api/session',
    rateLimit({
      windowMs: 60_000,
      limit: 100,
      skip: (request) => request.method !== 'POST',
      skipSuccessfulRequests: true,
      handler: () => {
        throw new ApiError('too-many-tries', 'Too many tries from here. Wait a minute, then try again.');
      },
    }),
  );
  // Documents that travel hold their pictures and shapes: only of who may send them that much is read at all.
  const large = express.json({ limit: '40mb' });
  app.post(['/api/assets', '/api/reports/import'], async (request, response, next) => {
    const token = sessionToken(request);
    const caller = token ? await sessions.caller(token) : null;
    if (caller && canCompose(caller)) large(request, response, next);
    else next();
  });
  app.use(express.json({ limit: '2mb' }), refuseDeep);
  app.get('/api/health', async (_request, response) => {
    await connection.pool.query('SELECT 1');
    response.json({ ok: true });
  });
  app.get('/api/openapi.json', (_request, response) => void response.json(openApiDocument(routes)));
  mount(app, routes, async (request) => {
    const token = sessionToken(request);
    const caller = token ? await sessions.caller(token) : null;
    const other = request.get(VIEW_AS);
    if (!caller || other === undefined) return caller;
    if (caller.person.role === 'manager') throw new ApiError('not-allowed', 'Only analysts and stewards can see what others see.');
    const seen = await sessions.callerAs(other, caller);
    if (!seen) throw new ApiError('not-found', 'There is nobody of this name any more. Choose someone else.');
    // Whoever is looked through changes nothing.
    if (seen.person.role !== 'manager')
      throw new ApiError('not-allowed', 'What managers see can be looked at, not what analysts or stewards do.');
    return seen;
  });
  app.use('/api', () => {
    throw new ApiError('not-found', 'There is nothing at this address of the API.');
  });
  if (webFolder && existsSync(join(webFolder, 'index.html'))) serveInterface(app, webFolder);
  app.use(errorHandler(logger));
  return {
    express: app,
    routes,
    catalogue,
    warm: () => reports.warm(),
    look: () => signals.look(),
    async begin() {
      await instance.begin();
      await Promise.all([imports.sweep(), store.sweep(), sources.sweep(), catalogue.sweep(), assets.sweep()]);
      await refresher.begin();
      watching.begin();
      jobs.begin();
    },
    async close() {
      refresher.close();
      await jobs.close();
      await exports.close();
      await watching.close();
      await imports.close();
      await threads.close();
      await editor.close();
      await engine.close();
      await instance.close();
      await disconnect(connection);
    },
  };
}

/** Serves the built interface; every address that is no file is the single page, with this answer's style nonce. */
function serveInterface(app: Express, folder: string): void {
  const page = readFileSync(join(folder, 'index.html'), 'utf8');
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(folder, { index: false, maxAge: '1h' }));
  app.get('/{*splat}', (_request, response) => {
    response
      .type('html')
      .set('Cache-Control', 'no-store')
      .send(page.replaceAll('__NONCE__', String(response.locals.nonce)));
  });
}
