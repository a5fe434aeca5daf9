import { randomUUID } from 'node:crypto';
import { createApp, type App, type AppOptions } from '@bold-compass/server/app';
import { connect, type Connection } from '@bold-compass/server/database';
import pg from 'pg';
import { pino } from 'pino';
import request from 'supertest';
import { inject } from 'vitest';
import { DEMO_TEMPLATE, TEST_SECRET_KEY } from './global-setup.ts';

export interface TestDatabase {
  url: string;
  drop(): Promise<void>;
}

/** A database of one test file's own: empty, or a copy of the loaded demo. */
export async function testDatabase(kind: 'empty' | 'demo'): Promise<TestDatabase> {
  const base = inject('databaseUrl');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const admin = async (sql: string): Promise<void> => {
    const client = new pg.Client({ connectionString: base });
    await client.connect();
    try {
      await client.query(sql);
    } finally {
      await client.end();
    }
  };
  await admin(`CREATE DATABASE ${name}${kind === 'demo' ? ` TEMPLATE ${DEMO_TEMPLATE}` : ''}`);
  return { url: base.replace(/\/[^/]*$/, `/${name}`), drop: () => admin(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`) };
}

export interface DemoApp {
  app: App;
  connection: Connection;
  /** A client that is signed in as one of the demo's people. */
  as(person: string): Promise<ReturnType<typeof request.agent>>;
  close(): Promise<void>;
}

/** The application over a copy of the demo. */
export async function demoApp(options: Pick<AppOptions, 'answerLimits'> = {}): Promise<DemoApp> {
  const database = await testDatabase('demo');
  const connection = connect(database.url);
  const logger = pino({ level: process.env.LOG_LEVEL ?? 'silent' });
  const app = createApp({ connection, demo: true, secretKey: TEST_SECRET_KEY, logger, ...options });
  await app.begin();
  return {
    app,
    connection,
    async as(person) {
      const agent = request.agent(app.express);
      await agent.post('/api/demo-session').send({ person }).expect(200);
      return agent;
    },
    async close() {
      await app.close();
      await database.drop();
    },
  };
}
