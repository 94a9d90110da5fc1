import { Note } from 'tonal'
import type { Harmony } from '../music/song-harmony'
import type { LineTone } from './pattern'

/** What tones are found from: a chord's notes as names, root first, and its bass. */
export type Sounding = Pick<Harmony, 'notes' | 'bass'>

/** A note of a strange bass's chord lies at least so far above it: a second there is no third. */
const MIN_THIRD = 3

/**
 * How many half steps a tone of the line lies above the chord's bass: in an inversion the chord's notes are counted on
 * from the bass, so that an arpeggio over C/E is E G C E. The octave is 12, and is the seventh of a chord that has
 * none.
 */
export function halfStepsAbove(tone: Exclude<LineTone, 'approach' | 'walk'>, chord: Sounding): number {
  const members = membersAbove(chord)
  const [third = 12, fifth = third] = members
  switch (tone) {
    case 'root':
    case 'bass':
      return 0
    case 'third':
      return third
    case 'fifth':
      return fifth
    // Where the chord has a minor sixth above its bass, as C/E has, that is its sixth.
    case 'sixth':
      return members.includes(8) && !members.includes(9) ? 8 : 9
    case 'seventh':
      return members[2] ?? 12
    case 'octave':
      return 12
    case 'guide':
      return members[2] ?? third
    case 'color':
      return members[3] ?? members[2] ?? fifth
  }
}

/** The chord's other notes above its bass, half steps from 1 to 11: in its own order from the bass on. */
function membersAbove({ notes, bass }: Sounding): number[] {
  const low = Note.chroma(bass)!
  const above = notes.map(name => (Note.chroma(name)! - low + 12) % 12)
  const place = above.indexOf(0)
  // A bass that is not of the chord has its notes above it as they lie.
  if (place < 0) return above.filter(one => one >= MIN_THIRD).sort((a, b) => a - b)
  return [...above.slice(place + 1), ...above.slice(0, place)]
}

/** The pitch classes of a chord and its bass. */
export const chromasOf = ({ notes, bass }: Sounding): Set<number> =>
  new Set([...notes, bass].map(name => Note.chroma(name)!))
