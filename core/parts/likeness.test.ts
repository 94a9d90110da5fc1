import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrange } from '../music/arrange'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { demoScore } from '../../tests/material/demo'
import { readMusicXml } from '../formats/musicxml/read'
import { quarters } from '../music/quarters'
import { differenceText } from '../words/likeness'
import { formOf, likenessOf, newMaterialShare, type NamedPart } from './likeness'
import { proposeParts } from './propose'

const read = (bars: string[]) => readMusicXml(bytesOf(pianoScore(bars))).arrangement
/** Parts of so many bars of four quarters each. */
const partsOf = (count: number, bars: number): NamedPart[] =>
  Array.from({ length: count }, (_, index) => ({
    name: `Part ${index + 1}`,
    from: quarters(4 * bars * index),
    to: quarters(4 * bars * (index + 1)),
  }))
const melody = (...bars: string[]) =>
  read(bars.map((bar, index) => (index === 0 ? attributes() : '') + quarterNotes(bar)))

describe('likeness between parts', () => {
  it('calls a repetition the same, and counts nothing to learn in it', () => {
    const song = melody('C4 D4 E4 F4', 'G4 A4 B4 C5', 'C4 D4 E4 F4', 'G4 A4 B4 C5')
    const [first, second] = likenessOf(song, partsOf(2, 2), 'right')
    expect(first).toMatchObject({ relation: 'new', newNotes: 8 })
    expect(second).toMatchObject({ relation: 'same', like: 'Part 1', differs: [], newNotes: 0 })
    expect(newMaterialShare([first!, second!])).toBe(0.5)
  })

  it('names every difference as a musician would', () => {
    const song = melody('C4 D4 E4 F4', 'G4 A4 B4 F#4', 'C4 D4 Eb4 F4', 'G4 A4 B4 A4')
    const [, second] = likenessOf(song, partsOf(2, 2), 'right')
    expect(second).toMatchObject({ relation: 'differs', like: 'Part 1', newNotes: 2 })
    expect(second!.differs).toEqual([
      { bar: 3, beat: 3, here: ['Eb4'], there: ['E4'] },
      { bar: 4, beat: 4, here: ['A4'], there: ['F#4'], place: 'last' },
    ])
  })

  it('says what was added, left out, held longer, and one more at the end', () => {
    const song = read([
      attributes() + quarterNotes('E4 F4 G4 A4'),
      quarterNotes('C4 D4 E4 F4'),
      quarterNotes('G4 A4 B4') + note({ length: 1 }),
      quarterNotes('E4 F4 G4 A4'),
      quarterNotes('C4 D4') + note({ pitch: 'E4', length: 2 }),
      quarterNotes('G4 A4 B4 G4'),
    ])
    const [, second] = likenessOf(song, partsOf(2, 3), 'right')
    expect(second!.relation).toBe('differs')
    expect(second!.differs.map(one => differenceText(one))).toEqual([
      'bar 5, beat 3: E held longer',
      'bar 5, beat 4: without F',
      'one more G at the end',
    ])
  })

  it('knows a part that is moved, exactly or within the key, and one that keeps only the rhythm', () => {
    const song = melody('C4 D4 E4 F4', 'D4 E4 F#4 G4', 'E4 F4 G4 A4', 'G4 E4 C4 D4', 'C4 C4 C4 C4')
    const found = likenessOf(song, partsOf(5, 1), 'right')
    expect(found[1]).toMatchObject({ relation: 'transposed', like: 'Part 1', transposedBy: 2 })
    expect(found[1]!.stepsInKey).toBeUndefined()
    expect(found[2]).toMatchObject({ relation: 'transposed', like: 'Part 1', stepsInKey: 2 })
    expect(found[3]).toMatchObject({ relation: 'rhythm' })
  })

  it('compares a part with a pickup by its bar lines', () => {
    const song = read([
      attributes() + note({ length: 3 }) + quarterNotes('G4'),
      quarterNotes('C5 B4 A4 G4'),
      quarterNotes('E4 F4 G4 G4'),
      quarterNotes('C5 B4 A4 G4'),
      quarterNotes('E4 F4 G4 C5'),
    ])
    const parts = [
      { name: 'A', from: quarters(3), to: quarters(11) },
      { name: 'B', from: quarters(11), to: quarters(19) },
    ]
    expect(likenessOf(song, parts, 'right')[1]).toMatchObject({ relation: 'same', like: 'A' })
  })

  it('knows a part that is a stretch of an earlier one, and says which', () => {
    const song = melody('C4 D4 E4 F4', 'G4 A4 B4 C5', 'D5 C5 B4 A4', 'G4 F4 E4 D4', 'D5 C5 B4 A4', 'G4 F4 E4 C4')
    const parts = [
      { name: 'Whole', from: quarters(0), to: quarters(16) },
      { name: 'Half', from: quarters(16), to: quarters(24) },
    ]
    expect(likenessOf(song, parts, 'right')[1]).toMatchObject({
      relation: 'differs',
      like: 'Whole',
      covers: { from: { bar: 3, beat: 1 }, to: { bar: 5, beat: 1 } },
      newNotes: 1,
      differs: [{ bar: 6, beat: 4, here: ['C4'], there: ['D4'] }],
    })
  })

  it('knows a part that is an earlier one and more', () => {
    const song = melody(
      'C4 D4 E4 F4',
      'G4 A4 B4 C5',
      'D5 C5 B4 A4',
      'C4 D4 E4 F4',
      'G4 A4 B4 C5',
      'D5 C5 B4 A4',
      'E4 C4 G4 C4',
    )
    const parts = [
      { name: 'Short', from: quarters(0), to: quarters(12) },
      { name: 'Long', from: quarters(12), to: quarters(28) },
    ]
    const [, long] = likenessOf(song, parts, 'right')
    expect(long).toMatchObject({ relation: 'differs', like: 'Short', newNotes: 4 })
    expect(long!.differs.map(one => one.bar)).toEqual([7, 7, 7, 7])
  })

  it('knows what comes again at another bar of its part', () => {
    const song = melody(
      'C4 D4 E4 F4',
      'G4 A4 B4 C5',
      'D5 C5 B4 A4',
      'B4 G4 E4 C4',
      'G4 A4 B4 C5',
      'D5 C5 B4 A4',
      'B4 G4 E4 C4',
      'C4 G4 C4 G4',
    )
    const [, second] = likenessOf(song, partsOf(2, 4), 'right')
    expect(second).toMatchObject({
      relation: 'differs',
      covers: { from: { bar: 2, beat: 1 }, to: { bar: 5, beat: 1 } },
      newNotes: 4,
    })
  })

  it('knows a part that is moved but for some notes, and one in another octave', () => {
    const song = melody('C4 D4 E4 F4', 'G4 F4 E4 D4', 'F4 G4 A4 Bb4', 'C5 Bb4 A4 F4', 'C5 D5 E5 F5', 'G5 F5 E5 D5')
    const [, fourth, octave] = likenessOf(song, partsOf(3, 2), 'right')
    expect(fourth).toMatchObject({
      relation: 'transposed',
      like: 'Part 1',
      transposedBy: 5,
      differs: [{ bar: 4, beat: 4, here: ['F4'], there: ['G4'], place: 'last' }],
    })
    expect(octave).toMatchObject({ relation: 'transposed', like: 'Part 1', transposedBy: 12, differs: [] })
  })

  it('does not change with the names of parts, the octave or the key of the song', () => {
    const song = melody(
      'C4 D4 E4 F4',
      'G4 A4 B4 C5',
      'D5 C5 B4 A4',
      'G4 A4 B4 C5',
      'D5 C5 B4 G4',
      'C4 D4 E4 F4',
      'C4 E4 G4 C5',
      'G4 A4 B4 D5',
    )
    const plain = (moved = song, names = partsOf(4, 2)) =>
      likenessOf(moved, names, 'right').map(({ relation, likeIndex, covers, newNotes }) => [
        relation,
        likeIndex,
        covers,
        newNotes,
      ])
    for (const by of [-12, 3, 7])
      expect(plain({ ...song, notes: song.notes.map(one => ({ ...one, pitch: one.pitch + by })) })).toEqual(plain())
    expect(
      plain(
        song,
        partsOf(4, 2).map(part => ({ ...part, name: 'x' })),
      ),
    ).toEqual(plain())
  })

  it('hears each hand by itself, and gives the form', () => {
    const bar = (right: string, left: string, first = false) =>
      (first ? attributes({ staves: 2 }) : '') + quarterNotes(right, 1) + backup(4) + quarterNotes(left, 2)
    const song = read([
      bar('C5 D5 E5 F5', 'C3 G3 C3 G3', true),
      bar('G5 F5 E5 D5', 'C3 G3 C3 G3'),
      bar('C5 D5 E5 F5', 'C3 G3 C3 G3'),
    ])
    const parts = partsOf(3, 1)
    const [right, left] = [likenessOf(song, parts, 'right'), likenessOf(song, parts, 'left')]
    expect(left.map(one => one.relation)).toEqual(['new', 'same', 'same'])
    expect(right.map(one => one.relation)).toEqual(['new', 'rhythm', 'same'])
    expect(formOf(parts, right, left)).toEqual(['Part 1', 'Part 2', 'Part 1'])
  })

  it('is exact on songs made of known repeats', () => {
    const pitches = ['C4', 'D4', 'E4', 'F4', 'G4', 'A4', 'B4', 'C5']
    const barText = fc.array(fc.constantFrom(...pitches), { minLength: 4, maxLength: 4 }).map(bar => bar.join(' '))
    fc.assert(
      fc.property(
        fc.array(barText, { minLength: 2, maxLength: 2 }),
        fc.array(fc.constantFrom('repeat', 'change'), { minLength: 1, maxLength: 5 }),
        (theme, plan) => {
          const bars = [...theme]
          for (const kind of plan)
            bars.push(theme[0]!, kind === 'repeat' ? theme[1]! : theme[1]!.replace(/\w\d$/, 'D6'))
          const found = likenessOf(melody(...bars), partsOf(plan.length + 1, 2), 'right')
          plan.forEach((kind, index) => {
            const one = found[index + 1]!
            const seen = plan.slice(0, index).includes(kind)
            expect(one.relation).toBe(kind === 'repeat' || seen ? 'same' : 'differs')
            if (one.relation === 'differs') expect(one.differs).toMatchObject([{ beat: 4, here: ['D6'] }])
          })
        },
      ),
      { numRuns: 60, seed: 3 },
    )
  })
})

describe('the demo songs', () => {
  it('The Lantern Ferry has verses that are near-repeats of each other', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    const parts = proposeParts(arrangement)
    const found = likenessOf(arrangement, parts, 'right')
    expect(found.filter(one => one.relation === 'same' || one.relation === 'differs').length).toBeGreaterThanOrEqual(2)
    expect(newMaterialShare(found)).toBeLessThan(0.8)
    for (const one of found) expect(one.newNotes).toBeLessThanOrEqual(one.notes)
  })
})

describe('songs made of known repeats', () => {
  const PHRASE = fc.array(fc.record({ pitch: fc.integer({ min: 60, max: 76 }), length: fc.constantFrom(1, 2, 4) }), {
    minLength: 8,
    maxLength: 14,
  })
  /** Two bars of quarter notes' halves: a phrase cut or filled to eight quarters. */
  const fitted = (phrase: { pitch: number; length: number }[]) => {
    const notes: { at: number; length: number; pitch: number }[] = []
    let at = 0
    for (const { pitch, length } of [
      ...phrase,
      ...Array.from({ length: 16 }, (_, index) => ({ pitch: 60 + index, length: 1 })),
    ]) {
      if (at >= 16) break
      const kept = Math.min(length, 16 - at)
      notes.push({ at, length: kept, pitch })
      at += kept
    }
    return notes
  }
  const KINDS = ['same', 'transposed', 'differs', 'new'] as const

  it('names each part exactly as it was made', () => {
    fc.assert(
      fc.property(
        PHRASE,
        PHRASE,
        fc.array(
          fc.record({ kind: fc.constantFrom(...KINDS), by: fc.integer({ min: 1, max: 6 }), place: fc.nat(100) }),
          { minLength: 3, maxLength: 8 },
        ),
        (first, second, steps) => {
          const phrase = fitted(first)
          // Something of its own for "new": another rhythm and no pitch in common.
          const other = fitted(second).map((note, index) => ({ ...note, pitch: 84 + ((index * 5) % 11) }))
          fc.pre(
            phrase.length >= 8 &&
              other.length >= 4 &&
              phrase.map(note => note.at).join() !== other.map(note => note.at).join(),
          )
          const made = [
            { notes: phrase, kind: 'new' as (typeof KINDS)[number], by: 0 },
            ...steps.map(({ kind, by, place }, index) => ({
              kind,
              by,
              notes:
                kind === 'transposed'
                  ? phrase.map(note => ({ ...note, pitch: note.pitch + 12 + by * 2 + index * 14 - 24 }))
                  : kind === 'differs'
                    ? phrase.map((note, at) => (at === place % phrase.length ? { ...note, pitch: 30 + index } : note))
                    : kind === 'same'
                      ? phrase
                      : other.map(note => ({ ...note, pitch: note.pitch - 40 - index })),
            })),
          ]
          const whole = made.flatMap(({ notes }, part) =>
            notes.map(note => ({
              hand: 'right' as const,
              onset: quarters(16 * part + note.at, 2),
              end: quarters(16 * part + note.at + note.length, 2),
              pitch: note.pitch,
            })),
          )
          const song = arrange(
            {
              title: 'Made',
              meters: [{ at: quarters(0), meter: { beats: 4, beatType: 4 } }],
              fifths: 0,
              pickup: quarters(0),
              tempos: [],
            },
            whole,
          )
          const parts = made.map((_, part) => ({
            name: `P${part}`,
            from: quarters(8 * part),
            to: quarters(8 * part + 8),
          }))
          const found = likenessOf(song, parts, 'right')
          made.forEach(({ kind, notes }, part) => {
            const before = made.slice(0, part).map(one => JSON.stringify(one.notes))
            const isRepeat = before.includes(JSON.stringify(notes))
            // An earlier "new" part of the same kind is known by then: moved, or with its rhythm.
            const expected =
              part === 0
                ? 'new'
                : isRepeat
                  ? 'same'
                  : kind === 'same'
                    ? 'same'
                    : kind === 'new' && made.slice(1, part).some(one => one.kind === 'new')
                      ? 'transposed'
                      : kind
            expect(found[part]!.relation).toBe(expected)
            if (kind === 'differs' && !isRepeat)
              expect(found[part]).toMatchObject({ newNotes: 1, differs: [{ here: [expect.any(String)] }] })
          })
        },
      ),
      { numRuns: 150, seed: 12 },
    )
  })
})
