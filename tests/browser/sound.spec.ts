import { build } from 'esbuild'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import type { clickWave } from '#core/sound/waveforms'
import type { SampledVoice } from '../../app/sound/sampled-voice'
import type { createTransport } from '../../app/sound/transport'

declare global {
  var halfStep: {
    createTransport: typeof createTransport
    SampledVoice: typeof SampledVoice
    clickWave: typeof clickWave
  }
}

/** The transport, its voices and a performance, as one script for a page without anything else. */
async function bundle(): Promise<string> {
  const root = fileURLToPath(new URL('../..', import.meta.url))
  const made = await build({
    stdin: {
      contents: `
        export { createTransport } from './app/sound/transport'
        export { SampledVoice } from './app/sound/sampled-voice'
        export { clickWave } from './core/sound/waveforms'`,
      resolveDir: root,
      loader: 'ts',
    },
    bundle: true,
    format: 'iife',
    globalName: 'halfStep',
    write: false,
    platform: 'browser',
    alias: { '#shared': `${root}shared`, '~': `${root}app` },
    logLevel: 'error',
  })
  return made.outputFiles[0]!.text
}

test('clicks lie within one sample of their moments, from 30 to 300 bpm over ten minutes and every change of tempo, however the page is busy', async ({
  page,
}) => {
  await page.goto('about:blank')
  await page.addScriptTag({ content: await bundle() })
  const found = await page.evaluate(async () => {
    const { createTransport, SampledVoice, clickWave } = globalThis.halfStep
    const [rate, minutes] = [44_100, 10]
    const context = new OfflineAudioContext(1, rate * 60 * minutes, rate)
    const buffer = context.createBuffer(1, 2_646, rate)
    buffer.copyToChannel(clickWave('beat', rate) as Float32Array<ArrayBuffer>, 0)
    const voice = new SampledVoice(context, context.destination, {
      zones: [{ pitch: 77, buffer, lead: 0 }],
      release: 0,
      ringsOn: true,
      level: 1,
    })
    let tick = () => {}
    const transport = createTransport({
      clock: { now: () => context.currentTime, secondsAt: (ms: number) => ms / 1000 },
      pageNow: () => context.currentTime * 1000,
      voiceOf: () => voice,
      everyTick: (act: () => void) => {
        tick = act
        return () => {
          tick = () => {}
        }
      },
    })
    // Stretches of twenty seconds, each at another tempo, none of which divides the sample rate evenly.
    const due: number[] = []
    for (let at = 1, step = 0; at < 60 * minutes - 1; step++) {
      const gap = 60 / (30 + ((step * 37) % 271))
      for (const until = Math.min(at + 20, 60 * minutes - 1); at < until; at += gap) due.push(at)
    }
    const line = transport.line()
    line.add(
      due.map(at => ({ voice: 'click', atMs: at * 1000, lengthMs: 40, pitch: 77, velocity: 100 })),
      0,
    )
    // Ticks come late: up to 400 ms after each other.
    const visit = (seconds: number, lateness: number) => {
      if (seconds >= 60 * minutes) return
      void context.suspend(seconds).then(() => {
        tick()
        visit(seconds + (lateness % 5 === 0 ? 0.4 : 0.025 + 0.05 * (lateness % 3)), lateness + 1)
        void context.resume()
      })
    }
    visit(0.1, 0)
    const wave = (await context.startRendering()).getChannelData(0)
    const onsets: number[] = []
    for (let index = 0; index < wave.length; index++) {
      if (Math.abs(wave[index]!) < 0.1) continue
      onsets.push(index)
      index += rate / 10
    }
    return {
      due: due.length,
      heard: onsets.length,
      worst: Math.max(...due.map((at, index) => Math.abs(onsets[index]! - at * rate))),
    }
  })
  expect(found.heard).toBe(found.due)
  expect(found.due).toBeGreaterThan(1000)
  expect(found.worst).toBeLessThanOrEqual(1)
})

test('a key let go dies away, what is stopped is silent within 20 ms, and what is taken back never sounds', async ({
  page,
}) => {
  await page.goto('about:blank')
  await page.addScriptTag({ content: await bundle() })
  const levels = await page.evaluate(async () => {
    const { SampledVoice } = globalThis.halfStep
    const rate = 44_100
    const context = new OfflineAudioContext(1, rate * 8, rate)
    const buffer = context.createBuffer(1, rate * 6, rate)
    buffer.getChannelData(0).fill(1)
    const voice = new SampledVoice(context, context.destination, {
      zones: [{ pitch: 60, buffer, lead: 0 }],
      release: 0.3,
      level: 1,
    })
    voice.place({ pitch: 60, velocity: 127, lengthMs: 500 }, 0.5)
    voice.place({ pitch: 60, velocity: 127, lengthMs: Infinity }, 2).letGo(3, 'stop')
    voice.place({ pitch: 60, velocity: 127, lengthMs: 1000 }, 4.5).letGo(4.2, 'stop')
    const dying = voice.place({ pitch: 60, velocity: 127, lengthMs: 500 }, 6)
    dying.letGo(6.55, 'stop')
    const wave = (await context.startRendering()).getChannelData(0)
    return [0.4, 0.6, 1.05, 1.4, 2.5, 3.02, 4.7, 6.3, 6.54, 6.57].map(
      at => Math.round(Math.abs(wave[Math.round(at * rate)]!) * 1000) / 1000,
    )
  })
  const [before, held, dying, gone, sounding, stopped, takenBack, heldAgain, dyingAgain, stoppedAgain] = levels as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ]
  expect([before, held, gone, sounding, takenBack, heldAgain]).toEqual([0, 1, 0, 1, 0, 1])
  expect(dying).toBeGreaterThan(0.2)
  expect(dying).toBeLessThan(0.9)
  expect(stopped).toBeLessThan(0.01)
  expect(dyingAgain).toBeGreaterThan(0.2)
  expect(stoppedAgain).toBeLessThan(0.01)
})
