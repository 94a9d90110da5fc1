import fc from 'fast-check'
import type { Arrangement, Bar, Hand, Note } from '#core/music/arrangement'
import { barLength, type Meter } from '#core/music/meter'
import { playingOrder } from '#core/music/playing-order'
import { spellInKey } from '#core/music/pitch'
import { add, compare, quarters, toDecimal, ZERO, type Quarters } from '#core/music/quarters'

const METERS: Meter[] = [
  { beats: 4, beatType: 4 },
  { beats: 3, beatType: 4 },
  { beats: 6, beatType: 8 },
  { beats: 2, beatType: 2 },
  { beats: 5, beatType: 8, groups: [3, 2] },
]
/**
 * How a quarter note's room is filled: plain, dotted, triplets, quintuplets, an eighth triplet, syncopation over two
 * beats.
 */
const CELLS: Quarters[][] = [
  [quarters(1)],
  [quarters(1, 2), quarters(1, 2)],
  [quarters(3, 4), quarters(1, 4)],
  [quarters(1, 4), quarters(1, 4), quarters(1, 2)],
  [quarters(1, 3), quarters(1, 3), quarters(1, 3)],
  [quarters(2, 3), quarters(1, 3)],
  Array.from({ length: 5 }, () => quarters(1, 5)),
  Array.from({ length: 6 }, () => quarters(1, 6)),
  [quarters(1, 2), quarters(1), quarters(1, 2)],
  [quarters(2, 3), quarters(2, 3), quarters(2, 3)],
  [quarters(3)],
  [quarters(2)],
]

const event = fc.record({
  cell: fc.nat(CELLS.length - 1),
  pitches: fc.array(fc.integer({ min: -14, max: 14 }), { minLength: 0, maxLength: 3 }),
  hold: fc.boolean(),
})
const bar = fc.record({
  right: fc.array(event, { minLength: 4, maxLength: 8 }),
  left: fc.array(event, { minLength: 4, maxLength: 8 }),
  upper: fc.option(fc.array(event, { minLength: 2, maxLength: 6 }), { nil: undefined, freq: 4 }),
})

/**
 * Arrangements of two hands with chords, ties over beats and bar lines, tuplets, a second voice now and then, in
 * several meters and keys.
 */
export const anyArrangement = fc
  .record({
    meter: fc.constantFrom(...METERS),
    fifths: fc.integer({ min: -6, max: 6 }),
    pickup: fc.boolean(),
    bars: fc.array(bar, { minLength: 1, maxLength: 6 }),
  })
  .map(({ meter, fifths, pickup, bars: filled }): Arrangement => {
    const whole = barLength(meter)
    const bars: Bar[] = []
    const notes: Note[] = []
    let start = ZERO
    filled.forEach((content, index) => {
      const isPickup = pickup && index === 0
      const length = isPickup ? quarters(1, 2) : whole
      const offset = isPickup ? add(whole, quarters(-1, 2)) : ZERO
      bars.push({ index, number: pickup ? index : index + 1, start, length, offset, meter, fifths })
      const fill = (events: typeof content.right, hand: Hand, voice: string, centre: number) => {
        let at = ZERO
        for (const { cell, pitches, hold } of events) {
          for (const [place, value] of CELLS[cell]!.entries()) {
            if (compare(add(at, value), length) > 0) continue
            const duration = hold && place === CELLS[cell]!.length - 1 ? add(value, quarters(1, 2)) : value
            for (const pitch of new Set(pitches.map(one => centre + one + place))) {
              notes.push({
                id: '',
                hand,
                barIndex: index,
                onset: add(start, at),
                duration,
                pitch,
                spelled: spellInKey(pitch, fifths),
                voice,
                tiedIds: [],
              })
            }
            at = add(at, duration)
            if (compare(at, length) >= 0) return
          }
        }
      }
      fill(content.right, 'right', '1', 74)
      fill(content.left, 'left', '5', 50)
      if (content.upper) fill(content.upper, 'right', '2', 64)
      start = add(start, length)
    })
    const last = bars.at(-1)!
    const end = add(last.start, last.length)
    const kept = withoutClashes(notes, end).map((note, index) => ({ ...note, id: `n${index + 1}` }))
    return {
      format: 'half-step/arrangement',
      version: 1,
      title: 'Anything',
      composer: '',
      bars,
      order: playingOrder(bars),
      notes: kept,
      others: [],
      chords: [],
      lyrics: [],
      pedals: [],
      dynamics: [],
      tempos: [{ onset: ZERO, quarterBpm: 96 }],
      rehearsals: [],
      warnings: [],
    }
  })

/** One key sounds once at a time and ends with the piece, so that every writer can say it. */
function withoutClashes(notes: Note[], end: Quarters): Note[] {
  const sorted = [...notes].sort((a, b) => compare(a.onset, b.onset) || a.pitch - b.pitch)
  const kept: Note[] = []
  const busy = new Map<number, Quarters>()
  for (const note of sorted) {
    const until = add(note.onset, note.duration)
    const before = busy.get(note.pitch)
    if ((before && compare(before, note.onset) > 0) || compare(until, end) > 0) continue
    busy.set(note.pitch, until)
    kept.push(note)
  }
  return kept
}

/** What of a note every format keeps. */
export const essence = (notes: readonly Note[]) =>
  notes
    .map(({ hand, onset, duration, pitch }) => ({
      hand,
      pitch,
      onset: `${onset.n}/${onset.d}`,
      duration: `${duration.n}/${duration.d}`,
      at: toDecimal(onset),
    }))
    .sort((a, b) => a.at - b.at || a.pitch - b.pitch || a.hand.localeCompare(b.hand))
