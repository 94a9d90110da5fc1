import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { say } from './log.mjs'
import { installDebianPackages, installPackages } from './packages.mjs'
import { ROOT, run } from './run.mjs'

/** `npm test`: everything. `npm run bench:browser` (--bench): the measurements in the browser instead of the tests. */
const bench = process.argv.includes('--bench')
const results = join(ROOT, 'test-results')
const tally = { passed: 0, failed: 0 }

const node = (what, file, args, options) => run(what, process.execPath, [join('node_modules', file), ...args], options)

async function step(what, work) {
  say(what)
  const passed = await work()
  if (passed) tally.passed++
  else {
    tally.failed++
    say(`${what}: FAILED`)
  }
  return passed
}

await installPackages()
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })
const { buildApplication, startApplication } = await import('./application.mjs')
const { freePort, startThrowAwayCluster } = await import('./postgres.mjs')

if (!bench) {
  await installDebianPackages(['midicsv', 'libxml2-utils'], () => existsSync('/usr/bin/midicsv') && existsSync('/usr/bin/xmllint'))
  await node('prepare', 'nuxt/bin/nuxt.mjs', ['prepare'], { quiet: true })
  await step('lint', async () => (await node('lint', 'eslint/bin/eslint.js', ['.'], { quiet: true })).code === 0)
  await step('type check', async () => (await node('type check', 'nuxt/bin/nuxt.mjs', ['typecheck'], { quiet: true })).code === 0)
  say('unit and reference tests')
  await node('unit tests', 'vitest/vitest.mjs', ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${join(results, 'unit.json')}`])
  count(join(results, 'unit.json'), report => [report.numPassedTests, report.numFailedTests + report.testResults.filter(file => file.status === 'failed' && file.assertionResults.length === 0).length])
}

if (await step('build', buildApplication)) await inBrowser()
process.stdout.write(`\n${tally.passed} passed, ${tally.failed} failed\n`)
process.exit(tally.failed === 0 ? 0 : 1)

async function inBrowser() {
  await installDebianPackages(['chromium'], () => existsSync('/usr/bin/chromium'))
  const cluster = await startThrowAwayCluster()
  process.on('exit', cluster.stop)
  const application = await startApplication({ port: await freePort(), databaseUrl: cluster.url, password: 'a password for the tests alone, forty letters', demo: true })
  say(bench ? 'measurements in the browser' : 'browser tests')
  await node('browser tests', '@playwright/test/cli.js', ['test', ...(bench ? ['--project=bench'] : ['--project=browser'])], {
    env: { HALF_STEP_URL: application.url, DATABASE_URL: cluster.url, PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json') },
  })
  count(join(results, 'browser.json'), ({ stats }) => [stats.expected + stats.flaky, stats.unexpected])
  await application.stop()
}

function count(file, read) {
  if (!existsSync(file)) {
    tally.failed++
    return
  }
  const [passed, failed] = read(JSON.parse(readFileSync(file, 'utf8')))
  tally.passed += passed
  tally.failed += failed
  if (passed + failed === 0) tally.failed++
}
