import { describe, expect, it } from 'vitest'
import { seededChance } from '../players/randomness'
import { calibrate, CALIBRATION, isWireless } from './calibration'

const GAP = 60_000 / CALIBRATION.bpm
const CLICKS = Array.from({ length: CALIBRATION.beats }, (_, beat) => 5_000 + beat * GAP)

/** Taps around each click: so late, evenly scattered so far to both sides. */
function taps(delayMs: number, scatterMs: number, seed = 7): number[] {
  const random = seededChance(seed).uniform
  return CLICKS.map(click => click + delayMs + scatterMs * (2 * random() - 1))
}

describe('the delay of a keyboard', () => {
  it('is found within a few ms, by cable and through the air', () => {
    for (const delayMs of [-40, 0, 12, 60, 180, 250]) {
      const found = calibrate(CLICKS, taps(delayMs, 25))
      expect(found, `${delayMs}`).toHaveProperty('delayMs')
      if ('delayMs' in found) expect(Math.abs(found.delayMs - delayMs), `${delayMs}`).toBeLessThanOrEqual(8)
    }
  })

  it('is not moved by a tap that was missed, doubled, or a beat that was lost', () => {
    const all = taps(30, 15)
    const found = calibrate(CLICKS, [...all.filter((_, index) => index % 7 !== 0), all[10]! + 140, all[15]! + 300])
    expect('delayMs' in found && Math.abs(found.delayMs - 30)).toBeLessThanOrEqual(6)
  })

  it('says how far the middle half of the taps is spread', () => {
    const found = calibrate(
      CLICKS,
      CLICKS.map((click, index) => click + 20 + (index % 2 === 0 ? -20 : 20)),
    )
    expect(found).toMatchObject({ spreadMs: 40 })
  })

  it('is not claimed from a few taps, or from taps all over the beat', () => {
    expect(calibrate(CLICKS, taps(20, 10).slice(0, 9))).toMatchObject({ why: 'few' })
    expect(calibrate(CLICKS, [])).toEqual({ why: 'few', taps: 0 })
    expect(calibrate(CLICKS, taps(0, 300))).toHaveProperty('why')
  })

  it('is wireless from about a tenth of a second (common practice: a cable adds less than 20 ms, wireless headphones 150 to 250)', () => {
    expect([isWireless(18), isWireless(170)]).toEqual([false, true])
  })
})
