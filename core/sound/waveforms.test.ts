import { describe, expect, it } from 'vitest'
import { clickWave, drumWave, hertzOf, pluckedWave } from './waveforms'

const RATE = 48_000
const peak = (wave: Float32Array) => wave.reduce((most, value) => Math.max(most, Math.abs(value)), 0)

/** How often a wave goes up through zero in a second. */
function crossings(wave: Float32Array): number {
  let count = 0
  for (let index = 1; index < wave.length; index++) if (wave[index - 1]! < 0 && wave[index]! >= 0) count++
  return (count * RATE) / wave.length
}

describe('computed sounds', () => {
  it('a click is loudest at its first sample, and gone within 60 ms', () => {
    for (const tone of ['downbeat', 'beat', 'finer'] as const) {
      const wave = clickWave(tone, RATE)
      expect(peak(wave)).toBe(wave[0])
      expect(Math.abs(wave.at(-1)!)).toBeLessThan(0.01 * wave[0]!)
    }
  })

  it('a downbeat is higher and louder than a beat, a beat than what divides it', () => {
    const [downbeat, beat, finer] = (['downbeat', 'beat', 'finer'] as const).map(tone => clickWave(tone, RATE)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ]
    expect(crossings(downbeat)).toBeGreaterThan(crossings(beat))
    expect(crossings(beat)).toBeGreaterThan(crossings(finer))
    expect([peak(downbeat) > peak(beat), peak(beat) > peak(finer)]).toEqual([true, true])
  })

  it('A4 is 440 Hz and the A below half of it (ISO 16)', () => {
    expect([hertzOf(69), hertzOf(57)]).toEqual([440, 220])
    expect(Math.abs(crossings(pluckedWave(440, RATE, 1)) - 440)).toBeLessThan(2)
  })

  it('no plucked tone is too loud, has partials that the sampling cannot hold, or does not die away', () => {
    for (const pitch of [21, 60, 108]) {
      const wave = pluckedWave(hertzOf(pitch), RATE, 2)
      expect(peak(wave)).toBeLessThan(0.6)
      expect(peak(wave)).toBeGreaterThan(0.1)
      expect(peak(wave.subarray(-4800))).toBeLessThan(peak(wave) / 2)
    }
  })

  it('a kick is lower than a snare, a closed hi-hat shorter than an open one (common practice)', () => {
    expect(crossings(drumWave(36, RATE))).toBeLessThan(crossings(drumWave(38, RATE)))
    expect(drumWave(42, RATE).length).toBeLessThan(drumWave(46, RATE).length)
    expect(drumWave(38, RATE)).toEqual(drumWave(38, RATE))
    expect(peak(drumWave(99, RATE))).toBeGreaterThan(0.05)
  })
})
