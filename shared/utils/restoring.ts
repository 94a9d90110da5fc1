import type { RestoredCounts } from '#core/words/archive'

/** A line of the answer while an archive is restored: progress in passes, the result, or the reason of a refusal. */
export type RestoringLine = { done: number; of: number } | { restored: RestoredCounts } | { refused: string }
