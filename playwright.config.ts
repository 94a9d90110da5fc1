import { defineConfig } from '@playwright/test'

/** Where somebody plays. */
const AT_THE_KEYS =
  /browser\/(practice|stand|learner|whole-song|coach-stand|play-along|drills|away|first-steps)\.spec\.ts/

/**
 * Keys are pressed and tapped in real time, and a machine that others use may hold a page up. What fails twice is
 * wrong; what passed only the second time is named at the end of `npm test`.
 */
const TRIED_AGAIN = 1

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
      executablePath: '/usr/bin/chromium',
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
    // Two pages at a time, each test with a player of its own.
    { name: 'browser', testMatch: 'browser/*.spec.ts', testIgnore: AT_THE_KEYS, retries: TRIED_AGAIN },
    // Loops in real time: a page beside them would take their time.
    { name: 'keys', testMatch: AT_THE_KEYS, workers: 1, fullyParallel: false, retries: TRIED_AGAIN },
    // What nobody may do to the server; `npm run test:faults` does much more of it.
    { name: 'faults', testMatch: 'faults/*.spec.ts' },
    // Figures are read off one page at a time.
    { name: 'bench', testMatch: 'load/*.spec.ts', workers: 1, fullyParallel: false },
  ],
})
