import type { FingerNote } from './finger-note'
import { Note } from 'tonal'
import type { Arrangement, Hand } from '../music/arrangement'
import { keyAt } from '../music/key'
import { expectedNotes, spanPassage, type ScoreSpan } from '../music/passage'
import { compareFingers, type ComparedFinger } from './alternatives'
import { findFingering, type Fingering, type FingeringOptions } from './fingering'
import type { Finger } from './ergonomics'

export interface PartFingeringOptions {
  /** From thumb to little finger, half steps. */
  reach?: number
  /** Which fingers stand: all that are written, only the player's own, or none. */
  keep?: 'written' | 'own' | 'none'
  bpm?: number
}

/** One hand's notes in a stretch, as fingers are looked for: at a tempo, with the fingers that stand. */
function fingerNotes(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  hand: Hand,
  { keep = 'written', bpm }: PartFingeringOptions,
): FingerNote[] {
  const own = new Set(arrangement.notes.filter(note => note.fingerBy === 'player').map(note => note.id))
  return expectedNotes(arrangement, spanPassage(stretch.from, stretch.to, hand), bpm).map(note => ({
    id: note.id,
    pitch: note.pitch,
    onsetMs: note.onsetMs,
    endMs: note.onsetMs + note.durationMs,
    ...(note.finger !== undefined && keep !== 'none' && (keep === 'written' || own.has(note.id))
      ? { locked: note.finger as Finger }
      : {}),
  }))
}

const optionsOf = (arrangement: Arrangement, stretch: ScoreSpan, hand: Hand, reach?: number): FingeringOptions => ({
  hand,
  reach,
  tonic: Note.chroma(keyAt(arrangement, stretch.from).tonic) ?? undefined,
})

/** Fingers for one hand in a stretch of an arrangement, at its tempo and in its key. */
export const fingerPart = (
  arrangement: Arrangement,
  stretch: ScoreSpan,
  hand: Hand,
  options: PartFingeringOptions = {},
): Fingering =>
  findFingering(fingerNotes(arrangement, stretch, hand, options), optionsOf(arrangement, stretch, hand, options.reach))

/** What else a note of the stretch could be played with, and what that would change. */
export const otherFingers = (
  arrangement: Arrangement,
  stretch: ScoreSpan,
  hand: Hand,
  fingering: Fingering,
  id: string,
  options: PartFingeringOptions = {},
): ComparedFinger[] =>
  compareFingers(
    fingerNotes(arrangement, stretch, hand, options),
    fingering,
    id,
    optionsOf(arrangement, stretch, hand, options.reach),
  )
