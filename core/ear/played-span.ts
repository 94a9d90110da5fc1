import { barAt, type Arrangement } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { compare, earlier, later, type Quarters } from '../music/quarters'
import type { NoteAssessment } from './assessment'

/** Fewest notes, and the share of what lies between the first and last of them, that make a pass. */
const FEWEST = 4
const MIN_SHARE = 0.5

/**
 * The bars a free pass really covered: whole bars from the first to the last note struck, within the passage. Undefined
 * where too little was played. Used to judge what was played and not what was left out at either end.
 */
export function playedSpan(
  arrangement: Arrangement,
  { from, to }: ScoreSpan,
  notes: readonly Pick<NoteAssessment, 'id' | 'outcome'>[],
): ScoreSpan | undefined {
  const onsets = new Map(arrangement.notes.map(note => [note.id, note.onset]))
  const struck = notes.filter(note => note.outcome !== 'missed').flatMap(({ id }) => onsets.get(id) ?? [])
  if (struck.length < FEWEST) return undefined
  const [first, last] = [struck.reduce(earlier), struck.reduce(later)]
  const within = notes.filter(({ id }) => isWithin(onsets.get(id), first, last)).length
  if (struck.length < MIN_SHARE * within) return undefined
  const [firstBar, lastBar] = [barAt(arrangement, first), barAt(arrangement, last)]
  const after = arrangement.bars[lastBar.index + 1]?.start ?? to
  return { from: later(from, firstBar.start), to: earlier(to, after) }
}

const isWithin = (onset: Quarters | undefined, first: Quarters, last: Quarters): boolean =>
  onset !== undefined && compare(onset, first) >= 0 && compare(onset, last) <= 0
