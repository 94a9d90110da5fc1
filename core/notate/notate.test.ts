/** Playing and files written down: what is kept, what is guessed, and what the player decides otherwise. */
import { describe, expect, it } from 'vitest'
import { guessText } from '../words/remarks'
import type { Arrangement } from '../music/arrangement'
import { toDecimal } from '../music/quarters'
import { notate, type NotationChoices, type Raw, type RawNote } from './notate'
import { notatePhrase } from './phrase'

/** Notes as `pitch@onset+length`, hand by a leading r or l. */
function raw(text: string, more: Partial<Raw> = {}): Raw {
  const notes = text
    .trim()
    .split(/\s+/)
    .map((one): RawNote => {
      const [, hand, pitch, onset, length] = /^([rl]?)(\d+)@([\d.]+)\+([\d.]+)$/.exec(one)!
      return {
        pitch: Number(pitch),
        velocity: 70,
        onset: Number(onset),
        end: Number(onset) + Number(length),
        ...(hand ? { hand: hand === 'r' ? ('right' as const) : ('left' as const) } : {}),
      }
    })
  return {
    title: 'Raw',
    notes,
    roles: [],
    pedals: [],
    quarterSeconds: 0.6,
    toleranceQuarters: 1 / 960,
    meters: [{ at: 0, meter: { beats: 4, beatType: 4 } }],
    keys: [{ at: 0, fifths: 0 }],
    tempos: [{ at: 0, quarterBpm: 100 }],
    ...more,
  }
}
const written = (arrangement: Arrangement) =>
  arrangement.notes.map(note => `${note.hand[0]}${note.pitch}@${toDecimal(note.onset)}+${toDecimal(note.duration)}`)
const down = (text: string, choices?: NotationChoices, more?: Partial<Raw>) => notate(raw(text, more), choices)
const about = (guesses: { about: string }[]) => guesses.map(one => one.about)

describe('exact notes', () => {
  it('are taken as they are, sixteenths and triplets alike', () => {
    const text = 'r60@0+0.25 r62@0.25+0.75 r64@1+0.333333 r65@1.333333+0.333333 r67@1.666667+0.333333 r69@2+2'
    const { arrangement, guesses } = down(text)
    expect(
      arrangement.notes.map(note => `${note.onset.n}/${note.onset.d} ${note.duration.n}/${note.duration.d}`),
    ).toEqual(['0/1 1/4', '1/4 3/4', '1/1 1/3', '4/3 1/3', '5/3 1/3', '2/1 2/1'])
    expect(guesses).toEqual([])
  })
  it('shortened by a sequencer to nineteen twentieths reach the next note again', () => {
    expect(written(down('r60@0+0.947 r62@1+0.947 r64@2+1.891').arrangement)).toEqual(['r60@0+1', 'r62@1+1', 'r64@2+2'])
  })
})

describe('played notes', () => {
  const wobble = [0.021, -0.018, 0.03, -0.027, 0.012, 0.02, -0.03, 0.016]
  it('land on the plainest grid, legato and detached alike', () => {
    const text = wobble
      .map((off, index) => `r${60 + index}@${Math.max(0, index / 2 + off).toFixed(3)}+${index % 2 ? 0.31 : 0.56}`)
      .join(' ')
    const { arrangement, guesses } = down(text)
    expect(written(arrangement).slice(0, 7)).toEqual(
      [0, 1, 2, 3, 4, 5, 6].map(index => `r${60 + index}@${index / 2}+0.5`),
    )
    expect(about(guesses)).toContain('rhythm')
  })
  it('a real rest stays one', () => {
    expect(written(down('r60@0.02+0.9 r62@0.98+0.5 r64@3.03+0.95').arrangement).slice(0, 2)).toEqual([
      'r60@0+1',
      'r62@1+0.5',
    ])
  })
  it('a chord that is spread is one chord', () => {
    expect(written(down('r60@0.01+0.98 r64@0.03+0.95 r67@0.055+0.93 r65@1.01+1').arrangement)).toEqual([
      'r60@0+1',
      'r64@0+1',
      'r67@0+1',
      'r65@1+1',
    ])
  })
})

describe('bars', () => {
  it('a first note in the second half of the bar is a pickup, and the bars before it go', () => {
    const { arrangement, guesses } = down('r67@7+1 r72@8+2 r71@10+2')
    expect(arrangement.bars.map(bar => [bar.number, toDecimal(bar.length)])).toEqual([
      [0, 1],
      [1, 4],
    ])
    expect(written(arrangement)[0]).toBe('r67@0+1')
    expect(about(guesses)).toEqual(['pickup'])
  })
  it('a pickup decided otherwise is kept', () => {
    expect(down('r67@7+1 r72@8+2', { pickupQuarters: 0 }).arrangement.bars[0]!.number).toBe(1)
    expect(down('r67@0+1 r72@1+2', { pickupQuarters: 1 }).arrangement.bars[0]).toMatchObject({
      number: 0,
      length: { n: 1, d: 1 },
    })
  })
  it('three beats are found where the bass falls on every third, four elsewhere', () => {
    const waltz = Array.from(
      { length: 8 },
      (_, bar) => `l36@${bar * 3}+1 l52@${bar * 3 + 1}+1 l52@${bar * 3 + 2}+1 r76@${bar * 3}+3`,
    ).join(' ')
    expect(down(waltz, {}, { meters: [] }).arrangement.bars[0]!.meter).toEqual({ beats: 3, beatType: 4 })
    const march = Array.from(
      { length: 6 },
      (_, bar) => `l36@${bar * 4}+1 l52@${bar * 4 + 1}+1 l43@${bar * 4 + 2}+1 l52@${bar * 4 + 3}+1`,
    ).join(' ')
    const found = down(march, {}, { meters: [] })
    expect(found.arrangement.bars[0]!.meter).toEqual({ beats: 4, beatType: 4 })
    expect(about(found.guesses)).toContain('meter')
  })
  it('a change of meter in the file begins a bar there', () => {
    const { arrangement } = down(
      'r60@0+4 r62@4+3 r64@7+3',
      {},
      {
        meters: [
          { at: 0, meter: { beats: 4, beatType: 4 } },
          { at: 4, meter: { beats: 3, beatType: 4 } },
        ],
      },
    )
    expect(arrangement.bars.map(bar => `${bar.meter.beats}/${bar.meter.beatType} ${toDecimal(bar.start)}`)).toEqual([
      '4/4 0',
      '3/4 4',
      '3/4 7',
    ])
  })
})

describe('what goes with the notes', () => {
  it('the pedal: up and down at one place is a change', () => {
    const { arrangement } = down(
      'r60@0+4 r62@4+4',
      {},
      {
        pedals: [
          { at: 0, down: true },
          { at: 4, down: false },
          { at: 4.125, down: true },
          { at: 8, down: false },
        ],
      },
    )
    expect(arrangement.pedals.map(pedal => [toDecimal(pedal.onset), pedal.kind])).toEqual([
      [0, 'down'],
      [4.125, 'change'],
      [8, 'up'],
    ])
  })
  it("tempo: the file's changes, or the one the player says", () => {
    const tempos = [
      { at: 0, quarterBpm: 100 },
      { at: 4, quarterBpm: 100 },
      { at: 8, quarterBpm: 80 },
    ]
    expect(down('r60@0+12', {}, { tempos }).arrangement.tempos.map(tempo => tempo.quarterBpm)).toEqual([100, 80])
    expect(down('r60@0+12', { bpm: 66 }, { tempos }).arrangement.tempos).toEqual([
      { onset: { n: 0, d: 1 }, quarterBpm: 66 },
    ])
  })
  it('a key that the player says spells the notes', () => {
    expect(down('r61@0+1 r66@1+1', { fifths: -5 }).arrangement.notes.map(note => note.spelled)).toEqual(['Db4', 'Gb4'])
    expect(down('r61@0+1 r66@1+1', { fifths: 3 }).arrangement.notes.map(note => note.spelled)).toEqual(['C#4', 'F#4'])
  })
  it('one hand for all of it, where the player says so', () => {
    expect(new Set(down('40@0+1 80@0+1 42@1+1', { hands: 'left' }).arrangement.notes.map(note => note.hand))).toEqual(
      new Set(['left']),
    )
    expect(about(down('40@0+1 80@0+1 42@1+1').guesses)).toContain('hands')
  })
  it('other instruments stay beside the hands', () => {
    const { arrangement } = down('r60@0+4', {}, { roles: [{ name: 'Flute', notes: raw('84@0+2 86@2+2').notes }] })
    expect(arrangement.others.map(role => [role.name, role.notes.length])).toEqual([['Flute', 2]])
  })
  it('a key struck again in one hand ends its earlier note', () => {
    expect(written(down('r60@0+2 r60@1+1').arrangement)).toEqual(['r60@0+1', 'r60@1+1'])
  })
})

describe('a phrase played in', () => {
  const take = (times: number[], length = 450) => ({
    notes: times.map((onsetMs, index) => ({ onsetMs, durationMs: length, pitch: 60 + 2 * index, velocity: 70 })),
    pedals: [],
  })
  const options = { title: 'Phrase', meter: { beats: 4, beatType: 4 }, hands: 'right' as const }

  it('to the click at 120 has its notes on the beats it was played on', () => {
    const { arrangement } = notatePhrase(take([8, 490, 1015, 1490]), { ...options, clickBpm: 120 })!
    expect(arrangement.notes.map(note => toDecimal(note.onset))).toEqual([0, 1, 2, 3])
    expect(arrangement.tempos[0]!.quarterBpm).toBe(120)
  })
  it('begun before the first beat has a pickup', () => {
    const { arrangement } = notatePhrase(take([-505, 4, 498, 1003]), { ...options, clickBpm: 120 })!
    expect(arrangement.bars[0]).toMatchObject({ number: 0, length: { n: 1, d: 1 } })
    expect(arrangement.notes.map(note => toDecimal(note.onset))).toEqual([0, 1, 2, 3])
  })
  it('only a little early has none', () =>
    expect(notatePhrase(take([-40, 500, 1000, 1500]), { ...options, clickBpm: 120 })!.arrangement.bars[0]!.number).toBe(
      1,
    ))
  it('played freely has its beat found, and says so', () => {
    const times = Array.from({ length: 16 }, (_, index) => index * 640 + 15 * Math.sin(index))
    const { arrangement, guesses } = notatePhrase(take(times, 600), { ...options, hands: 'right' })!
    expect(arrangement.notes.map(note => toDecimal(note.onset))).toEqual(times.map((_, index) => index))
    expect(guessText(guesses[0]!)).toMatch(/about 9[2-5] beats/)
  })
  it('counts eighths in 6/8', () => {
    const { arrangement } = notatePhrase(take([0, 300, 600, 900, 1200, 1500], 290), {
      ...options,
      meter: { beats: 6, beatType: 8 },
      clickBpm: 200,
    })!
    expect(arrangement.notes.map(note => toDecimal(note.onset))).toEqual([0, 0.5, 1, 1.5, 2, 2.5])
    expect(arrangement.bars).toHaveLength(1)
  })
  it('of nothing is nothing', () =>
    expect(notatePhrase({ notes: [], pedals: [] }, { ...options, clickBpm: 120 })).toBeUndefined())
})
