import type { Arrangement, Note } from '../music/arrangement'
import { add, compare, equal, subtract, toDecimal, type Quarters } from '../music/quarters'

/** A place between two notes of the melody where a phrase may end: the later note's onset, and how strongly, from 0 to 1. */
export interface Boundary { at: Quarters, strength: number }

/** Sizes at which a change counts fully even where the song has no larger one: an octave, two quarter notes, a quarter rest. A melody without phrases must not be given some. Own choice. */
const FULL = { pitch: 12, onset: 2, rest: 1 }
/** A sum of the three that is as strong as a boundary gets: a long note with a rest. Own choice. */
const STRONGEST = 0.75
/** How much the changes of pitch, of onset interval and of rest count (Cambouropoulos 2001, The local boundary detection model, ICMC; from memory). */
const WEIGHTS = { pitch: 0.25, onset: 0.5, rest: 0.25 }

/**
 * How strongly each note of the melody (the right hand's highest notes; the left's where the right rests throughout) begins something new: the
 * local boundary detection model. A slur that ends right before a note makes its boundary surer.
 */
export function phraseBoundaries(arrangement: Arrangement): Boundary[] {
  const melody = melodyOf(arrangement)
  const steps = melody.slice(1).map((note, index) => {
    const before = melody[index]!
    const onset = toDecimal(subtract(note.onset, before.onset))
    return { pitch: Math.abs(note.pitch - before.pitch), onset, rest: Math.max(0, toDecimal(subtract(note.onset, add(before.onset, before.duration)))) }
  })
  const strengths = (['pitch', 'onset', 'rest'] as const).map((kind) => {
    const sizes = steps.map(step => step[kind])
    const change = (a: number, b: number) => a + b === 0 ? 0 : Math.abs(a - b) / (a + b)
    const own = sizes.map((size, index) => size * (change(sizes[index - 1] ?? size, size) + change(size, sizes[index + 1] ?? size)))
    const most = own.reduce((highest, one) => Math.max(highest, one), FULL[kind])
    return own.map(one => one / most * WEIGHTS[kind])
  })
  const slurEnds = new Set((arrangement.slurs ?? []).map(slur => slur.to))
  const sums = steps.map((_, index) => strengths.reduce((sum, kind) => sum + kind[index]!, 0) + (slurEnds.has(melody[index]!.id) ? SLUR_END : 0))
  return sums.map((sum, index) => ({ at: melody[index + 1]!.onset, strength: Math.min(1, sum / STRONGEST) }))
}

const SLUR_END = 0.2

function melodyOf({ notes }: Arrangement): Note[] {
  const right = notes.filter(note => note.hand === 'right' && !note.grace)
  const own = right.length > 0 ? right : notes.filter(note => !note.grace)
  const melody: Note[] = []
  for (const note of own) {
    const last = melody.at(-1)
    if (last && equal(last.onset, note.onset)) {
      if (note.pitch > last.pitch) melody[melody.length - 1] = note
    }
    // A note that moves below a longer one still sounding is an inner voice.
    else if (!last || compare(add(last.onset, last.duration), note.onset) <= 0 || note.pitch > last.pitch) melody.push(note)
  }
  return melody
}
