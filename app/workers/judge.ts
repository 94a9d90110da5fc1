import { expose } from 'comlink'
import { assessTake } from '#core/ear/assess'
import type { AssessmentRequest } from '#core/ear/assessment-request'
import type { Assessment, NoteAssessment } from '#core/ear/assessment'
import type { Changes } from '#core/coach/changes'
import { failedPlaces } from '#core/coach/pass'
import type { CoachSettings } from '#core/coach/settings'
import { planSong, sentPlan, type SentPlan } from '#core/coach/song-plan'
import type { CoachPart } from '#core/coach/stages'
import type { Arrangement } from '#core/music/arrangement'
import type { Quarters } from '#core/music/quarters'

/** What a pass is judged by, but for the arrangement, which the worker keeps. */
export type PassRequest = Omit<AssessmentRequest, 'arrangement'>
/** What a song is planned from, but for the arrangement. */
export interface PlanRequest {
  parts: readonly CoachPart[]
  settings: CoachSettings
  targetShare: number
  changes: Changes
}
/** A judged pass, and the places where it failed. */
export interface Judged {
  assessment: Assessment
  failed: Quarters[]
}

/** A judgement whose notes are still to be fetched, with their number. */
export type JudgedInShort = Judged & { notes: number }

const MAX_KEPT = 8
/** Notes fetched at once: unpacking thousands would block the page. */
const SLICE = 400
const kept = new Map<number, Arrangement>()
let newest: readonly NoteAssessment[] = []

const judge = {
  /** Keeps an arrangement under a number, for the passes to come. */
  takeUp(id: number, arrangement: Arrangement): void {
    if (kept.size >= MAX_KEPT) kept.delete(kept.keys().next().value!)
    kept.set(id, arrangement)
  },
  /**
   * Judges a pass of an arrangement loaded before; undefined when it was dropped. Its notes are fetched next, slice by
   * slice.
   */
  judge(id: number, request: PassRequest): JudgedInShort | undefined {
    const arrangement = kept.get(id)
    if (!arrangement) return undefined
    const assessment = assessTake({ ...request, arrangement })
    newest = assessment.notes
    return {
      assessment: { ...assessment, notes: [] },
      failed: failedPlaces(arrangement, assessment),
      notes: newest.length,
    }
  },
  /** Plans the song of an arrangement loaded before; undefined when it was dropped. */
  plan(id: number, { parts, settings, targetShare, changes }: PlanRequest): SentPlan | undefined {
    const arrangement = kept.get(id)
    return arrangement && sentPlan(planSong(arrangement, parts, settings, targetShare, { changes }))
  },
  /** Notes of the pass judged last, from one on. */
  notes: (from: number): readonly NoteAssessment[] => newest.slice(from, from + SLICE),
}
export type JudgeWorker = typeof judge

expose(judge)
