import { bisector } from 'd3-array'
import type { ExpectedNote } from '../music/passage'
import { createFollower } from './follow'
import { groupScoreEvents, type ScoreEvent } from './score-events'
import { DEFAULT_EAR, matchWindowMs, wrongWindowMs, type EarParameters } from './parameters'

/** A mark at a written note, provisional until its round has ended. */
export interface LiveMark {
  round: number
  /** Index into the round's expected notes. */
  index: number
  outcome: 'right' | 'wrong' | 'missed'
  playedPitch: number | null
  deviationMs: number | null
}

/** One time through the loop: its notes are due at `startMs + onsetMs`. */
export interface Round {
  round: number
  startMs: number
  expected: readonly ExpectedNote[]
  beatMs: number
}

export interface LiveEar {
  addRound: (round: Round) => void
  /** Judges one struck key at once; returns the marks that change. */
  hear: (pitch: number, atMs: number) => LiveMark[]
  /** Marks notes as missed that can no longer come at `nowMs`. */
  expireMissed: (nowMs: number) => LiveMark[]
  /** The round of each struck key, in the order heard: its note's, or by time for an extra one. */
  roundOf: (stroke: number) => number
}

interface Due {
  round: number
  index: number
  pitch: number
  atMs: number
  beatMs: number
  outcome?: LiveMark['outcome']
  stroke?: number
}

/** A round with the follower that tracks the player in it. */
interface Followed extends Round {
  follower: ReturnType<typeof createFollower>
  events: ScoreEvent[]
  own: Due[]
  lastStrokeMs: number
}

/**
 * A judge that follows the rounds of a loop on one time line and decides on each key when it is struck: by the clock,
 * or, when the player has stopped and started again, by the place that the follower believes in. The work for a key
 * depends on how many notes are due around it, not on how much was played before. An early first note of the next round
 * is recognised, because the rounds lie on one line.
 */
export function createLiveEar(ear: EarParameters = DEFAULT_EAR): LiveEar {
  const due: Due[] = []
  const rounds: Followed[] = []
  const strokes: { pitch: number; atMs: number; round: number }[] = []
  let settled = 0
  /** The newest strokes given provisionally to the finished round although they also fit the current one. */
  let provisionalStrokes: { stroke: number; note: Due; instead: Due }[] = []

  const mark = (note: Due, awayMs = 0): LiveMark => {
    const stroke = note.stroke === undefined ? undefined : strokes[note.stroke]!
    return {
      round: note.round,
      index: note.index,
      outcome: note.outcome!,
      playedPitch: stroke?.pitch ?? null,
      deviationMs: stroke ? stroke.atMs - awayMs - note.atMs : null,
    }
  }

  const around = (atMs: number, windowMs: number) => {
    const found: Due[] = []
    for (let at = dueBy.left(due, atMs - windowMs); at < due.length && due[at]!.atMs <= atMs + windowMs; at++)
      found.push(due[at]!)
    return found
  }

  /** How far behind the click the player continues after a stop; 0 for one who is with it. */
  const awayMs = ({ follower, events, beatMs, lastStrokeMs }: Followed): number => {
    const place = follower.place()
    const behindMs = place < 0 ? 0 : lastStrokeMs - events[place]!.atMs
    return Math.abs(behindMs) > ear.live.awayBeats * beatMs ? behindMs : 0
  }

  const isGoingOn = ({ follower, beatMs, lastStrokeMs }: Followed, atMs: number): boolean =>
    follower.place() >= 0 && atMs - lastStrokeMs <= MAX_SILENT_BEATS * beatMs

  /**
   * The next note of a player who is still finishing a round: among the next few after the place reached, without a
   * stop.
   */
  const goingOn = (round: Followed, pitch: number, atMs: number): Due | undefined => {
    if (!isGoingOn(round, atMs)) return undefined
    const { follower, events, own } = round
    const place = follower.place()
    for (const event of events.slice(place, place + EVENTS_AHEAD + 1)) {
      const found = event.notes.map(note => own[note]!).find(note => note.pitch === pitch && note.outcome !== 'right')
      if (found) return found
    }
    return undefined
  }

  const follow = (round: Followed | undefined, pitch: number, atMs: number) => {
    if (!round) return
    round.follower.advance(pitch, atMs)
    round.lastStrokeMs = atMs
  }

  /** Moves a stroke from the finished round to the current one. */
  const reassign = ({ stroke, note, instead }: (typeof provisionalStrokes)[number]): LiveMark[] => {
    if (instead.outcome !== undefined) return []
    const { pitch, atMs } = strokes[stroke]!
    Object.assign(note, { outcome: 'missed', stroke: undefined })
    Object.assign(instead, { outcome: 'right', stroke })
    strokes[stroke]!.round = instead.round
    follow(
      rounds.find(({ round }) => round === instead.round),
      pitch,
      atMs,
    )
    return [mark(note), mark(instead)]
  }

  return {
    addRound(round) {
      const events = groupScoreEvents(round.expected).map(event => ({ ...event, atMs: event.atMs + round.startMs }))
      const own = round.expected.map((note, index): Due => ({
        round: round.round,
        index,
        pitch: note.pitch,
        atMs: round.startMs + note.onsetMs,
        beatMs: round.beatMs,
      }))
      rounds.push({
        ...round,
        follower: createFollower({ events, steady: true, beatMs: round.beatMs, following: ear.following }),
        events,
        own,
        lastStrokeMs: 0,
      })
      if (rounds.length > MAX_ROUNDS) rounds.shift()
      due.push(...own)
    },

    hear(pitch, atMs) {
      const stroke = strokes.length
      const now = roundAt(rounds, atMs)
      strokes.push({ pitch, atMs, round: now?.round ?? 0 })
      if (!now) return []
      const claim = (note: Due, outcome: 'right' | 'wrong', away = 0) => {
        note.outcome = outcome
        note.stroke = stroke
        strokes[stroke]!.round = note.round
        follow(
          rounds.find(round => round.round === note.round),
          pitch,
          atMs,
        )
        return [mark(note, away)]
      }
      const near = (candidates: Due[], cost: (note: Due) => number) =>
        candidates.reduce<Due | undefined>((best, note) => (!best || cost(note) < cost(best) ? note : best), undefined)
      const sameKey = (atMs_: number, isOpen: (note: Due) => boolean) =>
        near(
          around(atMs_, matchWindowMs(ear, now.beatMs)).filter(note => note.pitch === pitch && isOpen(note)),
          note => Math.abs(note.atMs - atMs_),
        )
      // A player who fell behind in the previous round may still be finishing it.
      const before = rounds.find(round => round.round === now.round - 1)
      const behind = before ? awayMs(before) : 0
      const onward = before && behind > 0 ? goingOn(before, pitch, atMs) : undefined
      if (onward) {
        const instead = sameKey(atMs, note => note.round === now.round && note.outcome === undefined)
        provisionalStrokes = instead ? [...provisionalStrokes, { stroke, note: onward, instead }] : []
        return claim(onward, 'right', atMs - onward.atMs)
      }
      if (
        before &&
        behind > 0 &&
        !around(atMs, wrongWindowMs(ear, now.beatMs)).some(note => note.pitch === pitch && note.round === now.round)
      ) {
        const tail = sameKey(atMs - behind, note => note.round === before.round && note.outcome !== 'right')
        if (tail) return claim(tail, 'right', behind)
      }
      const away = awayMs(now)
      // A player who is with the click left the previous round a few keys ago, when it could not be known yet.
      const isWithClick =
        away === 0 &&
        around(atMs, wrongWindowMs(ear, now.beatMs)).some(
          note => note.pitch === pitch && note.round === now.round && note.outcome === undefined,
        )
      const back = isWithClick ? provisionalStrokes.flatMap(reassign) : []
      provisionalStrokes = []
      // After a jump back, a note already played is played again.
      const again = away === 0 ? undefined : sameKey(atMs - away, note => note.round === now.round)
      if (again) return claim(again, 'right', away)
      // A note already taken by a wrong key may still be put right by its own key.
      const same = sameKey(atMs, note => note.outcome !== 'right')
      if (same) return [...back, ...claim(same, 'right')]
      // A slip while still finishing the previous round.
      if (
        before &&
        behind > 0 &&
        strokes[stroke - 1]?.round === before.round &&
        before.follower.place() < before.events.length - 1 &&
        isGoingOn(before, atMs)
      ) {
        strokes[stroke]!.round = before.round
        follow(before, pitch, atMs)
        return []
      }
      const windowMs = wrongWindowMs(ear, now.beatMs)
      const other = near(
        around(atMs, windowMs).filter(note => note.outcome === undefined),
        note => Math.abs(note.atMs - atMs) / windowMs + keyDistance(note.pitch - pitch),
      )
      if (other) return claim(other, 'wrong')
      follow(now, pitch, atMs)
      return []
    },

    expireMissed(nowMs) {
      const marks: LiveMark[] = []
      while (settled < due.length) {
        const note = due[settled]!
        if (note.atMs + matchWindowMs(ear, note.beatMs) > nowMs) break
        if (note.outcome === undefined) {
          note.outcome = 'missed'
          marks.push(mark(note))
        }
        settled++
      }
      return marks
    },

    roundOf: stroke => strokes[stroke]!.round,
  }
}

/**
 * After this many silent beats the player has stopped; and how many events ahead of the place reached are considered.
 */
const MAX_SILENT_BEATS = 3
const EVENTS_AHEAD = 2

/** Rounds kept: the current one, the one before and the next. */
const MAX_ROUNDS = 3

/** How unlikely one key was meant for another: near keys are slips, an octave is a near miss. */
function keyDistance(semitones: number): number {
  const far = Math.abs(semitones)
  return far > 0 && far % 12 === 0 ? 2 / 12 : Math.min(12, far) / 12
}

/** The round at a time: a quarter of a beat before a round begins already belongs to it. */
function roundAt(rounds: readonly Followed[], atMs: number): Followed | undefined {
  return rounds.findLast(round => round.startMs - round.beatMs / 4 <= atMs) ?? rounds[0]
}

const dueBy = bisector((note: Due) => note.atMs)
