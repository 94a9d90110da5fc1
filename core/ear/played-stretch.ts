import { barAt, type Arrangement } from '../music/arrangement'
import type { Stretch } from '../music/passage'
import { compare, earlier, later, type Quarters } from '../music/quarters'
import type { NoteAssessment } from './assessment'

/**
 * So many notes, at least, and this share of what lies between the first and the last of them, must have been played
 * for it to be a pass of anything.
 */
const FEWEST = 4
const LEAST_SHARE = 0.5

/**
 * The bars that a free pass really went over: from the first to the last of its notes that were struck, whole bars
 * within what it was to be. Undefined where too little of it was played. For judging what was played and not what was
 * left out at either end.
 */
export function playedStretch(
  arrangement: Arrangement,
  { from, to }: Stretch,
  notes: readonly Pick<NoteAssessment, 'id' | 'outcome'>[],
): Stretch | undefined {
  const onsets = new Map(arrangement.notes.map(note => [note.id, note.onset]))
  const struck = notes.filter(note => note.outcome !== 'missed').flatMap(({ id }) => onsets.get(id) ?? [])
  if (struck.length < FEWEST) return undefined
  const [first, last] = [struck.reduce(earlier), struck.reduce(later)]
  const within = notes.filter(({ id }) => isWithin(onsets.get(id), first, last)).length
  if (struck.length < LEAST_SHARE * within) return undefined
  const [firstBar, lastBar] = [barAt(arrangement, first), barAt(arrangement, last)]
  const after = arrangement.bars[lastBar.index + 1]?.start ?? to
  return { from: later(from, firstBar.start), to: earlier(to, after) }
}

const isWithin = (onset: Quarters | undefined, first: Quarters, last: Quarters): boolean =>
  onset !== undefined && compare(onset, first) >= 0 && compare(onset, last) <= 0
