/**
 * Measurements in headless Chromium, run by `npm run bench:browser`: how long a key takes to the screen, how much
 * JavaScript the practice page needs, and whether it stands still while a long pass is judged. They print figures; they
 * fail only when what they measure does not happen.
 */
import { gzipSync } from 'node:zlib'
import { expect, test } from '@playwright/test'
import { readMusicXml } from '#core/formats/musicxml/read'
import { arrangementEnd } from '#core/music/arrangement'
import { expectedNotes, playedPassage } from '#core/music/passage'
import { toDecimal, ZERO } from '#core/music/quarters'
import { repeatedBars } from '../../cli/bench/long-score'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'

const FASTEST_BPM = 300

const percentile = (values: number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))]!

test('from a MIDI message to the painted mark', async ({ page }) => {
  await standInForMidi(page)
  await page.goto('/songs')
  await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
  await page
    .getByRole('link', { name: /^Practise .*: together/ })
    .first()
    .click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  await roundStart(page, 0)
  const { toPaint, frame } = await page.evaluate(async input => {
    const wait = (ms: number) => new Promise(resolve => setTimeout(resolve, ms))
    // The first task after the frame's rendering is when its paint is done.
    const afterPaint = () =>
      new Promise<number>(resolve =>
        requestAnimationFrame(() => {
          const channel = new MessageChannel()
          channel.port1.onmessage = () => resolve(performance.now())
          channel.port2.postMessage(0)
        }),
      )
    const toPaint: number[] = []
    const frame: number[] = []
    for (let stroke = 0; stroke < 150; stroke++) {
      await wait(60 + Math.random() * 40)
      const idle = performance.now()
      frame.push((await afterPaint()) - idle)
      await wait(10 + Math.random() * 16)
      const began = performance.now()
      window.standIn.sendNow(input, [0x90, 60 + (stroke % 12), 70])
      toPaint.push((await afterPaint()) - began)
    }
    return { toPaint, frame }
  }, id)
  expect(toPaint.length).toBe(150)
  process.stdout.write(
    `a MIDI message to the painted mark: p50 ${percentile(toPaint, 0.5).toFixed(1)} ms, p95 ${percentile(toPaint, 0.95).toFixed(1)} ms (to reach: under 20 ms); ${(percentile(toPaint, 0.95) / percentile(frame, 0.95)).toFixed(2)} times an empty frame in the same run (p95 ${percentile(frame, 0.95).toFixed(1)} ms)\n`,
  )
})

test('the JavaScript of the practice page', async ({ page }) => {
  await page.goto('/songs')
  await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
  const href = await page
    .getByRole('link', { name: /^Practise .*: right hand/ })
    .first()
    .getAttribute('href')
  // What the page runs: chunks that are only fetched ahead for other pages, and workers, are not among them.
  await page.coverage.startJSCoverage()
  await page.goto(href!, { waitUntil: 'networkidle' })
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  const run = await page.coverage.stopJSCoverage()
  const atLoad = run
    .filter(({ url }) => /\.m?js(\?|$)/.test(url))
    .map(({ url, source }) => ({ url, bytes: gzipSync(source ?? '').length }))
  const total = atLoad.reduce((sum, one) => sum + one.bytes, 0)
  expect(total).toBeGreaterThan(0)
  process.stdout.write(
    `JavaScript of the practice page: ${Math.round(total / 1000)} kB gzipped in ${atLoad.length} files (to reach: under 300 kB; workers, and what is fetched ahead for other pages, not counted)\n`,
  )
  for (const { url, bytes } of atLoad.sort((a, b) => b.bytes - a.bytes).slice(0, 5))
    process.stdout.write(`  ${Math.round(bytes / 1000)} kB ${new URL(url).pathname}\n`)
})

declare global {
  interface Window {
    judgeMessages: number[]
  }
}

/**
 * Times, in the page, what each message of the judge's worker takes: unpacking it and whatever is done with it at once,
 * ms.
 */
function watchJudge() {
  window.judgeMessages = []
  window.Worker = class extends Worker {
    constructor(url: string | URL, options?: WorkerOptions) {
      super(url, options)
      if (options?.name !== 'judge') return
      let began = 0
      super.addEventListener('message', (event: MessageEvent) => {
        began = performance.now()
        // Unpacked when it is first looked at.
        void event.data
      })
      const listen = super.addEventListener.bind(this) as Worker['addEventListener']
      this.addEventListener = ((...given: Parameters<typeof listen>) => {
        listen(...given)
        // Behind the page's own listener, and what that has set going.
        if (given[0] === 'message')
          listen('message', () => {
            window.judgeMessages.push(performance.now() - began)
          })
      }) as typeof listen
    }
  }
}

test('the page while a whole song of 3,000 notes is judged', async ({ page }) => {
  test.setTimeout(420_000)
  const SCORE = repeatedBars(188)
  const { arrangement } = readMusicXml(SCORE)
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }
  const { id: songId } = (await (
    await page.request.post('/api/songs?name=long.musicxml', {
      data: Buffer.from(SCORE),
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  const { parts } = (await (await page.request.get(`/api/songs/${songId}`)).json()) as { parts: { id: string }[] }
  await standInForMidi(page)
  await page.addInitScript(watchJudge)
  await page.goto(`/stand/${parts[0]!.id}?hands=both&bpm=${FASTEST_BPM}&from=0/1&to=${whole.to.n}/${whole.to.d}`)
  await expect(page.locator('.row svg .note').first()).toBeVisible({ timeout: 60_000 })
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  const expected = expectedNotes(arrangement, playedPassage(arrangement, whole, 'both'), FASTEST_BPM)
  expect(expected.length).toBeGreaterThan(3000)
  await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(expected, startMs)] as [
    string,
    Sent[],
  ])
  const endMs = startMs + (toDecimal(whole.to) * 60_000) / FASTEST_BPM
  await page.waitForTimeout(Math.max(0, endMs - 2000 - (await page.evaluate(() => performance.now()))))
  await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 60_000 })
  const { judged, shown } = await page.evaluate(() => ({
    judged: window.judgeMessages,
    shown: performance.getEntriesByName('half-step:pass-shown').map(entry => entry.duration),
  }))
  expect(judged.length).toBeGreaterThan(3)
  expect(shown.length).toBe(1)
  process.stdout.write(
    `a pass of ${expected.length} notes judged in the worker: each of its ${judged.length} messages holds the page up for ${Math.max(...judged).toFixed(1)} ms at most (to reach: under 8 ms); to hand it to the coach and the outbox and to show it took ${shown[0]!.toFixed(1)} ms\n`,
  )
})
