import { least } from 'd3-array'
import type { Note } from '../../music/arrangement'
import { add, compare, equal, ZERO, type Quarters } from '../../music/quarters'

type Written = Omit<Note, 'hand'>

/** Notes of one voice that begin and end together. Grace notes stand before the chord they lead to. */
export interface VoiceChord {
  onset: Quarters
  end: Quarters
  notes: Written[]
  graces: Written[]
}

/**
 * Lays the notes of one staff into as few voices as they need: in a voice, notes that overlap begin and end together.
 * Notes that had a voice of their own keep it while that holds. The highest voice comes first.
 */
export function layVoices(notes: readonly Written[]): VoiceChord[][] {
  const voices: { label: string; chords: VoiceChord[] }[] = []
  const waiting: Written[] = []
  const labels = [...new Set(notes.map(note => note.voice))].sort()
  for (const label of labels) {
    for (const note of notes) {
      if (note.voice !== label) continue
      if (note.grace) {
        waiting.push(note)
        continue
      }
      const end = add(note.onset, note.duration)
      const fits = ({ chords }: { chords: VoiceChord[] }) => {
        const last = chords.at(-1)
        return !last || compare(last.end, note.onset) <= 0 || joins(last, note.onset, end)
      }
      // Voices of earlier labels were laid along the whole staff already: only those of this label still grow.
      let voice = voices.find(one => one.label === label && fits(one))
      if (!voice) voices.push((voice = { label, chords: [] }))
      const last = voice.chords.at(-1)
      if (last && joins(last, note.onset, end)) last.notes.push(note)
      else voice.chords.push({ onset: note.onset, end, notes: [note], graces: [] })
    }
  }
  for (const grace of waiting) {
    const next = (some: typeof voices) =>
      least(
        some.flatMap(voice => voice.chords.find(chord => compare(chord.onset, grace.onset) >= 0) ?? []),
        (a, b) => compare(a.onset, b.onset),
      )
    const after = next(voices.filter(voice => voice.label === grace.voice)) ?? next(voices)
    if (after) after.graces.push(grace)
    else
      voices.push({
        label: grace.voice,
        chords: [{ onset: grace.onset, end: grace.onset, notes: [], graces: [grace] }],
      })
  }
  return voices.map(voice => voice.chords)
}

const joins = (chord: VoiceChord, onset: Quarters, end: Quarters): boolean =>
  equal(chord.onset, onset) && equal(chord.end, end) && !equal(end, ZERO)
