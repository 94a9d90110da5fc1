import { expose } from 'comlink'
import { assessTake, type AssessmentRequest } from '#core/ear/assess'
import type { Assessment } from '#core/ear/assessment'
import { failedPlaces } from '#core/coach/pass'
import type { Arrangement } from '#core/music/arrangement'
import type { Quarters } from '#core/music/quarters'

/** What a pass is judged by, but for the arrangement, which the worker keeps. */
export type PassRequest = Omit<AssessmentRequest, 'arrangement'>
/** A judged pass, and the places where it failed. */
export interface Judged { assessment: Assessment, failed: Quarters[] }

const MOST_KEPT = 8
const kept = new Map<number, Arrangement>()

const judge = {
  /** Keeps an arrangement under a number, for the passes to come. */
  takeUp(id: number, arrangement: Arrangement): void {
    if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!)
    kept.set(id, arrangement)
  },
  /** Judges a pass of an arrangement that was taken up; undefined when it is not there any more. */
  judge(id: number, request: PassRequest): Judged | undefined {
    const arrangement = kept.get(id)
    if (!arrangement) return undefined
    const assessment = assessTake({ ...request, arrangement })
    return { assessment, failed: failedPlaces(arrangement, assessment) }
  },
}
export type JudgeWorker = typeof judge

expose(judge)
