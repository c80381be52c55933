import { defineConfig } from '@playwright/test'
import { CHROMIUM } from '#tests/browser'

export default defineConfig({
  testDir: 'tests/browser',
  fullyParallel: false,
  workers: 1,
  timeout: 300_000,
  // What breaks one test after another is told while there is time, instead of a run that never ends.
  maxFailures: 6,
  expect: { timeout: 60_000 },
  reporter: [['list']],
  forbidOnly: Boolean(process.env.CI),
  globalSetup: './tests/browser/setup.ts',
  use: {
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    launchOptions: CHROMIUM,
  },
})
