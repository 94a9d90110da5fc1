import { defineConfig } from '@playwright/test'

/** Tests that measure real time. A page beside them would take their time, and only they have a second try. */
const REAL_TIME = /@real-time/

export default defineConfig({
  testDir: 'tests',
  fullyParallel: true,
  workers: 2,
  retries: 0,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json']],
  outputDir: 'test-results/browser',
  use: {
    baseURL: process.env.HALF_STEP_URL,
    viewport: { width: 1280, height: 800 },
    // What is tested comes from the server; practice without it has a test of its own.
    serviceWorkers: 'block',
    // Recording everything slows the pages down: only where it is asked for (HALF_STEP_TRACE=1).
    trace: process.env.HALF_STEP_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
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
  projects: [
    // Two pages at a time, each test with a player of its own; practice runs on a clock of the tests' own.
    { name: 'browser', testMatch: 'browser/*.spec.ts', grepInvert: REAL_TIME },
    {
      name: 'real-time',
      testMatch: 'browser/*.spec.ts',
      grep: REAL_TIME,
      workers: 1,
      fullyParallel: false,
      retries: 1,
    },
    // What nobody may do to the server; `npm run test:faults` does much more of it.
    { name: 'faults', testMatch: 'faults/*.spec.ts' },
    // Figures are read off one page at a time.
    { name: 'bench', testMatch: 'load/*.spec.ts', workers: 1, fullyParallel: false },
  ],
})
