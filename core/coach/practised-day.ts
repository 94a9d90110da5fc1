import { barAt } from '../music/arrangement'
import { barLength } from '../music/meter'
import { toDecimal } from '../music/quarters'
import { notesKey } from '../parts/notes-key'
import type { PastPass } from './pass'
import { afterPasses, passesOfDay } from './record'
import { planSession, type SongInWork } from './session'
import type { NextPass } from './song-plan'
import { nextInTurn } from './turns'

/** The outcome of a pass that was asked for. */
export type PassOutcome = Pick<PastPass, 'clean' | 'right' | 'notes' | 'failed' | 'lengthMs'>

/** Plays what the coach asks for: in which song, and when, ms since 1970. */
export type PlayAsAsked = (next: NextPass, song: SongInWork, atMs: number) => PassOutcome

/** A pass as asked for and played. */
export interface PractisedPass extends NextPass {
  song: SongInWork
  isReview: boolean
  isWarmUp: boolean
  /** The pass as remembered. */
  past: PastPass
}

export interface PracticeDay {
  /** When the playing begins, ms since 1970. */
  startMs: number
  /** Minutes of practice; undefined: until everything is reached. */
  minutes?: number
  /** A day without warm-up and reviews. */
  isFirst?: boolean
  dayOf: (ms: number) => string
}

/** The pause between passes: a breath, longer before something else. */
const PAUSE_MS = { same: 1000, other: 4000 } as const
/** Minutes that a day is planned for where no time is set. */
const USUAL_MINUTES = 60

/**
 * A day of practice by somebody who follows the coach pass by pass: the warm-up and the reviews as planned, then
 * whatever comes next in the first song, until everything is reached or the time is over. Gives the songs afterwards,
 * the day's length in ms, and whether everything is reached. Pure: the caller has the clock.
 */
export function* practisedDay(
  inWork: readonly SongInWork[],
  play: PlayAsAsked,
  { startMs, minutes, isFirst, dayOf }: PracticeDay,
): Generator<PractisedPass, { songs: SongInWork[]; lastedMs: number; isDone: boolean }, void> {
  const songs = [...inWork]
  let lastedMs = 0
  let before: NextPass | undefined
  const played = function* (
    place: number,
    next: NextPass,
    own: { isReview?: boolean; isWarmUp?: boolean } = {},
  ): Generator<PractisedPass, void, void> {
    const song = songs[place]!
    const { arrangement } = song.plan
    const isSame = before !== undefined && before.stage.key === next.stage.key && before.hands === next.hands
    lastedMs +=
      (isSame ? PAUSE_MS.same : PAUSE_MS.other) +
      (next.mode === 'own-time'
        ? 0
        : (toDecimal(barLength(barAt(arrangement, next.stretch.from).meter)) * 60_000) / next.bpm)
    const atMs = startMs + lastedMs
    const outcome = play(next, song, atMs)
    const past: PastPass = {
      ...outcome,
      key: notesKey(arrangement, next.stretch, next.hands),
      stretch: next.stretch,
      hands: next.hands,
      mode: next.mode,
      bpm: next.bpm,
      atMs,
    }
    lastedMs += outcome.lengthMs
    songs[place] = { ...song, record: afterPasses(song.plan, song.record, [past], dayOf) }
    before = next
    yield { ...next, song, isReview: false, isWarmUp: false, past, ...own }
  }
  if (!isFirst) {
    for (const item of planSession(songs, { minutes: minutes ?? USUAL_MINUTES, nowMs: startMs, skipped: [], dayOf })) {
      if (!item.what || (item.kind !== 'warm-up' && item.kind !== 'review')) continue
      yield* played(
        songs.findIndex(song => song.songId === item.songId),
        item.what,
        item.kind === 'review' ? { isReview: true } : { isWarmUp: true },
      )
    }
  }
  while (minutes === undefined || lastedMs < minutes * 60_000) {
    const { plan, record } = songs[0]!
    const next = nextInTurn(plan, record.standing, passesOfDay(record, dayOf(startMs), dayOf))
    if (!next) return { songs, lastedMs, isDone: true }
    yield* played(0, next)
  }
  return { songs, lastedMs, isDone: false }
}
