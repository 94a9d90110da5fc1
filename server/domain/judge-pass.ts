import { assessTake } from '#core/ear/assess'
import type { Assessment, Mode } from '#core/ear/assessment'
import type { Strictness } from '#core/ear/parameters'
import type { Take } from '#core/ear/take'
import { failedPlaces } from '#core/coach/pass'
import type { Arrangement } from '#core/music/arrangement'
import type { Passage } from '#core/music/passage'
import type { JudgedColumns } from '../database/schema/passes'

/** What a pass is judged by. */
export interface PassToJudge {
  passage: Passage
  take: Take
  mode: Mode
  bpm?: number
  offsetMs: number
  strictness: Strictness
}

/** The findings that the sentence of a pass is made from. */
const SENTENCE_FINDINGS = 2

/** Judges a pass: its assessment, and the columns that follow from it. */
export function judgePass(
  arrangement: Arrangement,
  { passage, take, mode, bpm, offsetMs, strictness }: PassToJudge,
): { assessment: Assessment; columns: JudgedColumns } {
  const assessment = assessTake({ arrangement, passage, take, mode, bpm, offsetMs, strictness })
  const {
    notes,
    right,
    wrong,
    missed,
    extra,
    onTimeShare,
    offsetMs: offset,
    driftPercent,
    unsteadinessMs,
    clean,
    cleanBut,
    score,
  } = assessment.summary
  return {
    assessment,
    columns: {
      notes,
      right,
      wrong,
      missed,
      extra,
      onTimeShare,
      offsetMs: offset,
      driftPercent,
      unsteadinessMs,
      clean,
      cleanBut,
      score,
      ear: assessment.ear,
      found: assessment.findings.slice(0, SENTENCE_FINDINGS),
      failed: failedPlaces(arrangement, assessment),
    },
  }
}
