import { Note } from 'tonal'
import { barAt, type Arrangement, type Hand } from '../music/arrangement'
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

const MAJOR_TONICS: Record<number, string> = { [-7]: 'Cb', [-6]: 'Gb', [-5]: 'Db', [-4]: 'Ab', [-3]: 'Eb', [-2]: 'Bb', [-1]: 'F', 0: 'C', 1: 'G', 2: 'D', 3: 'A', 4: 'E', 5: 'B', 6: 'F#', 7: 'C#' }

/**
 * The key of a place: the key signature's major, or its relative minor when the song's last bass note is that tonic
 * (common practice: songs end on it).
 */
export function keyAt(arrangement: Arrangement, { from }: Pick<Stretch, 'from'>): { tonic: string, isMinor: boolean } {
  const major = MAJOR_TONICS[barAt(arrangement, from).fifths]!
  const minor = Note.transpose(major, '-3m')
  const lastBass = arrangement.notes.filter(note => note.hand === 'left').at(-1) ?? arrangement.notes.at(-1)
  const lastOnset = lastBass?.onset
  const lowest = arrangement.notes.filter(note => lastOnset && note.onset.n === lastOnset.n && note.onset.d === lastOnset.d).reduce((least, note) => Math.min(least, note.pitch), 127)
  const isMinor = lowest < 127 && lowest % 12 === Note.chroma(minor) && barAt(arrangement, from).fifths === arrangement.bars.at(-1)!.fifths
  return { tonic: isMinor ? minor : major, isMinor }
}

function scaleAt(arrangement: Arrangement, stretch: Stretch): number[] {
  const { tonic, isMinor } = keyAt(arrangement, stretch)
  return SCALES[isMinor ? 'minor' : 'major'].map(step => (Note.chroma(tonic)! + step) % 12)
}
