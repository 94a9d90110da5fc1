import { barAt, type Arrangement } from '../music/arrangement'
import { countAt, placeInBar } from '../music/counting'
import type { ScoreSpan } from '../music/passage'
import { compare, equal, type Quarters } from '../music/quarters'

/** A moment in which something is struck: by whom, and the count that is said there. */
export interface Coincidence {
  onset: Quarters
  hands: 'together' | 'right' | 'left'
  count: string
  rightIds: string[]
  leftIds: string[]
}

/**
 * Which notes of a stretch fall together and which alternate, moment by moment. Grace notes belong to no moment of
 * their own.
 */
export function coincidences(arrangement: Arrangement, { from, to }: ScoreSpan): Coincidence[] {
  const moments: Coincidence[] = []
  for (const note of arrangement.notes) {
    if (note.grace || compare(note.onset, from) < 0 || compare(note.onset, to) >= 0) continue
    let last = moments.at(-1)
    if (!last || !equal(last.onset, note.onset)) {
      const bar = barAt(arrangement, note.onset)
      last = {
        onset: note.onset,
        hands: note.hand,
        count: countAt(bar.meter, placeInBar(bar, note.onset)),
        rightIds: [],
        leftIds: [],
      }
      moments.push(last)
    }
    if (last.hands !== note.hand) last.hands = 'together'
    last[note.hand === 'right' ? 'rightIds' : 'leftIds'].push(note.id)
  }
  return moments
}

/** The moments as they are said: "together – right – right – left". */
export const inWords = (moments: readonly Pick<Coincidence, 'hands'>[]): string =>
  moments.map(({ hands }) => hands).join(' – ')
