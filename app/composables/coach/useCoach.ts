import type { EndedPass } from '../stand/practised'
import { computed, ref, shallowRef } from 'vue'
import { cautionsFor, type Caution } from '#core/coach/cautions'
import { daysIn } from '#core/coach/days'
import { restoredRecord, type StoredRecord } from '#core/coach/record'
import type { PastPass } from '#core/coach/pass'
import {
  afterSongPass,
  nextOfStage,
  type NextPass,
  type PlannedStage,
  type SongPlan,
  type SongProgress,
} from '#core/coach/song-plan'
import { nextInTurn, unlockedStages, turnOf } from '#core/coach/turns'
import type { CoachSettings } from '#core/coach/settings'
import type { CoachPart } from '#core/coach/stages'
import type { Arrangement } from '#core/music/arrangement'
import { notesKey } from '#core/parts/notes-key'
import { useJudge, type Judge } from '../stand/useJudge'
import { askServer } from '~/utils/ui/askServer'

/** What the server knows of a song for the coach. */
export interface CoachAnswer {
  arrangementId: string
  parts: CoachPart[]
  settings: CoachSettings
  targetShare: number
  newestDay: PastPass[]
  stages: StoredRecord['stages']
  shown: StoredRecord['shown']
  changes: StoredRecord['changes']
}

/** A pass that has just ended, as the coach counts it. */
export function pastPass(
  arrangement: Arrangement,
  { stretch, hands, mode, bpm, strictness, assessment, failed, lengthMs, endedAt }: EndedPass,
  isOwnSpot = false,
): PastPass {
  const { clean, cleanBut, right, notes } = assessment.summary
  return {
    key: notesKey(arrangement, stretch, hands),
    stretch,
    hands,
    mode: mode === 'own-time' ? mode : 'steady',
    bpm,
    clean,
    cleanBut,
    strictness,
    right,
    notes,
    failed,
    atMs: endedAt.getTime() - lengthMs,
    lengthMs,
    ...(isOwnSpot ? { isOwnSpot } : {}),
  }
}

/**
 * The coach at the player's side: knows where the player stands, hears each new one at once, and says what comes next.
 */
export function useCoach(
  songId: string,
  arrangement: Arrangement,
  isAt: (stage: PlannedStage) => boolean,
  {
    judge = useJudge(arrangement) as Pick<Judge, 'plan'>,
    request = askServer,
    waiting = async () => [] as readonly PastPass[],
    nowMs = () => Date.now(),
    timeZone = Intl.DateTimeFormat().resolvedOptions().timeZone,
  } = {},
) {
  const plan = shallowRef<SongPlan>()
  const standing = shallowRef<SongProgress>({ stages: new Map(), shown: new Map() })
  const passes = shallowRef<readonly PastPass[]>([])
  const cautions = shallowRef<readonly Caution[]>([])
  const dayOf = daysIn(timeZone)
  const today = computed(() => passes.value.filter(pass => dayOf(pass.atMs) === dayOf(nowMs())))
  /** Passes heard on this page: before the first one, what the player has chosen comes next. */
  const heard = ref(0)
  const next = computed<NextPass | undefined>(() => {
    if (!plan.value) return undefined
    const chosen = heard.value === 0 ? unlockedStages(plan.value, standing.value).find(isAt) : undefined
    return chosen
      ? nextOfStage(plan.value, standing.value, chosen)
      : nextInTurn(plan.value, standing.value, today.value)
  })

  /** How long the thing that is played has had its turn. */
  const turn = computed(() => plan.value && turnOf(plan.value, standing.value, plan.value.goals, today.value))

  /** Without the server's answer (a lost connection) practice continues without the coach. */
  async function load() {
    const answer = await request<CoachAnswer>(`/api/songs/${songId}/coach`).catch(() => undefined)
    if (!answer) return
    const { record, changes } = restoredRecord({ ...answer, reviews: [], days: [] })
    const made = await judge.plan({
      parts: answer.parts,
      settings: answer.settings,
      targetShare: answer.targetShare,
      changes,
    })
    // What was played while the answer was on its way; and what still waits for the server, from before this page was
    // opened.
    const known = new Set([...answer.newestDay, ...passes.value].map(pass => `${pass.key} ${pass.atMs}`))
    const early = [...(await waiting()).filter(pass => !known.has(`${pass.key} ${pass.atMs}`)), ...passes.value]
    passes.value = [...answer.newestDay, ...early]
    standing.value = early.reduce<SongProgress>((before, pass) => afterSongPass(made, before, pass), record.standing)
    plan.value = made
  }

  /** What was played freely counts at the tempo that it had. */
  function hear(ended: EndedPass, isOwnSpot = false) {
    const { endedAt } = ended
    const pass = pastPass(arrangement, ended, isOwnSpot)
    passes.value = [...passes.value, pass]
    heard.value++
    if (plan.value) standing.value = afterSongPass(plan.value, standing.value, pass)
    cautions.value = cautionsFor(today.value, endedAt.getTime())
  }

  return { plan, standing, next, turn, today, cautions, load, hear }
}
