import { describe, expect, it } from 'vitest'
import { attributes, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { demoScore } from '../../tests/material/demo'
import { readMusicXml } from '../formats/musicxml/read'
import { loopPlan } from './loop'
import { barsPassage, expectedNotes, passageClock, spanPassage, wholePassage } from './passage'
import { describeStretch } from '../words/places'
import { quarters } from './quarters'
import { proposeParts } from '../parts/propose'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const WALTZ = demoScore('snow-on-the-towpath.musicxml').arrangement
const at60 = (text: string) => readMusicXml(bytesOf(text)).arrangement

describe('a loop', () => {
  it('that begins with a pickup goes round in whole bars, with the pickup on its own beat', () => {
    const plan = loopPlan(FERRY, spanPassage(quarters(0), quarters(16), 'both'), 60)
    expect(plan.roundMs).toBe(16_000)
    expect(plan.clicks.map(click => click.beat)).toEqual([4, 1, 2, 3, 4, 1, 2, 3, 4, 1, 2, 3, 4, 1, 2, 3])
  })

  it('rests for a bar between two rounds where that is wished, and the beat goes through', () => {
    const plan = loopPlan(FERRY, spanPassage(quarters(0), quarters(16), 'both'), 60, 1)
    expect([plan.musicMs, plan.roundMs]).toEqual([16_000, 20_000])
    expect(plan.clicks.map(click => click.beat)).toEqual([
      ...Array.from({ length: 4 }, () => [4, 1, 2, 3]).flat(),
      4,
      1,
      2,
      3,
    ])
    expect(plan.clicks.map(click => click.atMs)).toEqual(Array.from({ length: 20 }, (_, beat) => beat * 1000))
  })

  it('at a tempo too slow to carry, the halves of the beat are counted too (common practice)', () => {
    const passage = spanPassage(quarters(0), quarters(16), 'both')
    const slow = loopPlan(FERRY, passage, 30)
    expect(slow.clicks.filter(click => click.isFiner)).toHaveLength(slow.clicks.length / 2)
    expect(slow.countIn.slice(0, 3).map(click => [click.beat, click.isFiner ?? false])).toEqual([
      [1, false],
      [1, true],
      [2, false],
    ])
    expect(slow.clicks[1]!.atMs - slow.clicks[0]!.atMs).toBeCloseTo(1000)
    expect(loopPlan(FERRY, passage, 40).clicks.some(click => click.isFiner)).toBe(false)
  })
  it('counts a whole bar and the beats before the pickup (common practice)', () => {
    const { countIn } = loopPlan(FERRY, spanPassage(quarters(0), quarters(16), 'both'), 60)
    expect(countIn.map(click => click.beat)).toEqual([1, 2, 3, 4, 1, 2, 3])
    expect(countIn.map(click => click.atMs)).toEqual([-7000, -6000, -5000, -4000, -3000, -2000, -1000])
    expect(
      loopPlan(WALTZ, spanPassage(quarters(0), quarters(12), 'both'), 60).countIn.map(click => click.beat),
    ).toEqual([1, 2, 3])
  })

  it('is filled up with counted rests when the music does not fill its bars', () => {
    // From the pickup on beat 4 to the end of bar 2: eight beats and one, then three empty beats.
    const plan = loopPlan(FERRY, spanPassage(quarters(0), quarters(9), 'both'), 60)
    expect(plan.musicMs).toBe(9000)
    expect(plan.roundMs).toBe(12_000)
    expect(plan.clicks.slice(-3)).toEqual(
      [9000, 10_000, 11_000].map((atMs, index) => ({ atMs, downbeat: index === 0, beat: index + 1 })),
    )
  })

  it('of a bar and a half rests to the end of the bar', () => {
    const plan = loopPlan(FERRY, spanPassage(quarters(1), quarters(7), 'both'), 120)
    expect(plan.roundMs).toBe(4000)
    expect(plan.clicks.map(click => click.beat)).toEqual([1, 2, 3, 4, 1, 2, 3, 4])
  })

  it.each(['lantern-ferry.musicxml', 'snow-on-the-towpath.musicxml', 'side-street-shuffle.musicxml'])(
    '%s: every proposed part keeps the beat over the seam',
    file => {
      const { arrangement } = demoScore(file)
      const parts = proposeParts(arrangement)
      expect(parts[0]!.from).toEqual(quarters(0))
      for (const part of parts) {
        const { clicks, roundMs, countIn } = loopPlan(arrangement, spanPassage(part.from, part.to, 'both'), 90)
        const beats = arrangement.bars[1]!.meter.beats
        const gaps = [...clicks.map(click => click.atMs), roundMs + clicks[0]!.atMs]
          .map((ms, index, all) => ms - (all[index - 1] ?? ms))
          .slice(1)
        for (const gap of gaps) expect(gap).toBeCloseTo(60_000 / 90, 6)
        expect((clicks.at(-1)!.beat % beats) + 1).toBe(clicks[0]!.beat)
        expect((countIn.at(-1)!.beat % beats) + 1).toBe(clicks[0]!.beat)
      }
    },
  )

  it('clicks twice a bar in 6/8', () => {
    const six = at60(
      pianoScore([attributes({ beats: 6, beatType: 8 }) + note({ pitch: 'C4', length: 3, type: 'half' })]),
    )
    expect(loopPlan(six, spanPassage(quarters(0), quarters(3), 'both'), 60).clicks).toEqual([
      { atMs: 0, downbeat: true, beat: 1 },
      { atMs: 1500, downbeat: false, beat: 2 },
    ])
  })
})

describe('a passage', () => {
  const changing = at60(
    pianoScore([
      attributes() + '<sound tempo="120"/>' + quarterNotes('C4 D4 E4 F4'),
      '<sound tempo="60"/>' + quarterNotes('G4 A4 B4 C5'),
    ]),
  )

  it("follows the score's own tempo, or its proportions from a tempo asked for", () => {
    const whole = wholePassage(changing, 'both')
    expect(passageClock(changing, whole).lengthMs).toBe(2000 + 4000)
    expect(passageClock(changing, whole, 60).lengthMs).toBe(4000 + 8000)
    expect(passageClock(changing, barsPassage(changing, 2, 2, 'both'), 60).lengthMs).toBe(4000)
  })

  it('lists what a hand strikes, cut at the end and without what is tied in', () => {
    const tied = at60(
      pianoScore([
        attributes() + quarterNotes('C4 D4 E4') + note({ pitch: 'F4', length: 1, ties: ['start'] }),
        note({ pitch: 'F4', length: 1, ties: ['stop'] }) + quarterNotes('G4 A4 B4'),
      ]),
    )
    const second = expectedNotes(tied, barsPassage(tied, 2, 2, 'right'), 60)
    expect(second.map(one => one.spelled)).toEqual(['G4', 'A4', 'B4'])
    const first = expectedNotes(tied, barsPassage(tied, 1, 1, 'right'), 60)
    expect(first.at(-1)).toMatchObject({ spelled: 'F4', onsetMs: 3000, durationMs: 1000 })
    expect(expectedNotes(tied, barsPassage(tied, 1, 2, 'left'), 60)).toEqual([])
  })

  it('puts grace notes just before their beat', () => {
    const waltz = expectedNotes(WALTZ, barsPassage(WALTZ, 26, 26, 'right'), 60)
    expect(waltz.map(one => [one.spelled, one.grace, one.onsetMs])).toEqual([
      ['C5', true, -80],
      ['Bb4', false, 0],
      ['A4', false, 2000],
    ])
    const twoBars = expectedNotes(WALTZ, barsPassage(WALTZ, 25, 26, 'right'), 60)
    expect(twoBars.find(one => one.grace)!.onsetMs).toBe(3000 - 80)
  })

  it('says which bars it is, or that there are none', () => {
    expect(describeStretch(FERRY, { from: quarters(0), to: quarters(16) })).toBe('the pickup to bar 4, beat 3')
    expect(describeStretch(WALTZ, { from: quarters(0), to: quarters(12) })).toBe('bars 1 to 4')
    expect(describeStretch(WALTZ, { from: quarters(3), to: quarters(6) })).toBe('bar 2')
    expect(() => barsPassage(WALTZ, 90, 95, 'both')).toThrow(/bars 1 to 32/)
    expect(expectedNotes(FERRY, spanPassage(quarters(0), quarters(1), 'both'), 60)).toHaveLength(1)
  })
})
