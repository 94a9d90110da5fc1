import { assessTake } from '#core/ear/assess'
import type { AssessmentRequest } from '#core/ear/assessment-request'
import { failedPlaces } from '#core/coach/pass'
import { planSong, receivedPlan, sentPlan } from '#core/coach/song-plan'
import type { Arrangement } from '#core/music/arrangement'
import type { PlanRequest } from '../../app/workers/judge'

/** Judges passes and plans where the test runs, as the page's worker does: the answer comes a moment later. */
export const judgeHere = (arrangement: Arrangement) => ({
  prepare: () => {},
  judge: (request: Omit<AssessmentRequest, 'arrangement'>) => {
    const assessment = assessTake({ ...request, arrangement })
    return Promise.resolve({ assessment, failed: failedPlaces(arrangement, assessment) })
  },
  plan: ({ parts, settings, targetShare, changes }: PlanRequest) =>
    Promise.resolve(
      receivedPlan(
        arrangement,
        structuredClone(sentPlan(planSong(arrangement, parts, settings, targetShare, { changes }))),
      ),
    ),
})

/** Lets what waits for a judgement go on. */
export async function judged(): Promise<void> {
  for (let turn = 0; turn < 5; turn++) await Promise.resolve()
}
