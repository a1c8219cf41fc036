import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@': fileURLToPath(new URL('src', import.meta.url)) };

export default defineConfig({
  test: {
    // As many as there are processors: nothing here is timed.
    maxWorkers: '100%',
    // What waits for real threads and sockets gets another try on a shared machine that stood still.
    retry: process.env.CI ? 1 : 0,
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          // Modules are loaded once for many files. What a test puts in place of something global it takes back.
          isolate: false,
          include: ['src/**/*.test.ts', 'lab/**/*.test.ts', 'scripts/**/*.test.ts'],
          exclude: ['src/server/**/*.db.test.ts'],
          setupFiles: ['vitest.setup.ts'],
          testTimeout: 180_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'database',
          include: ['src/server/**/*.db.test.ts'],
          setupFiles: ['vitest.setup.ts'],
          testTimeout: 180_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
});
