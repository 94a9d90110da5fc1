import type { Lyric, Note } from '../music/arrangement'
import { countAt, placeInBar } from '../music/counting'
import { compare, type Quarters } from '../music/quarters'
import { ScoreDocument } from './musicxml/document'
import type { ReadScore } from './musicxml/read'

/** What a page on paper shows beside the notes. `fingers`: by note id, where the score has none. */
export interface PrintedChoices {
  fingers?: ReadonlyMap<string, number>
  counts?: boolean
  chordSymbols?: boolean
}

/** The verse that counts are written as: one that no song has. */
const COUNT_VERSE = '90'
const HARMONY = /<harmony\b(?:[^>]*\/>|[^]*?<\/harmony\s*>)/g

/** A score as it is printed: with fingers at its notes, and the count under the upper staff, as set. */
export function printedScore(
  score: ReadScore,
  { fingers = new Map(), counts = false, chordSymbols = true }: PrintedChoices,
): string {
  const { arrangement } = score
  const notes = arrangement.notes.map((note): Note =>
    note.finger === undefined && fingers.has(note.id) ? { ...note, finger: fingers.get(note.id) } : note,
  )
  const lyrics = counts ? [...arrangement.lyrics, ...countLyrics(score)] : arrangement.lyrics
  const { musicXml } = new ScoreDocument(score).revised({ ...arrangement, notes, lyrics })
  return chordSymbols ? musicXml : musicXml.replaceAll(HARMONY, '')
}

/** The count of each moment at which the right hand strikes, at the lowest of its notes. */
function countLyrics({ arrangement: { bars, notes } }: ReadScore): Lyric[] {
  const found: Lyric[] = []
  let last: Quarters | undefined
  for (const { id, hand, grace, onset, barIndex } of notes) {
    if (hand !== 'right' || grace || (last && compare(last, onset) === 0)) continue
    last = onset
    const bar = bars[barIndex]!
    found.push({
      noteId: id,
      onset,
      verse: COUNT_VERSE,
      text: countAt(bar.meter, placeInBar(bar, onset)),
      hyphen: false,
    })
  }
  return found
}
