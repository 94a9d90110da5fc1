import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { wholePassage, passageClock } from '../music/passage'
import type { Arrangement } from '../music/arrangement'
import { seededChance } from '../players/randomness'
import { renderPassage } from '../sound/of-score'
import { hertzOf } from '../sound/waveforms'
import { alignRecording, secondsAt } from './align-recording'

const RATE = 22_050

/** A tempo that goes up and down by a share, with a breath after each so many quarters: score ms to seconds. */
function course(lengthMs: number, tempo: number, sway: number): (scoreMs: number) => number {
  const step = 20
  const table = [0]
  for (let ms = 0; ms < lengthMs + 5_000; ms += step)
    table.push(table.at(-1)! + step / 1000 / (tempo * (1 + sway * Math.sin((2 * Math.PI * ms) / 17_000))))
  return scoreMs => table[Math.floor(Math.max(0, scoreMs) / step)]! + (Math.max(0, scoreMs) % step) / 1000 / tempo
}

/**
 * A song as another instrument plays it (a reed: odd partials, slow attack, no decay), slips in timing, in a noisy
 * room, after a silence.
 */
function recorded(
  arrangement: Arrangement,
  { tempo, sway, lead, noise, seed }: { tempo: number; sway: number; lead: number; noise: number; seed: number },
) {
  const { events, lengthMs } = renderPassage(arrangement, wholePassage(arrangement, 'both'), {
    hands: ['right', 'left'],
  })
  const at = course(lengthMs, tempo, sway)
  const chance = seededChance(seed)
  const wave = new Float32Array(Math.ceil((lead + at(lengthMs) + 2) * RATE))
  for (const { atMs, lengthMs: heldMs, pitch, velocity } of events) {
    const [from, to] = [lead + at(atMs) + 0.012 * chance.normal(), lead + at(atMs + heldMs)]
    const hz = hertzOf(pitch)
    for (let index = Math.max(0, Math.round(from * RATE)); index < Math.min(wave.length, to * RATE); index++) {
      const t = index / RATE - from
      const phase = 2 * Math.PI * hz * t
      wave[index]! +=
        (velocity / 127) *
        Math.min(1, t / 0.03) *
        (Math.sin(phase) + 0.4 * Math.sin(3 * phase) + 0.2 * Math.sin(5 * phase)) *
        0.1
    }
  }
  for (let index = 0; index < wave.length; index++) wave[index]! += noise * (chance.uniform() - 0.5)
  return { wave, truth: (scoreMs: number) => lead + at(scoreMs) }
}

/** How far each bar is found from where it is, s. */
function offBars(name: string, how: Parameters<typeof recorded>[1]) {
  const { arrangement } = demoScore(name)
  const passage = wholePassage(arrangement, 'both')
  const { wave, truth } = recorded(arrangement, how)
  const found = alignRecording(wave, RATE, renderPassage(arrangement, passage, { hands: ['right', 'left'] }))!
  const clock = passageClock(arrangement, passage)
  const bars = arrangement.bars
    .slice(0, -1)
    .map(bar => clock.msAt(0, bar.start))
    .filter(ms => ms < clock.lengthMs)
  return { better: found.better, off: bars.map(ms => Math.abs(secondsAt(found, ms) - truth(ms))).sort((a, b) => a - b) }
}

describe('a moment of the score', () => {
  it('lies between the points about it, and beyond them at the tempo of the nearest', () => {
    const points: [number, number][] = [
      [0, 1],
      [1000, 2],
      [2000, 4],
    ]
    expect([500, 1500, 2000, 3000, -1000].map(ms => secondsAt({ points }, ms))).toEqual([1.5, 3, 4, 6, 0])
  })
})

describe('a recording of a song', () => {
  it.each([
    ['lantern-ferry.musicxml', { tempo: 1, sway: 0, lead: 0, noise: 0, seed: 1 }],
    ['lantern-ferry.musicxml', { tempo: 0.87, sway: 0.06, lead: 1.3, noise: 0.02, seed: 2 }],
    ['side-street-shuffle.musicxml', { tempo: 1.12, sway: 0.05, lead: 2.1, noise: 0.02, seed: 3 }],
  ])('is found bar by bar within 70 ms: %s %o', (name, how) => {
    const { off, better } = offBars(name, how)
    expect(
      off[Math.floor(0.95 * off.length)],
      `better ${better}: ${off.map(one => Math.round(one * 1000)).join(' ')}`,
    ).toBeLessThan(0.07)
  })

  it('of another song is not taken for it', () => {
    const { wave } = recorded(demoScore('side-street-shuffle.musicxml').arrangement, {
      tempo: 1,
      sway: 0,
      lead: 0,
      noise: 0.02,
      seed: 5,
    })
    const ferry = demoScore('lantern-ferry.musicxml').arrangement
    const found = alignRecording(
      wave,
      RATE,
      renderPassage(ferry, wholePassage(ferry, 'both'), { hands: ['right', 'left'] }),
    )
    expect(found?.better).toBeUndefined()
  })

  it('that holds nothing is no recording of it', () => {
    const ferry = demoScore('lantern-ferry.musicxml').arrangement
    const performance = renderPassage(ferry, wholePassage(ferry, 'both'), { hands: ['right', 'left'] })
    expect(alignRecording(new Float32Array(RATE * 20), RATE, performance)).toBeUndefined()
    expect(alignRecording(new Float32Array(10), RATE, performance)).toBeUndefined()
  })
})
