/**
 * Editions for two hands: what a demanding teacher would hold against one (common practice), over any arrangement and
 * over songs whose tune is known.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { anyArrangement } from '../../tests/material/random-arrangement'
import { editionOf } from '../formats/arranged'
import { readMusicXml } from '../formats/musicxml/read'
import { writeMusicXml } from '../formats/musicxml/write'
import { overOctave, pieceDifficulty } from '../hands/difficulty'
import { melodyOf } from '../hands/melody'
import { isInTime } from '../hands/two-hands'
import { arrange, type HandNote, type RoleNotes } from '../music/arrange'
import { tempoAt, type Arrangement, type Hand, type Note } from '../music/arrangement'
import { add, equal, quarters, toDecimal, ZERO } from '../music/quarters'
import { editionAt, LEVELS } from './editions'

const METER = [{ at: ZERO, meter: { beats: 4, beatType: 4 } }]
const at = (from: number, to: number, pitch: number) => ({
  onset: quarters(from * 4, 4),
  end: quarters(to * 4, 4),
  pitch,
})
const hand = (which: Hand, notes: ReturnType<typeof at>[]): HandNote[] => notes.map(note => ({ ...note, hand: which }))

/** A voice with words over a piano, whose right hand plays above the voice, and a bass. */
function song(): Arrangement {
  const tune = [
    [0, 1, 67],
    [1, 2, 69],
    [2, 4, 71],
    [4, 5, 72],
    [5, 6, 71],
    [6, 8, 69],
    [8, 9, 67],
    [9, 10, 66],
    [10, 12, 67],
  ].map(([from, to, pitch]) => at(from!, to!, pitch!))
  const right = [
    [0, 74, 79, 83],
    [2, 74, 79, 83],
    [4, 76, 81, 84],
    [6, 76, 81, 84],
    [8, 74, 79, 83],
    [10, 74, 79, 83],
  ].flatMap(([from, ...pitches]) => pitches.map(pitch => at(from!, from! + 2, pitch)))
  const left = [
    [0, 4, 43],
    [4, 8, 45],
    [8, 12, 43],
  ].flatMap(([from, to, pitch]) => [
    at(from!, to!, pitch!),
    at(from!, to!, pitch! + 12),
    at(from! + 1, to!, pitch! + 16),
  ])
  const roles: RoleNotes[] = [
    { name: 'Singer', notes: tune },
    { name: 'Double bass', notes: [at(0, 4, 31), at(4, 8, 33), at(8, 12, 31)] },
  ]
  const made = arrange(
    {
      title: 'A song',
      meters: METER,
      fifths: 1,
      pickup: ZERO,
      tempos: [{ onset: ZERO, quarterBpm: 90 }],
      end: quarters(12),
    },
    [...hand('right', right), ...hand('left', left)],
    roles,
  )
  return {
    ...made,
    lyrics: made.others[0]!.notes.map((note, index) => ({
      noteId: note.id,
      onset: note.onset,
      verse: '1',
      text: `la${index}`,
      hyphen: false,
    })),
  }
}

const shape = (notes: readonly Omit<Note, 'hand'>[]) =>
  notes.map(note => `${toDecimal(note.onset)} ${note.pitch} ${note.spelled}`)
const of = (arrangement: Arrangement, which: Hand) => arrangement.notes.filter(note => note.hand === which)

/** What of an edition two hands could not play. */
function unplayable(arrangement: Arrangement, reach: number, tune: ReadonlySet<string>): string[] {
  const faults: string[] = []
  const keys = arrangement.notes
    .filter(note => !note.grace)
    .map(note => ({
      from: toDecimal(note.onset),
      to: toDecimal(add(note.onset, note.duration)),
      pitch: note.pitch,
      hand: note.hand,
      isTune: note.hand === 'right' && tune.has(note.id),
    }))
  for (const moment of new Set(keys.map(key => key.from))) {
    const held = (which: Hand) =>
      keys
        .filter(key => key.hand === which && key.from <= moment + 1e-9 && key.to > moment + 1e-9)
        .map(key => key.pitch)
    const [right, left] = [held('right'), held('left')]
    for (const some of [right, left]) {
      if (some.length > 5) faults.push(`${some.length} keys at ${moment}`)
      if (some.length > 1 && Math.max(...some) - Math.min(...some) > reach) faults.push(`too wide at ${moment}`)
    }
    if (right.length > 0 && left.length > 0 && Math.max(...left) >= Math.min(...right))
      faults.push(`crossed at ${moment}`)
  }
  for (const which of ['right', 'left'] as const) {
    let lies: { low: number; high: number; at: number } | undefined
    const own = keys.filter(key => key.hand === which)
    for (const moment of [...new Set(own.map(key => key.from))].sort((a, b) => a - b)) {
      const struck = own.filter(key => key.from === moment)
      const [low, high] = [Math.min(...struck.map(key => key.pitch)), Math.max(...struck.map(key => key.pitch))]
      if (
        lies &&
        !struck.every(key => key.isTune) &&
        !isInTime(lies, low, high, ((moment - lies.at) * 60) / tempoAt(arrangement, ZERO))
      )
        faults.push(`too far at ${moment}`)
      lies = { ...overOctave(lies, low, high), at: moment }
    }
  }
  return faults
}

describe('whose the tune is', () => {
  it("the voice's that has the words, though a hand plays above it", () =>
    expect(melodyOf(song())).toMatchObject({ from: 'voice', name: 'Singer' }))
  it("a voice's that is called so, where nobody has words", () => {
    const { lyrics: _lyrics, ...rest } = song()
    const named = {
      ...rest,
      lyrics: [],
      others: rest.others.map((role, index) => ({ ...role, name: ['Lead vocal', 'Bass'][index]! })),
    }
    expect(melodyOf(named)).toMatchObject({ from: 'voice', name: 'Lead vocal' })
  })
  it("of a choir the highest voice's", () => {
    const base = song()
    const low = {
      ...base.others[0]!,
      name: 'Alto',
      notes: base.others[0]!.notes.map(note => ({ ...note, id: `a${note.id}`, pitch: note.pitch - 5 })),
    }
    const choir = {
      ...base,
      others: [low, ...base.others],
      lyrics: [...base.lyrics, ...base.lyrics.map(lyric => ({ ...lyric, noteId: `a${lyric.noteId}` }))],
    }
    expect(melodyOf(choir).name).toBe('Singer')
  })
  it('otherwise the top of the right hand', () => {
    const made = arrange(
      { title: '', meters: METER, fifths: 0, pickup: ZERO, tempos: [] },
      hand('right', [at(0, 2, 72), at(0, 1, 64), at(1, 2, 65), at(2, 4, 71)]),
    )
    expect(melodyOf(made).notes.map(note => note.pitch)).toEqual([72, 71])
  })
})

describe('the levels of a song', () => {
  const base = song()
  const editions = LEVELS.map(level => editionAt(base, level))
  it.each([1, 2, 3, 4])('level %i has the tune note for note, with its words', level => {
    const { arrangement } = editions[level - 1]!
    const top = of(arrangement, 'right')
    for (const name of shape(base.others[0]!.notes)) expect(shape(top)).toContain(name)
    if (level <= 2) expect(shape(top)).toEqual(shape(base.others[0]!.notes))
    expect(arrangement.lyrics).toHaveLength(base.lyrics.length)
  })
  it('the first puts a root under each chord, the second a pattern, and both keep the other voices to play along with', () => {
    expect([
      ...new Set(of(editions[0]!.arrangement, 'left').map(note => `${note.barIndex} ${note.pitch % 12}`)),
    ]).toEqual(['0 7', '1 9', '2 7'])
    expect(of(editions[1]!.arrangement, 'left').length).toBeGreaterThan(12)
    expect(editions[0]!.arrangement.others.map(role => role.name)).toEqual(['Double bass'])
  })
  it('say how much they leave out, and the fourth leaves out least', () => {
    const left = editions.map(edition => edition.leftOut.notes)
    expect(left[3]).toBeLessThan(left[2]!)
    expect(left[2]).toBeLessThan(left[0]!)
    expect(editions[0]!.arrangement.warnings).toContainEqual({ kind: 'left-out', notes: left[0], of: 39 })
  })
  it('rise in difficulty', () => {
    const levels = editions.map(({ arrangement }) => pieceDifficulty(arrangement).level)
    expect([...levels].sort((a, b) => a - b)).toEqual(levels)
  })
  it.each([1, 2, 3, 4])('level %i is written as MusicXML and read back as it is', level => {
    const made = editionOf(writeMusicXml(base), level as 1)
    const again = readMusicXml(new TextEncoder().encode(made.musicXml)).arrangement
    expect(shape(again.notes)).toEqual(shape(made.arrangement.notes))
  })
})

it('nothing in any edition of any arrangement is unplayable', () => {
  fc.assert(
    fc.property(
      anyArrangement,
      fc.constantFrom(...LEVELS),
      fc.integer({ min: 9, max: 16 }),
      (arrangement, level, reach) => {
        fc.pre(arrangement.notes.length > 0)
        const tune = new Set(melodyOf(arrangement).notes.map(note => note.id))
        const made = editionAt(arrangement, level, { reach }).arrangement
        expect(unplayable(made, reach, tune)).toEqual([])
      },
    ),
    { numRuns: 300, seed: 19 },
  )
})

it.each(['lantern-ferry.musicxml', 'snow-on-the-towpath.musicxml', 'side-street-shuffle.musicxml'])(
  '%s at every level keeps its bars, and its page where only two hands are on it',
  file => {
    const score = demoScore(file)
    for (const level of LEVELS) {
      const { arrangement, musicXml } = editionOf(score, level)
      expect(arrangement.bars).toEqual(score.arrangement.bars)
      expect(unplayable(arrangement, 15, new Set(melodyOf(score.arrangement).notes.map(note => note.id)))).toEqual([])
      expect(
        readMusicXml(new TextEncoder().encode(musicXml)).arrangement.notes.filter(
          (note, index) => !equal(note.onset, arrangement.notes[index]!.onset),
        ),
      ).toEqual([])
    }
  },
)
