import { defineConfig } from '@playwright/test';

const output = process.env.BOLD_COMPASS_E2E_JSON;

export default defineConfig({
  testDir: '.',
  globalSetup: './support/ready.ts',
  // Generous: a busy machine is slow, and what is too slow is told by the benchmarks.
  timeout: 90_000,
  expect: { timeout: 20_000 },
  fullyParallel: false,
  workers: 2,
  // The outage takes the database away from everyone, so it comes last and alone.
  projects: [
    { name: 'with the database', testIgnore: 'outage.spec.ts' },
    { name: 'without it', testMatch: 'outage.spec.ts', dependencies: ['with the database'] },
  ],
  retries: 0,
  forbidOnly: process.env.CI === 'true',
  reporter: output ? [['line'], ['json', { outputFile: output }]] : 'line',
  outputDir: '../test-results',
  use: {
    baseURL: process.env.BOLD_COMPASS_URL ?? 'http://127.0.0.1:4600',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Stockholm',
    screenshot: 'only-on-failure',
    // What still moves is not where it will be: a click on a row of a tree that is opening met the row above it.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: process.env.BOLD_COMPASS_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
