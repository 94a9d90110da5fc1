import { Note } from 'tonal'
import type { MidiPitch } from '../music/pitch'

/** Between these a chord sounds clear under a melody: E below middle C to the D above the treble staff's middle line (common practice). */
const [LOWEST, HIGHEST] = [52, 74]
/** Where the first chord lies. */
const MIDDLE = 61
/** More notes than this are left out: the fifth first, then the root, which the bass has (common practice). */
const MOST_NOTES = 4

/** Pitch classes of a chord's notes (`['F', 'A', 'C']`), at most four. */
export function chromasOf(notes: readonly string[]): number[] {
  const chromas = notes.map(note => Note.chroma(note)!)
  const root = chromas[0]!
  const kept = chromas.length > MOST_NOTES ? chromas.filter(chroma => (chroma - root + 12) % 12 !== 7) : chromas
  return [...new Set(kept.length > MOST_NOTES ? kept.slice(kept.length - MOST_NOTES) : kept)]
}

/** A chord in close position that moves least from the one before; what is common stays. */
export function nearestVoicing(chromas: readonly number[], before: readonly MidiPitch[] | undefined): MidiPitch[] {
  let best: MidiPitch[] = []
  let least = Infinity
  for (let lowest = LOWEST; lowest < LOWEST + 12 + 6; lowest++) {
    if (!chromas.includes(lowest % 12)) continue
    const voicing = chromas.map(chroma => lowest + (chroma - lowest % 12 + 12) % 12).sort((a, b) => a - b)
    if (voicing.at(-1)! > HIGHEST) continue
    const moved = movement(voicing, before)
    if (moved >= least) continue
    least = moved
    best = voicing
  }
  return best
}

/** How far a chord lies from the one before: each note from the nearest there; without one, from the middle. */
function movement(voicing: readonly MidiPitch[], before: readonly MidiPitch[] | undefined): number {
  if (!before || before.length === 0) return Math.abs(voicing.reduce((sum, pitch) => sum + pitch, 0) / voicing.length - MIDDLE)
  const nearest = (pitch: number, others: readonly number[]) => Math.min(...others.map(other => Math.abs(other - pitch)))
  return voicing.reduce((sum, pitch) => sum + nearest(pitch, before), 0) + before.reduce((sum, pitch) => sum + nearest(pitch, voicing), 0)
}
