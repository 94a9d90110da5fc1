import { expose } from 'comlink'
import type { Strictness } from '#core/ear/parameters'
import type { Take } from '#core/ear/take'
import type { Arrangement } from '#core/music/arrangement'
import { recognisedSpans, type RecognisedSpan } from '#core/recognise/heard'
import { NoteIndex } from '#core/recognise/note-index'

/** A stretch that was heard, by the name of its arrangement. */
export type Recognised = Omit<RecognisedSpan, 'score'> & { arrangementId: string }

const arrangements = new Map<string, Arrangement>()
let index = new NoteIndex()
/** What the index holds, by its numbers. */
let indexed: string[] = []

const recogniser = {
  /** Which of these arrangements are not known yet; all others are forgotten. */
  missing(ids: readonly string[]): string[] {
    for (const id of arrangements.keys()) if (!ids.includes(id)) arrangements.delete(id)
    return ids.filter(id => !arrangements.has(id))
  },

  add: (id: string, arrangement: Arrangement): void => void arrangements.set(id, arrangement),

  /** What of the songs that are known was played. */
  hear(take: Take, strictness: Strictness): Recognised[] {
    if (indexed.some(id => !arrangements.has(id))) {
      index = new NoteIndex()
      indexed = []
    }
    for (const [id, arrangement] of arrangements)
      if (!indexed.includes(id)) index.add(indexed.push(id) - 1, arrangement)
    return recognisedSpans(
      index,
      indexed.map(id => arrangements.get(id)!),
      take,
      strictness,
    ).map(({ score, ...heard }) => ({ ...heard, arrangementId: indexed[score]! }))
  },
}
export type RecogniserWorker = typeof recogniser

expose(recogniser)
