import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';
import vue from '@vitejs/plugin-vue';

process.env.TZ = 'Europe/Stockholm';

export default defineConfig({
  test: {
    // Even on two cores one file works while others wait for PostgreSQL or for their threads.
    maxWorkers: Math.max(3, availableParallelism() - 1),
    reporters: process.env.BOLD_COMPASS_VITEST_JSON
      ? ['default', ['json', { outputFile: process.env.BOLD_COMPASS_VITEST_JSON }]]
      : ['default'],
    projects: [
      // Generous everywhere: a busy machine is slow, and what is too slow is told by the benchmarks.
      { test: { name: 'core', include: ['core/**/*.test.ts', 'scripts/**/*.test.ts'], environment: 'node', testTimeout: 60_000 } },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts', 'demo/**/*.test.ts'],
          environment: 'node',
          // One real PostgreSQL serves all files; each takes a database of its own.
          globalSetup: ['demo/testing/global-setup.ts'],
          testTimeout: 120_000,
          hookTimeout: 240_000,
        },
      },
      {
        plugins: [vue()],
        test: {
          name: 'web',
          include: ['web/**/*.test.ts', 'charts/**/*.test.ts'],
          environment: 'happy-dom',
          setupFiles: ['web/testing/browser.ts'],
          testTimeout: 120_000,
          server: { deps: { inline: ['vuetify'] } },
        },
      },
    ],
  },
});
