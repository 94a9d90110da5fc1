/**
 * Measurements in headless Chromium, run by `npm run bench:browser`: how long a key takes to the screen, how much JavaScript the
 * practice page needs, and whether it stands still while a long pass is judged. They print figures; they fail only when what they measure does not happen.
 */
import { gzipSync } from 'node:zlib'
import { expect, test } from '@playwright/test'
import { readMusicXml } from '#core/formats/musicxml/read'
import { arrangementEnd } from '#core/music/arrangement'
import { expectedNotes, playedPassage } from '#core/music/passage'
import { toDecimal, ZERO } from '#core/music/quarters'
import { barsOf } from '../../cli/bench/long-score'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'

const FASTEST_BPM = 300

const percentile = (values: number[], share: number) => [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))]!

test('from a MIDI message to the painted mark', async ({ page }) => {
  await standInForMidi(page)
  await page.goto('/songs')
  await page.getByRole('link', { name: 'The Lantern Ferry' }).click()
  await page.getByRole('link', { name: /Together at 96/ }).first().click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  await roundStart(page, 0)
  const { toPaint, frame } = await page.evaluate(async (input) => {
    const wait = (ms: number) => new Promise(resolve => setTimeout(resolve, ms))
    // The first task after the frame's rendering is when its paint is done.
    const afterPaint = () => new Promise<number>(resolve => requestAnimationFrame(() => {
      const channel = new MessageChannel()
      channel.port1.onmessage = () => resolve(performance.now())
      channel.port2.postMessage(0)
    }))
    const toPaint: number[] = []
    const frame: number[] = []
    for (let stroke = 0; stroke < 150; stroke++) {
      await wait(60 + Math.random() * 40)
      const idle = performance.now()
      frame.push(await afterPaint() - idle)
      await wait(10 + Math.random() * 16)
      const began = performance.now()
      window.standIn.sendNow(input, [0x90, 60 + stroke % 12, 70])
      toPaint.push(await afterPaint() - began)
    }
    return { toPaint, frame }
  }, id)
  expect(toPaint.length).toBe(150)
  process.stdout.write(`a MIDI message to the painted mark: p50 ${percentile(toPaint, 0.5).toFixed(1)} ms, p95 ${percentile(toPaint, 0.95).toFixed(1)} ms (to reach: under 20 ms); ${(percentile(toPaint, 0.95) / percentile(frame, 0.95)).toFixed(2)} times an empty frame in the same run (p95 ${percentile(frame, 0.95).toFixed(1)} ms)\n`)
})

test('the JavaScript of the practice page', async ({ page }) => {
  await page.goto('/songs')
  await page.getByRole('link', { name: 'The Lantern Ferry' }).click()
  const href = await page.getByRole('link', { name: /Right hand at/ }).first().getAttribute('href')
  const atLoad: { url: string, bytes: number }[] = []
  const worker: string[] = []
  page.on('response', async (response) => {
    const url = response.url()
    if (!/\.m?js(\?|$)/.test(url)) return
    const body = await response.body().catch(() => Buffer.alloc(0))
    if (response.request().frame() && !/engraver|worker/i.test(url)) atLoad.push({ url, bytes: gzipSync(body).length })
    else worker.push(url)
  })
  await page.goto(href!, { waitUntil: 'networkidle' })
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  const total = atLoad.reduce((sum, one) => sum + one.bytes, 0)
  expect(total).toBeGreaterThan(0)
  process.stdout.write(`JavaScript of the practice page: ${Math.round(total / 1000)} kB gzipped in ${atLoad.length} files (to reach: under 300 kB; the notation worker and what is loaded later not counted)\n`)
  for (const { url, bytes } of atLoad.sort((a, b) => b.bytes - a.bytes).slice(0, 5)) process.stdout.write(`  ${Math.round(bytes / 1000)} kB ${new URL(url).pathname}\n`)
})

test('the page while a whole song of 3,000 notes is judged', async ({ page }) => {
  test.setTimeout(420_000)
  const SCORE = barsOf(188)
  const { arrangement } = readMusicXml(SCORE)
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }
  const { id: songId } = await (await page.request.post('/api/songs?name=long.musicxml', { data: Buffer.from(SCORE), headers: { 'content-type': 'application/octet-stream' } })).json() as { id: string }
  const { parts } = await (await page.request.get(`/api/songs/${songId}`)).json() as { parts: { id: string }[] }
  await standInForMidi(page)
  await page.goto(`/stand/${parts[0]!.id}?hands=both&bpm=${FASTEST_BPM}&from=0/1&to=${whole.to.n}/${whole.to.d}`)
  await expect(page.locator('.row svg .note').first()).toBeVisible({ timeout: 60_000 })
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  const expected = expectedNotes(arrangement, playedPassage(arrangement, whole, 'both'), FASTEST_BPM)
  expect(expected.length).toBeGreaterThan(3000)
  await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(expected, startMs)] as [string, Sent[]])
  const endMs = startMs + toDecimal(whole.to) * 60_000 / FASTEST_BPM
  await page.waitForTimeout(Math.max(0, endMs - 2000 - await page.evaluate(() => performance.now())))
  // What the page's main thread does with each message that comes to it, from workers and all others, as the browser itself tells.
  const session = await page.context().newCDPSession(page)
  const heard: { name: string, dur?: number, pid: number, tid: number, args: { name?: string } }[] = []
  session.on('Tracing.dataCollected', ({ value }) => {
    heard.push(...(value as unknown as typeof heard).filter(({ name }) => name === 'HandlePostMessage' || name === 'thread_name'))
  })
  await session.send('Tracing.start', { transferMode: 'ReportEvents', traceConfig: { includedCategories: ['devtools.timeline', 'disabled-by-default-devtools.timeline'] } })
  await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 60_000 })
  const ended = new Promise<void>((resolve) => { session.on('Tracing.tracingComplete', () => resolve()) })
  await session.send('Tracing.end')
  await ended
  const threads = new Set(heard.filter(({ name, args }) => name === 'thread_name' && args.name === 'CrRendererMain').map(({ pid, tid }) => `${pid}:${tid}`))
  const handled = heard.filter(({ name, pid, tid }) => name === 'HandlePostMessage' && threads.has(`${pid}:${tid}`)).map(({ dur = 0 }) => dur / 1000)
  expect(handled.length).toBeGreaterThan(0)
  const longest = handled.sort((a, b) => b - a).slice(0, 5).map(ms => ms.toFixed(1)).join(', ')
  process.stdout.write(`a pass of ${expected.length} notes judged in the worker: of ${handled.length} messages to the page's main thread the longest took ${longest} ms, with the drawing that follows them (to reach for the judging alone: under 8 ms)\n`)
})
