import { defineConfig } from '@playwright/test'

// Browser tests: headless Chromium from Debian against the real program and a
// throw-away PostgreSQL, which globalSetup starts.
export default defineConfig({
  testDir: '../e2e',
  globalSetup: '../e2e/setup.ts',
  timeout: 150_000,
  // On a loaded shared machine a step may take its time; a test that passes only the second time is reported as flaky.
  retries: process.env.CI ? 1 : 0,
  expect: { timeout: 15_000 },
  workers: 2, // each test makes its own charts
  reporter: 'list',
  outputDir: '../test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    contextOptions: { reducedMotion: 'reduce' }, // what is looked at stands still
    launchOptions: {
      executablePath: process.env.LARK_CHROMIUM ?? '/usr/bin/chromium',
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
})
