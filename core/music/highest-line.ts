/** A sounding note in any unit of time. */
export interface SoundingNote {
  readonly from: number
  readonly to: number
  readonly pitch: number
}

/**
 * The line on top of notes in order of onset, one at a time: what moves below a longer one that still sounds is an
 * inner voice.
 */
export function highestLine<Sounding extends SoundingNote>(notes: readonly Sounding[]): Sounding[] {
  const line: Sounding[] = []
  for (const note of notes) {
    const last = line.at(-1)
    if (last && last.from === note.from) {
      if (note.pitch > last.pitch) line[line.length - 1] = note
    } else if (!last || last.to <= note.from + 1e-9 || note.pitch > last.pitch) line.push(note)
  }
  return line
}
