import { repeatJumpsOf } from '../ear/repeat-jumps'
import { bisector } from 'd3-array'
import { createFollower } from '../ear/follow'
import { groupScoreEvents } from '../ear/score-events'
import { DEFAULT_EAR } from '../ear/parameters'
import type { Take } from '../ear/take'
import type { Bar } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import type { SoundEvent } from '../sound/performance'
import { PlayerTempoFilter } from './tempo-belief'

export interface Conducting {
  /** What the player plays: the notes of a passage, sorted by due time, and its bars. */
  expected: readonly ExpectedNote[]
  bars: readonly Bar[]
  /** What accompanies, on the clock of `expected`, in order of time. */
  accompaniment: readonly SoundEvent[]
  /** A beat, ms in score time. */
  beatMs: number
  /** Whether the player was told the tempo, or takes one of their own. */
  isTempoTold: boolean
  /**
   * When time 0 of the score would be if nothing were heard: what comes before the player's first note begins with it.
   */
  beginMs?: number
}

/** Something that is to be done: a note begins, or ends. `key` tells which beginning an end belongs to. */
export interface Cue {
  kind: 'on' | 'off'
  key: number
  event: SoundEvent
  atMs: number
}

/**
 * An accompanist accepts a jump back sooner than a judge: a pause counts earlier, and a restart after it costs less.
 */
const FOLLOWING = { ...DEFAULT_EAR.following, pauseBeats: 1.2, jumpAfterPause: 6 }

/** Moments nearer than this are one, score ms. */
const SAME_MS = 1
/**
 * An event this little before the player's arrival still sounds, take ms and score beats; earlier ones are left out
 * unless they are sustained.
 */
const STILL_MS = 110
const STILL_BEATS = 0.3
/** A note is held over a hesitation for no longer than this beyond its time, ms. */
const MAX_HELD_MS = 4_000

/**
 * Goes with a player: what accompanies sounds where they are believed to be. What coincides with a note of theirs
 * sounds when they strike it, never before; what lies between two of their notes sounds at their tempo; when they
 * hesitate it waits before their next note, and where they take up again it takes up again. So it can never run away.
 * After the accompaniment systems of Dannenberg (1984, ICMC) and Raphael (Music Plus One), unchecked.
 */
export class Conductor {
  private readonly events
  private readonly follower
  private readonly tempo: PlayerTempoFilter
  /** The moment that was struck last; -1 before the first. */
  private reached = -1
  private struckMs = -Infinity
  /** The next event of the accompaniment that has not begun, and what sounds: by when it ends in score ms. */
  private next = 0
  private readonly sounding = new Map<number, { event: SoundEvent; endScoreMs: number; lastMs: number }>()
  /** What still sounds though the player was faster. */
  private overdue: number[] = []
  /** Sounds to be let go at once: the player is elsewhere. */
  private letGo: Cue[] = []

  constructor(private readonly request: Conducting) {
    const { expected, bars, beatMs } = request
    this.events = groupScoreEvents(expected)
    this.follower =
      this.events.length === 0
        ? undefined
        : createFollower({
            events: this.events,
            turns: repeatJumpsOf(this.events, expected, bars),
            steady: false,
            beatMs,
            following: FOLLOWING,
          })
    this.tempo = new PlayerTempoFilter(request.beginMs ?? 0, request.isTempoTold)
  }

  /** The player strikes a key. Keys come in order of time. */
  hear(pitch: number, atMs: number): void {
    if (!this.follower) return
    this.follower.advance(pitch, atMs)
    const { kind } = this.follower.newest()
    // Where the player is believed to be now: a straggler of a moment that is over leaves them where they are, and a
    // jump may be understood some strokes after it.
    const event = this.follower.place()
    if (event < 0 || kind === 'extra' || event === this.reached || !this.isMain(event, pitch, kind)) return
    const scoreMs = this.events[event]!.atMs
    const isOn = event > this.reached
    if (isOn) this.tempo.struck(scoreMs, atMs)
    else this.tempo.takenUp(scoreMs, atMs)
    this.reached = event
    this.struckMs = atMs
    if (isOn) this.catchUp(scoreMs)
    else this.turnTo(scoreMs, atMs)
  }

  /**
   * What is to be done next, and when, as it is believed now; undefined while it waits for the player, and at the end.
   */
  get upcoming(): Cue | undefined {
    const [first] = this.letGo
    if (first) return first
    const cues: Cue[] = []
    const [late] = this.overdue
    if (late !== undefined)
      cues.push({ kind: 'on', key: late, event: this.request.accompaniment[late]!, atMs: this.struckMs })
    else {
      const event = this.request.accompaniment[this.next]
      const atMs = event && this.whenOn(event.atMs)
      if (event && atMs !== undefined) cues.push({ kind: 'on', key: this.next, event, atMs })
    }
    for (const [key, { event, endScoreMs, lastMs }] of this.sounding) {
      const when = endScoreMs < this.barrierMs - SAME_MS ? this.tempo.when(endScoreMs) : Infinity
      cues.push({ kind: 'off', key, event, atMs: Math.min(lastMs, Math.max(this.struckMs, when)) })
    }
    cues.sort((a, b) => a.atMs - b.atMs || (a.kind === 'off' ? -1 : 1))
    return cues[0]
  }

  /** Done: what was upcoming has been given to whatever makes it sound. */
  done(cue: Cue): void {
    if (this.letGo.includes(cue)) {
      this.letGo = this.letGo.filter(one => one !== cue)
      return
    }
    if (cue.kind === 'off') return void this.sounding.delete(cue.key)
    if (this.overdue[0] === cue.key) this.overdue.shift()
    else this.next = cue.key + 1
    const endScoreMs = cue.event.atMs + cue.event.lengthMs
    this.sounding.set(cue.key, {
      event: cue.event,
      endScoreMs,
      lastMs: cue.atMs + cue.event.lengthMs * this.tempo.belief.ratio + MAX_HELD_MS,
    })
  }

  /** Where the player is believed to be at a moment, score ms: not beyond what they have still to strike. */
  placeAt(atMs: number): number {
    const { scoreMs, takeMs, ratio } = this.tempo.belief
    return Math.min(this.barrierMs, scoreMs + (atMs - takeMs) / ratio)
  }

  /** The next moment that the player has to strike, score ms. */
  private get barrierMs(): number {
    return this.events[this.reached + 1]?.atMs ?? Infinity
  }

  private whenOn(scoreMs: number): number | undefined {
    if (this.reached >= 0 && Math.abs(scoreMs - this.events[this.reached]!.atMs) <= SAME_MS) return this.struckMs
    if (scoreMs > this.barrierMs - SAME_MS) return undefined
    return Math.max(this.struckMs, this.tempo.when(scoreMs))
  }

  /** Whether a stroke is of the moment itself: a grace note only leads to it. */
  private isMain(event: number, pitch: number, kind: string): boolean {
    if (kind === 'wrong') return true
    const own = this.events[event]!.notes.map(index => this.request.expected[index]!).filter(
      note => note.pitch === pitch,
    )
    return own.length === 0 || own.some(note => !note.grace)
  }

  /**
   * The player has arrived before some of what leads there: its newest event still sounds, and so does what is
   * sustained beyond the place.
   */
  private catchUp(scoreMs: number): void {
    const { accompaniment, beatMs } = this.request
    for (; this.next < accompaniment.length && accompaniment[this.next]!.atMs < scoreMs - SAME_MS; this.next++) {
      const event = accompaniment[this.next]!
      const behindMs = scoreMs - event.atMs
      const isNear = behindMs <= STILL_BEATS * beatMs && behindMs * this.tempo.belief.ratio <= STILL_MS
      const goesOn = event.atMs + event.lengthMs > scoreMs + 0.5 * beatMs && behindMs < 2 * beatMs
      if (isNear || goesOn) this.overdue.push(this.next)
    }
  }

  /** The player continues elsewhere. */
  private turnTo(scoreMs: number, atMs: number): void {
    for (const [key, { event }] of this.sounding) this.letGo.push({ kind: 'off', key, event, atMs })
    this.sounding.clear()
    this.overdue = []
    this.next = eventBy.left(this.request.accompaniment, scoreMs - SAME_MS)
  }
}

const eventBy = bisector((event: SoundEvent) => event.atMs)

/**
 * What would have sounded beside a take, on the take's clock, when each decision knows only what had been struck by
 * then; after the last stroke to the end.
 */
export function accompanyTake(request: Conducting, take: Take): SoundEvent[] {
  const conductor = new Conductor(request)
  const began = new Map<number, { event: SoundEvent; atMs: number }>()
  const sounded: SoundEvent[] = []
  const soundUntil = (untilMs: number) => {
    for (let cue = conductor.upcoming; cue && cue.atMs < untilMs; cue = conductor.upcoming) {
      conductor.done(cue)
      if (cue.kind === 'on') began.set(cue.key, cue)
      else {
        const { event, atMs } = began.get(cue.key)!
        sounded.push({ ...event, atMs, lengthMs: Math.max(1, cue.atMs - atMs) })
        began.delete(cue.key)
      }
    }
  }
  for (const { pitch, onsetMs } of take.notes) {
    soundUntil(onsetMs)
    conductor.hear(pitch, onsetMs)
  }
  soundUntil(Infinity)
  return sounded.sort((a, b) => a.atMs - b.atMs || a.pitch - b.pitch)
}
