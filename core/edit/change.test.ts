import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { writeMusicXml } from '../formats/musicxml/write'
import { add, compare, quarters, toDecimal } from '../music/quarters'
import { applyChange, ImpossibleChange, type Change } from './change'

const { arrangement: song } = readMusicXml(
  bytesOf(
    pianoScore([
      attributes({ staves: 2 }) +
        quarterNotes('C5 D5 D5 E5', 1) +
        backup(4) +
        note({ pitch: 'C3', length: 4, staff: 2 }),
      '<harmony><root><root-step>G</root-step></root><kind>dominant</kind></harmony>' +
        quarterNotes('F5 G5 A5 B5', 1) +
        backup(4) +
        note({ pitch: 'G2', length: 4, staff: 2 }),
    ]),
  ),
)
const idOf = (spelled: string, nth = 0) => song.notes.filter(one => one.spelled === spelled)[nth]!.id
const after = (change: Change) => applyChange(song, change)
const right = (arrangement: typeof song) =>
  arrangement.notes
    .filter(one => one.hand === 'right')
    .map(one => `${one.spelled}@${toDecimal(one.onset)}+${toDecimal(one.duration)}`)

describe('a correction', () => {
  it('of a wrong pitch keeps the note and spells it in the key', () => {
    const changed = after({ kind: 'pitch', ids: [idOf('F5')], halfSteps: 1 })
    expect(right(changed)[4]).toBe('F#5@4+1')
    expect(changed.notes.map(one => one.id).sort()).toEqual(song.notes.map(one => one.id).sort())
  })
  it('of a length, of a hand', () => {
    expect(right(after({ kind: 'length', id: idOf('E5'), duration: quarters(1, 2) }))[3]).toBe('E5@3+0.5')
    expect(after({ kind: 'hand', ids: [idOf('C5')], hand: 'left' }).notes.find(one => one.spelled === 'C5')!.hand).toBe(
      'left',
    )
  })
  it('ties two notes of one key, and divides them again', () => {
    const tied = after({ kind: 'join', ids: [idOf('D5'), idOf('D5', 1)] })
    expect(right(tied).slice(1, 3)).toEqual(['D5@1+2', 'E5@3+1'])
    expect(right(applyChange(tied, { kind: 'divide', id: idOf('D5'), at: quarters(2) }))).toEqual(right(song))
  })
  it('deletes and inserts, with an id that was never used', () => {
    const gone = after({ kind: 'delete', ids: [idOf('E5')] })
    const back = applyChange(gone, {
      kind: 'insert',
      hand: 'right',
      onset: quarters(3),
      duration: quarters(1),
      pitches: [76],
    })
    expect(right(back)).toEqual(right(song))
    expect(new Set(back.notes.map(one => one.id)).size).toBe(back.notes.length)
  })
  it('transposes notes, key and chord symbols together', () => {
    const up = after({ kind: 'transpose', halfSteps: 3 })
    expect(up.bars[0]!.fifths).toBe(-3)
    expect(
      right(up)
        .slice(0, 4)
        .map(one => one.split('@')[0]),
    ).toEqual(['Eb5', 'F5', 'F5', 'G5'])
    expect(up.chords[0]!.symbol).toBe('Bb7')
    expect(right(applyChange(up, { kind: 'transpose', halfSteps: -3 }))).toEqual(right(song))
  })
  it('sets, replaces and takes away marks where they stand', () => {
    const chord = after({ kind: 'chord', onset: quarters(4), symbol: 'Em7/G' })
    expect(chord.chords.map(one => one.name)).toEqual(['E minor seventh over G'])
    expect(applyChange(chord, { kind: 'chord', onset: quarters(4), symbol: null }).chords).toEqual([])
    expect(after({ kind: 'tempo', onset: quarters(0), quarterBpm: 80 }).tempos).toEqual([
      { onset: quarters(0), quarterBpm: 80 },
    ])
    expect(after({ kind: 'swing', onset: quarters(0), ratio: 2 }).swings).toEqual([
      { onset: quarters(0), unit: 'eighth', ratio: 2 },
    ])
    expect(after({ kind: 'pedal', onset: quarters(2), mark: 'down' }).pedals).toHaveLength(1)
    expect(after({ kind: 'dynamic', onset: quarters(0), mark: 'mf' }).dynamics).toHaveLength(1)
    expect(after({ kind: 'lyric', id: idOf('C5'), text: 'la', hyphen: false }).lyrics).toMatchObject([{ text: 'la' }])
    expect(after({ kind: 'finger', id: idOf('C5'), finger: 3 }).notes.find(one => one.spelled === 'C5')).toMatchObject({
      finger: 3,
      fingerBy: 'player',
    })
  })
  it('appends a phrase in bars of its own', () => {
    const longer = after({
      kind: 'append',
      notes: [0, 1, 2, 3, 4].map(at => ({ hand: 'right', onset: quarters(at), duration: quarters(1), pitch: 60 + at })),
    })
    expect(longer.bars.map(bar => [bar.number, bar.sectionEnd ?? false])).toEqual([
      [1, false],
      [2, true],
      [3, false],
      [4, true],
    ])
    expect(longer.order).toEqual([0, 1, 2, 3])
    expect(right(longer).slice(8)).toEqual(['C4@8+1', 'C#4@9+1', 'D4@10+1', 'Eb4@11+1', 'E4@12+1'])
  })
  it.each([
    [{ kind: 'delete', ids: ['nothing'] }, 'not there any more'],
    [{ kind: 'pitch', ids: [idOf('C3')], halfSteps: -40 }, '88 keys'],
    [{ kind: 'length', id: idOf('B5'), duration: quarters(9) }, 'beyond the last bar'],
    [{ kind: 'join', ids: [idOf('C5'), idOf('D5')] }, 'one key and hand'],
    [{ kind: 'insert', hand: 'right', onset: quarters(0), duration: quarters(1), pitches: [72] }, 'held there already'],
    [{ kind: 'insert', hand: 'right', onset: quarters(8), duration: quarters(1), pitches: [72] }, 'no bar there'],
    [{ kind: 'chord', onset: quarters(0), symbol: 'H9' }, 'not a chord symbol'],
    [{ kind: 'divide', id: idOf('C5'), at: quarters(1) }, 'does not sound'],
  ] as [Change, string][])('%j is refused: %s', (change, reason) => {
    expect(() => after(change)).toThrow(ImpossibleChange)
    expect(() => after(change)).toThrow(reason)
  })
})

it('any chain of corrections leaves a score that is written and read back the same', () => {
  const base = demoScore(DEMO_FILES[0]!).arrangement
  const any = fc.oneof(
    fc.record({ kind: fc.constant('pitch' as const), at: fc.nat(200), by: fc.integer({ min: -12, max: 12 }) }),
    fc.record({ kind: fc.constant('delete' as const), at: fc.nat(200), by: fc.constant(0) }),
    fc.record({ kind: fc.constant('hand' as const), at: fc.nat(200), by: fc.integer({ min: 0, max: 1 }) }),
    fc.record({ kind: fc.constant('length' as const), at: fc.nat(200), by: fc.integer({ min: 1, max: 12 }) }),
    fc.record({ kind: fc.constant('transpose' as const), at: fc.constant(0), by: fc.integer({ min: -5, max: 6 }) }),
  )
  fc.assert(
    fc.property(fc.array(any, { minLength: 1, maxLength: 12 }), steps => {
      let arrangement = base
      for (const { kind, at, by } of steps) {
        const { id } = arrangement.notes[at % arrangement.notes.length]!
        const change: Change =
          kind === 'pitch'
            ? { kind, ids: [id], halfSteps: by }
            : kind === 'delete'
              ? { kind, ids: [id] }
              : kind === 'hand'
                ? { kind, ids: [id], hand: by ? 'right' : 'left' }
                : kind === 'length'
                  ? { kind, id, duration: quarters(by, 4) }
                  : { kind, halfSteps: by }
        try {
          arrangement = applyChange(arrangement, change)
        } catch (error) {
          expect(error).toBeInstanceOf(ImpossibleChange)
        }
      }
      const again = readMusicXml(bytesOf(writeMusicXml(arrangement).musicXml)).arrangement
      const plain = (one: typeof arrangement) =>
        one.notes
          .map(({ id, hand, pitch, spelled, onset, duration, finger }) => ({
            id,
            hand,
            pitch,
            spelled,
            onset,
            duration,
            finger,
          }))
          .sort((a, b) => compare(a.onset, b.onset) || a.id.localeCompare(b.id))
      expect(plain(again)).toEqual(plain(arrangement))
      expect(again.notes.every(one => compare(add(one.onset, one.duration), one.onset) >= 0)).toBe(true)
    }),
    { numRuns: 60, seed: 9 },
  )
})
