import { Note } from 'tonal'
import type { Arrangement, Hand } from '../music/arrangement'
import { keyAt } from '../music/key'
import { expectedNotes, stretchPassage, type Stretch } from '../music/passage'
import { findFingering, type Fingering } from './fingering'
import type { Finger } from './ergonomics'
import { SCALES } from './scale-pattern'

export interface PartFingeringOptions {
  /** From thumb to little finger, half steps. */
  reach?: number
  /** Which fingers stand: all that are written, only the player's own, or none. */
  keep?: 'written' | 'own' | 'none'
  bpm?: number
}

/** Fingers for one hand in a stretch of an arrangement, at its tempo and in its key. */
export function fingerPart(arrangement: Arrangement, stretch: Stretch, hand: Hand, { reach, keep = 'written', bpm }: PartFingeringOptions = {}): Fingering {
  const own = new Set(arrangement.notes.filter(note => note.fingerBy === 'player').map(note => note.id))
  const notes = expectedNotes(arrangement, stretchPassage(stretch.from, stretch.to, hand), bpm).map(note => ({
    id: note.id, pitch: note.pitch, onsetMs: note.onsetMs, endMs: note.onsetMs + note.durationMs,
    ...(note.finger !== undefined && keep !== 'none' && (keep === 'written' || own.has(note.id)) ? { locked: note.finger as Finger } : {}),
  }))
  return findFingering(notes, { hand, reach, scale: scaleAt(arrangement, stretch) })
}

function scaleAt(arrangement: Arrangement, stretch: Stretch): number[] {
  const { tonic, isMinor } = keyAt(arrangement, stretch.from)
  return SCALES[isMinor ? 'minor' : 'major'].map(step => (Note.chroma(tonic)! + step) % 12)
}
