import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import { flags } from './flags.mjs'
import { say } from './log.mjs'
import { installDebianPackages, installPackages } from './packages.mjs'
import { ROOT, run } from './run.mjs'

/**
 * `npm test`: everything. `npm run bench:browser` (--bench): the measurements in the browser instead of the tests. `npm
 * run test:faults` (--faults COUNT): what nobody may do to the server, so often.
 */
const { bench, faults } = flags('npm test --', { bench: { type: 'boolean' }, faults: { type: 'string' } })
/**
 * What is run of the browser's: where somebody plays in real time, a page beside it would take its time, so those come
 * alone.
 */
const projects = bench ? ['bench'] : faults ? ['faults'] : ['browser', 'faults', 'real-time']
const results = join(ROOT, 'test-results')
/** Lines of each failure that are repeated at the end. */
const SHOWN_LINES = 12
const tally = { passed: 0, failed: 0 }
/** What failed and why, told once more at the very end; and what passed only when it was tried again. */
const failures = []
const triedAgain = []

const node = (what, file, args, options) => run(what, process.execPath, [join('node_modules', file), ...args], options)

/** A step that passes or fails as a whole; the end of its output is kept for the summary. */
async function step(what, work) {
  say(what)
  const { code, output = '' } = await work()
  if (code === 0) tally.passed++
  else {
    tally.failed++
    say(`${what}: FAILED`)
    failures.push({ what, why: output.trim().split('\n').slice(-SHOWN_LINES).join('\n') })
  }
  return code === 0
}

await installPackages()
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })
const { buildApplication, startApplication } = await import('./application.mjs')
const { freePort, startThrowAwayCluster } = await import('./postgres.mjs')

if (bench || faults) {
  if (await build()) await inBrowser()
} else {
  await installDebianPackages(
    ['midicsv', 'libxml2-utils'],
    () => existsSync('/usr/bin/midicsv') && existsSync('/usr/bin/xmllint'),
  )
  // Beside each other, since none of them fills both cores of a small machine; what the browser needs comes first.
  const built = build()
  const checks = built.then(async () => {
    await step('lint', () => node('lint', 'eslint/bin/eslint.js', ['.'], { quiet: true }))
    await step('format', () => node('format', 'prettier/bin/prettier.cjs', ['--check', '.'], { quiet: true }))
    await step('type check', () => node('type check', 'nuxt/bin/nuxt.mjs', ['typecheck'], { quiet: true }))
  })
  say('unit and reference tests')
  await node('unit tests', 'vitest/vitest.mjs', [
    'run',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${join(results, 'unit.json')}`,
  ])
  count(join(results, 'unit.json'), 'unit tests', unitTests)
  if (await built) await inBrowser()
  await checks
}

for (const [heading, some] of [
  ['PASSED ONLY WHEN TRIED AGAIN', triedAgain],
  ['FAILED', failures],
]) {
  for (const { what, why } of some) process.stdout.write(`\n${heading}: ${what}\n${why.replaceAll(/^/gm, '    ')}\n`)
}
process.stdout.write(`\n${tally.passed} passed, ${tally.failed} failed\n`)
process.exit(tally.failed === 0 ? 0 : 1)

async function build() {
  return await step('build', async () => ({
    code: (await buildApplication()) ? 0 : 1,
    output: 'what the build said stands above',
  }))
}

async function inBrowser() {
  // Debian's Chromium without a window: quicker to start and to draw than the one with.
  await installDebianPackages(['chromium-headless-shell'], () => existsSync('/usr/bin/chromium-headless-shell'))
  const cluster = await startThrowAwayCluster()
  process.on('exit', cluster.stop)
  const application = await startApplication({
    port: await freePort(),
    databaseUrl: cluster.url,
    password: 'a password for the tests alone, forty letters',
    environment: { HALF_STEP_DEMO: '1' },
  })
  for (const project of projects) {
    const report = join(results, `${project}.json`)
    say(`in the browser: ${project}`)
    await node(
      `browser tests, ${project}`,
      '@playwright/test/cli.js',
      ['test', `--project=${project}`, `--output=test-results/${project}`],
      {
        env: {
          HALF_STEP_URL: application.url,
          DATABASE_URL: cluster.url,
          PLAYWRIGHT_JSON_OUTPUT_NAME: report,
          ...(faults ? { HALF_STEP_FAULTS: faults } : {}),
        },
      },
    )
    count(report, `browser tests, ${project}`, browserTests)
  }
  await application.stop()
}

function count(file, what, read) {
  if (!existsSync(file)) {
    tally.failed++
    failures.push({ what, why: 'ended without a report; what it said stands above' })
    return
  }
  const { passed, failed, again = [] } = read(JSON.parse(readFileSync(file, 'utf8')))
  tally.passed += passed
  tally.failed += failed.length
  failures.push(...failed)
  triedAgain.push(...again)
  if (passed + failed.length > 0) return
  tally.failed++
  failures.push({ what, why: 'no test was run' })
}

function unitTests({ numPassedTests, testResults }) {
  const of = (file, name, messages) => ({ what: `${relative(ROOT, file.name)}: ${name}`, why: firstLines(messages) })
  return {
    passed: numPassedTests,
    failed: testResults.flatMap(file =>
      file.status === 'failed' && file.assertionResults.length === 0
        ? [of(file, 'could not be run', [file.message])]
        : file.assertionResults
            .filter(one => one.status === 'failed')
            .map(one => of(file, one.fullName, one.failureMessages)),
    ),
  }
}

function browserTests({ stats, suites, errors = [] }) {
  const specs = suite => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)]
  const told = spec => ({
    what: `${spec.file}: ${spec.title}`,
    why: firstLines(
      spec.tests.flatMap(test => test.results.flatMap(result => result.errors.map(error => error.message))),
    ),
  })
  const all = suites.flatMap(specs)
  const failed = all.filter(spec => !spec.ok).map(told)
  const again = all.filter(spec => spec.tests.some(test => test.status === 'flaky')).map(told)
  return {
    passed: stats.expected + stats.flaky,
    again,
    failed: [...failed, ...errors.map(error => ({ what: 'the browser tests', why: firstLines([error.message]) }))],
  }
}

/** The beginning of what went wrong, without the colours of a terminal. */
function firstLines(messages) {
  return stripVTControlCharacters(messages.join('\n'))
    .split('\n')
    .filter(line => line.trim() !== '')
    .slice(0, SHOWN_LINES)
    .join('\n')
}
