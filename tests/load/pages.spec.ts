/**
 * How long each page holds up the browser, and how soon there is music, after a year of daily practice (5,000 passes,
 * `years.ts`) and with a song of 85 bars that is cut into many parts. The reference is the longest task of Settings, a
 * page with little on it, in the same run.
 */
import { expect, test, type Browser, type Page } from '@playwright/test'
import { denseSong } from '../material/dense-song'
import { answering, firstPicture, pick } from '../material/page'
import { practiseForYears } from './years'

const PASSES = 5000
const DAYS = 365
const BARS = 85
const ROUNDS = 3
/** So long a page rests before somebody goes on. */
const RESTS_MS = 3000

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!
const notation = (page: Page) => expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 60_000 })

/** A browser that knows nothing of Half Step yet, with what keeps count of its long tasks. */
async function fresh(browser: Browser, baseURL: string): Promise<Page> {
  const context = await browser.newContext({ baseURL, viewport: { width: 1280, height: 800 } })
  await context.addInitScript(() => {
    const kept = window as unknown as { longest: number }
    kept.longest = 0
    new PerformanceObserver(list => {
      for (const { duration } of list.getEntries()) kept.longest = Math.max(kept.longest, duration)
    }).observe({ type: 'longtask', buffered: true })
  })
  return await context.newPage()
}

// What records a test for later would be measured with it.
test.use({ trace: 'off' })
test.setTimeout(300_000)

let songId: string
let partId: string

test.beforeAll(async ({ request }) => {
  await practiseForYears(process.env.DATABASE_URL!, PASSES, DAYS)
  const made = await request.post('/api/songs?name=dense.musicxml', {
    data: Buffer.from(denseSong(BARS)),
    headers: { 'content-type': 'application/octet-stream' },
  })
  songId = ((await made.json()) as { id: string }).id
  const { parts } = (await (await request.get(`/api/songs/${songId}`)).json()) as { parts: { id: string }[] }
  partId = parts[0]!.id
  process.stdout.write(`a song of ${BARS} bars and ${parts.length} parts, ${PASSES} passes\n`)
})

test('the longest task of each page', async ({ browser, baseURL }) => {
  const longest = async (path: string, there: (page: Page) => Promise<unknown>) => {
    const [first, later]: [number[], number[]] = [[], []]
    for (let round = 0; round < ROUNDS; round++) {
      const page = await fresh(browser, baseURL!)
      for (const found of [first, later]) {
        await page.goto(path)
        await answering(page)
        await there(page)
        await page.waitForTimeout(RESTS_MS)
        found.push(await page.evaluate(() => (window as unknown as { longest: number }).longest))
      }
      await page.context().close()
    }
    return { first: median(first), later: median(later) }
  }
  const little = await longest('/settings', () => Promise.resolve())
  const lantern = async (page: Page) => await pick(page.getByLabel('Song', { exact: true }), 'The Lantern Ferry')
  for (const [what, path, there] of [
    ['Today', '/', () => Promise.resolve()],
    ['Songs', '/songs', () => Promise.resolve()],
    ['Song', `/songs/${songId}`, () => Promise.resolve()],
    ['Workbench', `/workbench/${songId}`, notation],
    ['Stand', `/stand/${partId}?hands=both`, notation],
    ['Logbook', '/logbook', firstPicture],
    ['Logbook, one song', '/logbook', lantern],
  ] as [string, string, (page: Page) => Promise<unknown>][]) {
    const { first, later } = await longest(path, there)
    // On any machine: beyond this a page does not answer the player.
    expect(Math.max(first, later), what).toBeLessThan(3_000)
    process.stdout.write(
      `${what}: longest task ${later.toFixed(0)} ms, ${first.toFixed(0)} ms the first time (to reach: under 200 ms); of Settings ${little.later.toFixed(0)} and ${little.first.toFixed(0)} ms\n`,
    )
  }
})

test('how soon there is music', async ({ browser, baseURL }) => {
  const [fromToday, again, reload]: [number[], number[], number[]] = [[], [], []]
  for (let round = 0; round < ROUNDS; round++) {
    const page = await fresh(browser, baseURL!)
    for (const taken of [fromToday, again]) {
      await page.goto(`/?song=${songId}`)
      await answering(page)
      await page.waitForTimeout(RESTS_MS)
      const began = performance.now()
      await page
        .getByRole('link', { name: /^Begin/ })
        .first()
        .click()
      await notation(page)
      taken.push(performance.now() - began)
    }
    const began = performance.now()
    await page.reload({ waitUntil: 'commit' })
    await notation(page)
    reload.push(performance.now() - began)
    await page.context().close()
  }
  expect(Math.max(...again, ...reload)).toBeLessThan(20_000)
  process.stdout.write(
    `Today to notation: ${median(fromToday).toFixed(0)} ms the first time, ${median(again).toFixed(0)} ms after (to reach: under 700 ms); a reload of the Stand to notation: ${median(reload).toFixed(0)} ms (to reach: under 2,500 ms)\n`,
  )
})
