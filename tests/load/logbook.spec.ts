/**
 * The Logbook after five years of daily practice: 100,000 passes on thirty-three songs (`years.ts`). Prints how long
 * the server takes for each view and how long the page draws. The reference is the same answer for nothing:
 * /api/health.
 */
import { expect, test, type Page } from '@playwright/test'
import { pick, firstPicture } from '../material/page'
import { practiseForYears } from './years'

declare global {
  interface Window {
    blocked: PerformanceObserver
    blockedMs: number
  }
}

const PASSES = 100_000
const DAYS = 1826
const ROUNDS = 15

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!

test.beforeAll(async ({ request }) => {
  await practiseForYears(process.env.DATABASE_URL!, PASSES, DAYS)
  // In another time zone every pass is summed anew.
  for (const timeZone of ['Asia/Tokyo', 'UTC'])
    expect((await request.patch('/api/settings', { data: { timeZone } })).ok()).toBe(true)
})

test('the server answers and the page draws', async ({ page, request }) => {
  const time = async (path: string) => {
    const start = performance.now()
    await request.get(path)
    const firstMs = performance.now() - start
    const taken: number[] = []
    let bytes = 0
    for (let round = 0; round < ROUNDS; round++) {
      const began = performance.now()
      const answer = await request.get(path)
      bytes = (await answer.body()).length
      expect(answer.ok()).toBe(true)
      taken.push(performance.now() - began)
    }
    return { ms: median(taken), firstMs, bytes }
  }
  const nothing = (await time('/api/health')).ms
  await page.goto('/songs')
  const songId = (await page.getByRole('link', { name: /^The Lantern Ferry/ }).getAttribute('href'))!.split('/').at(-1)!
  const from = new Date(Date.now() - 182 * 86_400_000).toISOString()
  for (const [what, path] of [
    ['Logbook, half a year', `/api/logbook?from=${from}`],
    ['Logbook, five years', '/api/logbook'],
    ['Logbook, one song', `/api/logbook?song=${songId}`],
    ['its passes', '/api/passes?limit=40'],
    ['where a song fails', `/api/logbook/errors?song=${songId}`],
    ['Song', `/api/songs/${songId}`],
    ['Today', '/api/today'],
  ] as const) {
    const { ms, firstMs, bytes } = await time(path)
    process.stdout.write(
      `${what}: ${ms.toFixed(0)} ms at the server with ${PASSES.toLocaleString('en-GB')} passes kept, ${Math.round(bytes / 1000)} kB (to reach: under 100 ms; the first time ${firstMs.toFixed(0)} ms); ${(ms / nothing).toFixed(0)} times an empty answer (${nothing.toFixed(1)} ms)\n`,
    )
  }
  for (const span of ['half a year', 'all']) {
    await page.goto('/logbook')
    await firstPicture(page)
    await page.waitForTimeout(500)
    const days = page.getByLabel('Time', { exact: true })
    await pick(days, span === 'all' ? 'half a year' : 'all')
    await settled(page)
    await page.evaluate(() => {
      window.blockedMs = 0
      window.blocked = new PerformanceObserver(list => {
        for (const entry of list.getEntries()) window.blockedMs += entry.duration
      })
      window.blocked.observe({ type: 'longtask' })
    })
    await pick(days, span)
    await page.waitForTimeout(400)
    await settled(page)
    const drawn = await page.evaluate(() => {
      window.blocked.disconnect()
      return window.blockedMs
    })
    process.stdout.write(
      `the Logbook's pictures of ${span}: ${drawn.toFixed(0)} ms of drawing (to reach: under 500 ms)\n`,
    )
  }
  const began = performance.now()
  const csv = await request.get('/api/logbook/export?format=csv')
  const lines = (await csv.text()).trim().split('\n').length
  expect(lines).toBeGreaterThan(PASSES)
  process.stdout.write(
    `${lines.toLocaleString('en-GB')} lines of CSV: ${((performance.now() - began) / 1000).toFixed(1)} s\n`,
  )
})

/** Until thirty frames in a row came on time. */
async function settled(page: Page) {
  await page.evaluate(async () => {
    let last = performance.now()
    for (let quiet = 0; quiet < 30;) {
      await new Promise(resolve => requestAnimationFrame(resolve))
      quiet = performance.now() - last < 25 ? quiet + 1 : 0
      last = performance.now()
    }
  })
}
