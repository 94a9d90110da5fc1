import type { NoteAssessment } from '../ear/assessment'
import { spellInKey } from '../music/pitch'
import { displayName, type NoteNames } from './note-names'

/** What was heard of a note that is marked. */
export type MarkedNote = Pick<NoteAssessment, 'outcome' | 'playedPitch' | 'deviationMs'>

/** A mark under the notation: its kind, its sign, and a short word. */
export interface MarkText {
  kind: 'right' | 'wrong' | 'missed' | 'stray'
  sign: string
  text: string
}

/**
 * The one mark for notes of a hand that are due together: a wrong key by name, how many are missing, how early or late
 * they came, in ms; right within `toleranceMs`. `fifths`: the key signature that names are spelled by.
 */
export function markOf(
  notes: readonly MarkedNote[],
  { fifths, toleranceMs, noteNames }: { fifths: number; toleranceMs: number; noteNames?: NoteNames },
): MarkText {
  const wrong = notes.filter(note => note.outcome === 'wrong')
  if (wrong.length > 0)
    return {
      kind: 'wrong',
      sign: '×',
      text: wrong.map(note => displayName(spellInKey(note.playedPitch!, fifths), false, noteNames)).join(' '),
    }
  const missed = notes.filter(note => note.outcome === 'missed').length
  if (missed > 0) return { kind: 'missed', sign: '○', text: notes.length > 1 ? `${missed}` : '' }
  const deviationMs = notes.reduce((sum, note) => sum + note.deviationMs!, 0) / notes.length
  if (Math.abs(deviationMs) <= toleranceMs) return { kind: 'right', sign: '✓', text: '' }
  return deviationMs > 0
    ? { kind: 'stray', sign: '▸', text: `late ${Math.round(deviationMs)}` }
    : { kind: 'stray', sign: '◂', text: `early ${Math.round(-deviationMs)}` }
}
