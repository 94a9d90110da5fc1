/**
 * Measurements in headless Chromium, run by `npm run bench:browser`: how long a key takes to the screen, and how much JavaScript the
 * practice page needs. They print figures; they fail only when what they measure does not happen.
 */
import { gzipSync } from 'node:zlib'
import { expect, test } from '@playwright/test'
import { roundStart, standInForMidi } from '../material/midi-stand-in'

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
