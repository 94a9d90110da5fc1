/** Hears what the program places on the audio clock, for the tests of it. */
import type { Page } from '@playwright/test'

/** One sound as it was placed: when it is to be heard on the page's clock; `saidMs`: when it was placed. */
export interface HeardSound {
  voice: string
  pitch: number
  atMs: number
  lateMs: number
  saidMs: number
}

declare global {
  interface Window {
    heardSounds: HeardSound[]
    cuts: { atMs: number; saidMs: number }[]
    sources: { startedAt: number; stopsAt: number; saidAt: number; seconds: number; loudness: number }[]
  }
}

/**
 * To be called before the page is opened. Writes down every sound, every cut, and the real audio nodes with the moments
 * at which they start and stop.
 */
export async function hearThePage(page: Page): Promise<void> {
  await page.addInitScript(() => {
    window.heardSounds = []
    window.cuts = []
    window.sources = []
    new PerformanceObserver(list => {
      for (const entry of list.getEntries() as PerformanceMark[]) {
        const detail = entry.detail as never as HeardSound
        if (entry.name === 'half-step:sound') window.heardSounds.push({ ...detail, saidMs: entry.startTime })
        if (entry.name === 'half-step:cut') window.cuts.push({ atMs: detail.atMs, saidMs: entry.startTime })
      }
    }).observe({ type: 'mark' })
    const { start, stop } = AudioScheduledSourceNode.prototype
    const begin = AudioBufferSourceNode.prototype.start
    const known = new WeakMap<AudioScheduledSourceNode, Window['sources'][number]>()
    const written = (node: AudioScheduledSourceNode, at: number, buffer?: AudioBuffer | null) => {
      // Of long sounds it is looked whether there is anything in them.
      const wave = buffer && buffer.duration > 4 ? buffer.getChannelData(0) : new Float32Array(0)
      let sum = 0
      for (let index = 0; index < wave.length; index += 7) sum += wave[index]! ** 2
      const one = {
        startedAt: Math.max(at, node.context.currentTime),
        stopsAt: Infinity,
        saidAt: node.context.currentTime,
        seconds: buffer?.duration ?? 0,
        loudness: Math.sqrt((7 * sum) / Math.max(1, wave.length)),
      }
      known.set(node, one)
      window.sources.push(one)
    }
    AudioBufferSourceNode.prototype.start = function (at = 0, ...rest) {
      written(this, at, this.buffer)
      return begin.call(this, at, ...rest)
    }
    AudioScheduledSourceNode.prototype.start = function (at = 0) {
      written(this, at)
      return start.call(this, at)
    }
    AudioScheduledSourceNode.prototype.stop = function (at = 0) {
      const one = known.get(this)
      if (one) one.stopsAt = Math.max(at, this.context.currentTime)
      return stop.call(this, at)
    }
  })
}

export const heardSounds = async (page: Page, voice?: string): Promise<HeardSound[]> =>
  (await page.evaluate(() => window.heardSounds))
    .filter(one => voice === undefined || one.voice === voice)
    .sort((a, b) => a.atMs - b.atMs)
