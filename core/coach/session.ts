import type { Hands } from '../music/arrangement'
import { passageClock, playedPassage } from '../music/passage'
import { median } from 'simple-statistics'
import type { SpanPlace } from '../music/stretch-place'
import { CAUTIONS } from './cautions'
import type { PastPass } from './pass'
import { passesOfDay, type SongRecord } from './record'
import type { Reason } from './reason'
import type { Review } from './reviews'
import type { Unit } from './stages'
import { daysBetween } from './days'
import {
  isReached,
  nextOfStage,
  partStagesWithin,
  progressOf,
  type NextPass,
  type PlannedStage,
  type SongPlan,
  type SongProgress,
} from './song-plan'
import { turnsNow, TURNS } from './turns'

/** The role of a piece in a day: a song being learned, a drill with a few minutes, or a warm-up. */
export const PRACTICE_ROLES = ['song', 'drill', 'warm-up'] as const
export type PracticeRole = (typeof PRACTICE_ROLES)[number]

/** A song with its record, for the plan of a day; without a role it is being learned. */
export interface SongInWork {
  songId: string
  title: string
  plan: SongPlan
  record: SongRecord
  role?: PracticeRole
}

export const ITEM_KINDS = ['warm-up', 'review', 'drill', 'stage', 'spot', 'join', 'run', 'break'] as const
export type ItemKind = (typeof ITEM_KINDS)[number]

/** The name of an item: its kind, what is practised, and where in it. */
export interface SessionItemName {
  item: ItemKind
  unit: Pick<Unit, 'kind' | 'names'>
  place?: SpanPlace
}

export interface SessionItem {
  /** The same item keeps its id when the session is planned again. */
  id: string
  kind: ItemKind
  minutes: number
  why: Reason
  songId?: string
  title?: string
  /** What to play: where, with which hands, how fast. */
  what?: NextPass
  /** What follows in the same item: the other hand, both together; after a seam its two parts back to back. */
  then?: (Hands | 'pair')[]
}

export const SESSION = {
  /** Largest shares of the time. */
  warmUpShare: 0.12,
  reviewShare: 0.3,
  drillShare: 0.2,
  warmUpMinutes: 3,
  drillMinutes: 6,
  /** Passes of a review, including the time to get ready. */
  reviewPasses: 2,
  readyMinutes: 0.3,
  /** Minutes at the keys before a break, and its length. */
  breakAfterMinutes: CAUTIONS.playedMinutes,
  breakMinutes: 3,
  /** Passes for a gate while the player's own gates are too few to tell, and the bounds of what they tell. */
  passesToGo: 8,
  fewestGates: 3,
  fewestPasses: 2,
  mostPasses: 12,
  /** Stages that the plan looks ahead. */
  ahead: 40,
  /** The shortest item, minutes. */
  leastMinutes: 1,
} as const

export interface SessionWish {
  /** Minutes available. */
  minutes: number
  nowMs: number
  /** Ids of items the player has skipped today. */
  skipped: readonly string[]
  dayOf: (ms: number) => string
}

/**
 * The session: what is due, with times and reasons. The first song is the one being learned; the others contribute
 * their reviews; warm-ups come first, and one drill has a few minutes, the one left alone longest. Planned again after
 * each item, it continues from what was played.
 */
export function planSession(all: readonly SongInWork[], wish: SessionWish): SessionItem[] {
  const { minutes, nowMs, skipped, dayOf } = wish
  const day = dayOf(nowMs)
  const todayOf = ({ record }: SongInWork) => passesOfDay(record, day, dayOf)
  const songs = all.filter(isLearned)
  const playedToday = all.some(song => todayOf(song).length > 0)
  const items: SessionItem[] = []
  let left = minutes
  const put = (item: SessionItem) => {
    if (skipped.includes(item.id) || items.some(one => one.id === item.id) || left < SESSION.leastMinutes) return false
    const length = Math.min(item.minutes, left)
    items.push({ ...item, minutes: length })
    left -= length
    return true
  }
  const main = songs[0]
  const run = main && runOf(main, todayOf(main))
  // Time is reserved for the run at the end.
  const kept = run && !skipped.includes(run.id) && run.minutes <= minutes / 3 ? run.minutes : 0
  left -= kept
  if (!playedToday)
    for (const song of [...all.filter(one => one.role === 'warm-up'), ...songs].slice(0, 1)) {
      const known = warmUpItem(song)
      if (known) put({ ...known, minutes: Math.min(SESSION.warmUpMinutes, SESSION.warmUpShare * minutes) })
    }
  const due = songs
    .flatMap(song => dueReviews(song, endOfDay(nowMs, dayOf)).map(one => ({ song, ...one })))
    .sort((a, b) => a.review.dueAtMs - b.review.dueAtMs)
  let forReviews = SESSION.reviewShare * minutes
  for (const { song, stage, review } of due) {
    const item = reviewItem(song, stage, review, nowMs, dayOf)
    if (item.minutes > forReviews) continue
    if (put(item)) forReviews -= item.minutes
  }
  const drill = drillOf(all, todayOf)
  if (drill) put({ ...drill, minutes: Math.min(SESSION.drillMinutes, SESSION.drillShare * minutes) })
  if (main) {
    const [first, ...others] =
      main.plan.settings.school === 'turns'
        ? turnsNow(main.plan, main.record.standing, todayOf(main)).map(stage => workItem(main, stage))
        : workAhead(main, todayOf(main), left)
    if (first) put(first)
    for (const song of songs) for (const lost of forgottenToday(song, day, todayOf(song), dayOf)) put(lost)
    for (const item of others) put(item)
  }
  left += kept
  if (run) put(run)
  return withBreaks(items)
}

/** Whether something is learned as a song: its reviews come back, and it may be the day's main song. */
export const isLearned = ({ role = 'song' }: Pick<SongInWork, 'role'>): boolean => role === 'song'

/**
 * Of the drills not played today the one left alone longest, with its next pass; where all of it is reached, the key
 * left alone longest.
 */
function drillOf(
  songs: readonly SongInWork[],
  todayOf: (song: SongInWork) => readonly PastPass[],
): SessionItem | undefined {
  const lastOf = ({ plan, record }: SongInWork) =>
    Math.max(0, ...plan.stages.map(stage => progressOf(record.standing, stage).lastAtMs ?? 0))
  const drill = songs
    .filter(song => song.role === 'drill' && todayOf(song).length === 0)
    .sort((a, b) => lastOf(a) - lastOf(b))[0]
  if (!drill) return undefined
  const {
    songId,
    title,
    plan,
    record: { standing },
  } = drill
  const open = turnsNow(plan, standing, [])[0]
  const oldest = [...plan.stages].sort(
    (a, b) => (progressOf(standing, a).lastAtMs ?? 0) - (progressOf(standing, b).lastAtMs ?? 0),
  )[0]
  const stage = open ?? oldest
  if (!stage) return undefined
  const what: NextPass = open
    ? nextOfStage(plan, standing, open)
    : {
        stage,
        hands: stage.hands,
        stretch: stage.unit.stretch,
        isSpot: false,
        mode: 'steady',
        bpm: Math.round(progressOf(standing, stage).reachedBpm),
        because: { kind: 'review' },
      }
  return {
    id: `drill ${songId}`,
    kind: 'drill',
    songId,
    title,
    minutes: SESSION.drillMinutes,
    why: { kind: 'drill' },
    what,
  }
}

/** Everything learned that is due by `untilMs`, with its time. */
export const dueReviews = (
  song: Pick<SongInWork, 'plan' | 'record'>,
  untilMs: number,
): { stage: PlannedStage; review: Review }[] => reviewsOf(song).filter(one => one.review.dueAtMs <= untilMs)

/** Every learned part (its last stage reached) with its review; twins once. */
export function reviewsOf({
  plan,
  record: { standing, reviews },
}: Pick<SongInWork, 'plan' | 'record'>): { stage: PlannedStage; review: Review }[] {
  const seen = new Set<string>()
  const together = new Set(
    plan.stages.flatMap(({ unit, hands }) => (unit.kind === 'part' && hands === 'both' ? [unit.first] : [])),
  )
  return plan.stages.flatMap(stage => {
    const isLast = stage.unit.kind === 'part' && (stage.hands === 'both' || !together.has(stage.unit.first))
    const review = reviews.get(stage.key)
    if (!isLast || seen.has(stage.key) || !isReached(plan, stage, standing) || !review) return []
    seen.add(stage.key)
    return [{ stage, review }]
  })
}

function endOfDay(nowMs: number, dayOf: (ms: number) => string): number {
  const hour = 3_600_000
  let at = nowMs
  while (dayOf(at + hour) === dayOf(nowMs)) at += hour
  return at + hour
}

function lengthMinutes(plan: SongPlan, stage: PlannedStage, bpm: number): number {
  const { stretch } = stage.unit
  return passageClock(plan.arrangement, playedPassage(plan.arrangement, stretch, stage.hands), bpm).lengthMs / 60_000
}

/** Reviews of today that failed: once more before the day ends, a little slower, unless played cleanly since. */
function forgottenToday(
  song: SongInWork,
  day: string,
  today: readonly PastPass[],
  dayOf: (ms: number) => string,
): SessionItem[] {
  return reviewsOf(song)
    .filter(
      ({ stage, review }) =>
        review.day === day && !review.isKept && !today.some(pass => pass.key === stage.key && pass.clean),
    )
    .map(({ stage, review }) => {
      const item = reviewItem(song, stage, review, review.lastAtMs, dayOf)
      return {
        ...item,
        id: `again ${song.songId} ${stage.key}`,
        why: { kind: 'faded-today' },
        what: { ...item.what!, bpm: Math.round(TURNS.againSlower * item.what!.bpm), because: { kind: 'faded' } },
      }
    })
}

function reviewItem(
  { songId, title, plan, record: { standing } }: SongInWork,
  stage: PlannedStage,
  review: Review,
  nowMs: number,
  dayOf: (ms: number) => string,
): SessionItem {
  const bpm = Math.round(progressOf(standing, stage).reachedBpm)
  const days = daysBetween(review.lastAtMs, nowMs, dayOf)
  return {
    id: `review ${songId} ${stage.key}`,
    kind: 'review',
    songId,
    title,
    minutes: Math.max(
      SESSION.leastMinutes,
      SESSION.reviewPasses * lengthMinutes(plan, stage, bpm) + SESSION.readyMinutes,
    ),
    why: { kind: 'review-due', days, times: review.times },
    what: {
      stage,
      hands: stage.hands,
      stretch: stage.unit.stretch,
      isSpot: false,
      mode: 'steady',
      bpm,
      because: { kind: 'review' },
    },
  }
}

function warmUpItem({ songId, title, plan, record: { standing }, role }: SongInWork): SessionItem | undefined {
  if (!plan.settings.warmUp) return undefined
  const parts = plan.stages.filter(stage => stage.unit.kind === 'part')
  const known = parts.filter(stage => progressOf(standing, stage).cleanBpm > 0)
  // A warm-up begins at its beginning.
  const stage =
    known.sort((a, b) => progressOf(standing, a).lastAtMs! - progressOf(standing, b).lastAtMs!)[0] ??
    (role === 'warm-up' ? parts[0] : undefined)
  if (!stage) return undefined
  const range = plan.ranges.get(stage.key)!
  const { cleanBpm } = progressOf(standing, stage)
  return {
    id: `warm-up ${songId}`,
    kind: 'warm-up',
    songId,
    title,
    minutes: SESSION.warmUpMinutes,
    why: { kind: 'warm-up-first' },
    what: {
      stage,
      hands: stage.hands,
      stretch: stage.unit.stretch,
      isSpot: false,
      mode: 'steady',
      bpm: cleanBpm > 0 ? Math.min(range.steps[range.start]!, Math.round(cleanBpm)) : range.steps[range.start]!,
      because: { kind: 'warm-up' },
    },
  }
}

function workItem({ songId, title, plan, record: { standing } }: SongInWork, stage: PlannedStage): SessionItem {
  const what = nextOfStage(plan, standing, stage)
  const progress = progressOf(standing, stage)
  const kind = what.isSpot ? 'spot' : stage.unit.kind === 'part' ? 'stage' : 'join'
  const why: Reason =
    !what.isSpot && progress.passes === 0
      ? { kind: stage.unit.kind === 'part' ? 'new' : 'parts-ready', then: what.because }
      : what.because
  return {
    id: `${kind === 'join' ? 'join' : 'stage'} ${songId} ${stage.key}`,
    kind,
    songId,
    title,
    minutes: TURNS.mostMinutes,
    why,
    what,
  }
}

/**
 * What comes in the order of practice within the minutes: each stage as if the ones before it were reached, in as many
 * passes as the player's gates have taken so far. The hands of a part are one item.
 */
function workAhead(song: SongInWork, today: readonly PastPass[], minutes: number): SessionItem[] {
  const { plan, record } = song
  const items: SessionItem[] = []
  const passes = passesToGo(plan, record.standing)
  let { standing } = record
  let left = minutes
  for (let count = 0; count < SESSION.ahead && left > 0; count++) {
    const stage = turnsNow(plan, standing, count === 0 ? today : [])[0]
    if (!stage) break
    const what = nextOfStage(plan, standing, stage)
    const goes = Math.max(
      SESSION.leastMinutes,
      passes * (lengthMinutes(plan, stage, what.bpm) + COUNT_IN_SHARE * SESSION.readyMinutes),
    )
    const last = items.at(-1)
    const before = last?.what?.stage.unit
    const isSamePlace = before && before.first === stage.unit.first && before.last === stage.unit.last
    if (
      last &&
      isSamePlace &&
      (stage.unit.kind === before.kind || (before.kind === 'seam' && stage.unit.kind === 'pair'))
    ) {
      last.then = [...(last.then ?? []), stage.unit.kind === 'pair' ? 'pair' : stage.hands]
      last.minutes += goes
    } else items.push({ ...workItem(song, stage), minutes: goes })
    left -= goes
    standing = asReached(standing, stage)
  }
  return items
}

/** Getting ready between passes of one loop, as a share of getting ready for something else. */
const COUNT_IN_SHARE = 0.5

const asReached = (standing: SongProgress, { key, targetBpm, share }: PlannedStage): SongProgress => ({
  ...standing,
  stages: new Map(standing.stages).set(key, {
    ...standing.stages.get(key)!,
    reachedBpm: Math.max(standing.stages.get(key)!.reachedBpm, share * targetBpm),
    passes: 1,
  }),
})

/** Median passes that a gate has taken this player in this song. */
function passesToGo(plan: SongPlan, standing: SongProgress): number {
  const taken = [...plan.ranges.keys()]
    .flatMap(key => standing.stages.get(key)!.gates.map(gate => gate.passes))
    .filter(passes => passes > 0)
  return taken.length < SESSION.fewestGates
    ? SESSION.passesToGo
    : Math.min(SESSION.mostPasses, Math.max(SESSION.fewestPasses, median(taken)))
}

/** One run of the longest unit whose parts are all learned, at a safe tempo. */
function runOf(
  { songId, title, plan, record: { standing } }: SongInWork,
  today: readonly PastPass[],
): SessionItem | undefined {
  const learned = (place: number) =>
    plan.stages
      .filter(stage => stage.unit.kind === 'part' && stage.unit.first === place && stage.unit.last === place)
      .every(stage => isReached(plan, stage, standing))
  const stage = plan.stages
    .filter(
      one =>
        (one.unit.kind === 'song' || one.unit.kind === 'chain' || one.unit.kind === 'pair') &&
        Array.from({ length: one.unit.last - one.unit.first + 1 }, (_, index) => one.unit.first + index).every(learned),
    )
    .sort((a, b) => b.unit.last - b.unit.first - (a.unit.last - a.unit.first))[0]
  if (!stage || today.some(pass => pass.key === stage.key)) return undefined
  // In these orders, parts are joined first.
  if (plan.settings.school !== 'turns' && progressOf(standing, stage).reachedBpm === 0) return undefined
  const next = nextOfStage(plan, standing, stage)
  const bpm = Math.min(next.isSpot ? next.stage.targetBpm : next.bpm, safeBpm(plan, standing, stage))
  return {
    id: `run ${songId} ${stage.key}`,
    kind: 'run',
    songId,
    title,
    minutes: Math.max(SESSION.leastMinutes, lengthMinutes(plan, stage, bpm) + SESSION.readyMinutes),
    why: { kind: 'run-at-last' },
    what: { ...next, isSpot: false, mode: 'steady', stretch: stage.unit.stretch, bpm, because: { kind: 'run' } },
  }
}

/** The fastest tempo reached for the whole run, or by all its parts alone. */
function safeBpm(plan: SongPlan, standing: SongProgress, run: PlannedStage): number {
  const ready = partStagesWithin(plan, run.unit).map(part => progressOf(standing, part).reachedBpm / part.targetBpm)
  return Math.round(Math.max(progressOf(standing, run).reachedBpm, Math.min(...ready) * run.targetBpm))
}

function withBreaks(items: readonly SessionItem[]): SessionItem[] {
  const planned: SessionItem[] = []
  let played = 0
  for (const item of items) {
    if (played + item.minutes > SESSION.breakAfterMinutes && played > 0) {
      planned.push({
        id: `break ${planned.length}`,
        kind: 'break',
        minutes: SESSION.breakMinutes,
        why: { kind: 'break' },
      })
      played = 0
    }
    planned.push(item)
    played += item.minutes
  }
  return planned
}
