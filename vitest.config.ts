import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          // They share nothing that could leak, and each face is loaded once.
          isolate: false,
          include: [
            'src/core/**/*.test.ts',
            'src/bench/**/*.test.ts',
            'src/ops/**/*.test.ts',
            'src/ui/**/*.test.ts',
            'src/app/**/*.test.ts',
            'src/server/**/*.test.ts',
          ],
          setupFiles: ['tests/support/properties.ts'],
          environment: 'node',
          // Against a test that hangs; none is timed.
          testTimeout: 120_000,
        },
      },
      {
        test: {
          // Whole cases on the simulated displays.
          name: 'routes',
          isolate: false,
          include: ['tests/routes/**/*.test.ts'],
          setupFiles: ['tests/support/properties.ts'],
          environment: 'node',
          testTimeout: 90_000,
          hookTimeout: 90_000,
        },
      },
      {
        test: {
          name: 'database',
          include: ['tests/database/**/*.test.ts'],
          environment: 'node',
          globalSetup: ['tests/database/setup.ts'],
          fileParallelism: false,
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
})
