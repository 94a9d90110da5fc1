import { planSession, type SongInWork } from '#core/coach/session'
import { momentPlaces, type PastPass } from '#core/coach/pass'
import { afterPasses, passesOfDay, startRecord } from '#core/coach/record'
import type { NextPass, SongPlan } from '#core/coach/song-plan'
import { nextInTurn } from '#core/coach/turns'
import { barAt, type Arrangement } from '#core/music/arrangement'
import { barLength } from '#core/music/meter'
import { notesWithin, passageClock, playedPassage } from '#core/music/passage'
import { toDecimal } from '#core/music/quarters'
import { notesKey } from '#core/parts/notes-key'
import { createLearner, LEARNERS, rememberedGrounds } from '#core/players/learner'

/** How somebody plays what the coach asks for. */
export type PassOutcome = Pick<PastPass, 'clean' | 'right' | 'notes' | 'failed' | 'lengthMs'>
export interface Practiser {
  play: (next: NextPass) => PassOutcome
  /** Sleeps until the next day. */
  sleep: () => void
}

/**
 * Who practises: `flawless` makes no mistake; `slips` plays one wrong note in the first pass of each stage; the others are simulated learners, whose numbers
 * are invented.
 */
export type PractiserName = 'flawless' | 'slips' | keyof typeof LEARNERS
export const PRACTISERS = ['flawless', 'slips', ...Object.keys(LEARNERS)] as PractiserName[]

export function createPractiser(arrangement: Arrangement, name: PractiserName, seed = 1): Practiser {
  if (name !== 'flawless' && name !== 'slips') return learning(arrangement, name, seed)
  const begun = new Set<string>()
  return {
    sleep: () => {},
    play(next) {
      const { stage: { unit }, stretch, hands } = next
      const stage = `${unit.kind} ${unit.first} ${unit.last} ${hands}`
      const notes = notesWithin(arrangement, stretch).filter(note => hands === 'both' || note.hand === hands).length
      const places = momentPlaces(arrangement, stretch, hands)
      const slips = name === 'slips' && !begun.has(stage) && places.length > 0
      begun.add(stage)
      return { clean: !slips, right: notes - (slips ? 1 : 0), notes, failed: slips ? [places[Math.floor(places.length / 2)]!] : [], lengthMs: lengthOf(arrangement, next) }
    },
  }
}

function learning(arrangement: Arrangement, name: keyof typeof LEARNERS, seed: number): Practiser {
  const learner = createLearner(LEARNERS[name], seed)
  const groundOf = rememberedGrounds(arrangement)
  return {
    sleep: () => learner.sleep(),
    play: ({ stretch, hands, mode, bpm }) => learner.play(groundOf(stretch, hands), mode === 'own-time' ? undefined : bpm),
  }
}

const lengthOf = (arrangement: Arrangement, { stretch, hands, bpm }: NextPass): number => passageClock(arrangement, playedPassage(arrangement, stretch, hands), bpm).lengthMs

/** A pass as it was asked for and played. */
export interface PractisedPass extends NextPass {
  /** The day of practice, from 0, and minutes of practice since the very beginning, count-ins and pauses among them. */
  day: number
  atMinutes: number
  isReview: boolean
  isWarmUp: boolean
  /** The pass as it is remembered. */
  past: PastPass
}

export interface PracticeWish {
  /** Minutes a day; undefined: as long as it takes. */
  minutes?: number
  /** Days at most. */
  days: number
  /** Passes at most, in all. */
  mostPasses: number
}

/** From a pass to the next one: a breath, longer where something else comes. */
const PAUSE_MS = { same: 1000, other: 4000 } as const
const DAY_MS = 86_400_000
/** The first day of practice, ms since 1970: any will do. */
const FIRST_DAY = 20_000

/**
 * What somebody plays who does as the coach says, pass by pass: each day the warm-up and what comes back, as the day's plan has them, then whatever comes
 * next; until everything is reached or the days are over.
 */
export function* practise(plan: SongPlan, practiser: Practiser, { minutes, days, mostPasses }: PracticeWish): Generator<PractisedPass, void, void> {
  const { arrangement } = plan
  const dayOf = (ms: number) => String(Math.floor(ms / DAY_MS))
  let record = startRecord(plan)
  let [count, before, earlierMs] = [0, undefined as NextPass | undefined, 0]
  for (let day = 0; day < days && count < mostPasses; day++) {
    const dayMs = (FIRST_DAY + day) * DAY_MS
    let ms = 0
    const played = function* (next: NextPass, own: Partial<PractisedPass> = {}): Generator<PractisedPass, void, void> {
      const isSame = before !== undefined && before.stage.key === next.stage.key && before.hands === next.hands
      ms += (isSame ? PAUSE_MS.same : PAUSE_MS.other) + (next.mode === 'own-time' ? 0 : toDecimal(barLength(barAt(arrangement, next.stretch.from).meter)) * 60_000 / next.bpm)
      const outcome = practiser.play(next)
      const pass: PastPass = { ...outcome, key: notesKey(arrangement, next.stretch, next.hands), stretch: next.stretch, hands: next.hands, mode: next.mode, bpm: next.bpm, atMs: dayMs + ms }
      const atMinutes = (earlierMs + ms) / 60_000
      ms += outcome.lengthMs
      record = afterPasses(plan, record, [pass], dayOf)
      before = next
      count++
      yield { ...next, day, atMinutes, isReview: false, isWarmUp: false, past: pass, ...own }
    }
    const today = () => passesOfDay(record, dayOf(dayMs), dayOf)
    if (day > 0) {
      const song: SongInWork = { songId: 'song', title: '', plan, record }
      for (const item of planSession([song], { minutes: minutes ?? 60, nowMs: dayMs, skipped: [], dayOf })) {
        if (!item.what || (item.kind !== 'warm-up' && item.kind !== 'review')) continue
        yield* played(item.what, item.kind === 'review' ? { isReview: true } : { isWarmUp: true })
      }
    }
    while (count < mostPasses && (minutes === undefined || ms < minutes * 60_000)) {
      const next = nextInTurn(plan, record.standing, today())
      if (!next) return
      yield* played(next)
    }
    earlierMs += ms
    practiser.sleep()
  }
}
