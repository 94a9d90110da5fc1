import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { pairNotes, type DueNote, type Stroke } from './pair'
import { DEFAULT_EAR } from './parameters'

const { pairing } = DEFAULT_EAR
const due = (pitch: number, atMs: number): DueNote => ({
  pitch,
  run: 0,
  fromMs: atMs,
  toMs: atMs,
  looseness: 1,
  missed: pairing.missed,
})
const stroke = (pitch: number, onsetMs: number): Stroke => ({ pitch, run: 0, onsetMs, extra: pairing.extra })
const pair = (notes: DueNote[], strokes: Stroke[]) =>
  pairNotes({
    due: notes,
    strokes: [...strokes].sort((a, b) => a.onsetMs - b.onsetMs),
    companions: () => undefined,
    unsteadinessMs: 30,
    beatMs: 600,
    pairing,
  })

describe('pairing notes and strokes', () => {
  it('takes a wrong key for the note it was meant for, though its own note is missing next', () => {
    // D for C, and the D a beat later not played: not a D half a beat early.
    expect(pair([due(60, 0), due(62, 600)], [stroke(62, 5)]).standsFor).toEqual([0, null])
  })

  it('leaves a stray key between two notes an extra', () => {
    expect(pair([due(60, 0), due(62, 600)], [stroke(60, 0), stroke(61, 310), stroke(62, 600)]).standsFor).toEqual([
      0, 2,
    ])
  })

  it('matches repeated notes in order', () => {
    expect(pair([due(60, 0), due(60, 300), due(60, 600)], [stroke(60, 20), stroke(60, 590)]).standsFor).toEqual([
      0,
      null,
      1,
    ])
  })

  it('gives a late right key to its note, however late it is within the beat', () => {
    expect(pair([due(60, 0)], [stroke(60, 420)]).standsFor).toEqual([0])
  })

  it('is the cheapest of all pairings (every one tried)', () => {
    const note = fc.record({ pitch: fc.integer({ min: 60, max: 63 }), atMs: fc.integer({ min: 0, max: 500 }) })
    fc.assert(
      fc.property(
        fc.array(note, { minLength: 1, maxLength: 4 }),
        fc.array(note, { maxLength: 4 }),
        (written, played) => {
          const notes = written.sort((a, b) => a.atMs - b.atMs).map(one => due(one.pitch, one.atMs))
          const strokes = played.sort((a, b) => a.atMs - b.atMs).map(one => stroke(one.pitch, one.atMs))
          const total = (standsFor: (number | null)[], pairs: number) =>
            pairs +
            standsFor.filter(one => one === null).length * pairing.missed +
            (strokes.length - standsFor.filter(one => one !== null).length) * pairing.extra
          const found = pair(notes, strokes)
          const best = cheapest(notes, strokes)
          expect(total(found.standsFor, found.cost)).toBeLessThanOrEqual(best + SETTLED_MS)
        },
      ),
      { numRuns: 400, seed: 12 },
    )
  })
})

/** Notes settled at once may cost this little more than the very best. */
const SETTLED_MS = 2 * pairing.certain

/** The least total over all one-to-one pairings, by the same prices. */
function cheapest(notes: DueNote[], strokes: Stroke[]): number {
  const price = (note: DueNote, one: Stroke) =>
    pair([note], [one]).standsFor[0] === null ? Infinity : pair([note], [one]).cost
  const from = (index: number, free: readonly number[]): number => {
    if (index === notes.length) return free.length * pairing.extra
    return Math.min(
      pairing.missed + from(index + 1, free),
      ...free.map(
        one =>
          price(notes[index]!, strokes[one]!) +
          from(
            index + 1,
            free.filter(other => other !== one),
          ),
      ),
    )
  }
  return from(
    0,
    strokes.map((_, index) => index),
  )
}
