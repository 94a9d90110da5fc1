import { bisector } from 'd3-array'
import type { SoundEvent } from '#core/sound/performance'
import type { AudioClock } from './audio-clock'
import type { Placed, Struck, Voice } from './voice'

/**
 * Scheduling lead of events on the audio clock, ms: the page may be busy for most of it (and wireless headphones take a
 * good part).
 */
export const AHEAD_MS = 500
/** An event later than this when it could be placed is left out, unless half of it is still to come, ms. */
const TOO_LATE_MS = 60

/**
 * Events of one player of music (a loop, somebody who listens), which can be taken back until they sound. Moments are
 * of the page's clock, ms.
 */
export interface Line {
  /** Adds events, whose times count from a moment. */
  add: (events: readonly SoundEvent[], zeroMs: number) => void
  /** Sounds at a moment until it is let go, for what is only known as it happens. */
  strike: (voice: string, struck: Struck, atMs: number) => { letGo: (atMs: number) => void }
  /** Takes back what has not begun by a moment (now), and lets go of what sounds then; with `which` only of these. */
  cut: (options?: { fromMs?: number; which?: (event: Pick<SoundEvent, 'voice'>) => boolean }) => void
}

export interface Transport {
  line: () => Line
  /** Calls back about every 25 ms, also while the page lies behind another. */
  everyTick: (act: () => void) => () => void
}

/** Performance marks for measurements; nothing of it is stored. */
function tell(name: string, detail: object) {
  performance.mark(name, { detail })
  performance.clearMarks(name)
}

interface Entry {
  event: SoundEvent
  atMs: number
  placed?: Placed
}
const byTime = bisector((entry: Entry) => entry.atMs)

export interface TransportParts {
  clock: Pick<AudioClock, 'now' | 'secondsAt'>
  voiceOf: (id: string) => Voice | undefined
  /** Calls back again and again until what it gives back is called. */
  everyTick: (act: () => void) => () => void
  pageNow?: () => number
}

/**
 * The one transport: places events on the audio clock shortly before they sound, whoever planned them, and takes them
 * back one by one. Nothing is placed twice, and a placed event sounds whatever the page does meanwhile.
 */
export function createTransport({
  clock,
  voiceOf,
  everyTick,
  pageNow = () => performance.now(),
}: TransportParts): Transport {
  const places = new Set<() => boolean>()
  let stopTicking: (() => void) | undefined

  /** Ticks while something waits. */
  function tick() {
    for (const place of places) if (!place()) places.delete(place)
    if (places.size > 0) return
    stopTicking?.()
    stopTicking = undefined
  }

  function sound(event: SoundEvent, atMs: number): Placed | undefined {
    const [at, now] = [clock.secondsAt(atMs), clock.now()]
    const lateMs = (now - at) * 1000
    if (lateMs > TOO_LATE_MS && lateMs > event.lengthMs / 2) return undefined
    tell('half-step:sound', { voice: event.voice, pitch: event.pitch, atMs, lateMs: Math.max(0, lateMs) })
    return voiceOf(event.voice)?.place(
      lateMs > 0 ? { ...event, lengthMs: Math.max(1, event.lengthMs - lateMs) } : event,
      Math.max(at, now),
    )
  }

  function line(): Line {
    /** In order of time: what waits, and what was placed and may still sound. */
    let waiting: Entry[] = []
    let placed: Entry[] = []
    const held = new Set<{ voice: string; placed: Placed }>()

    function place(): boolean {
      const due = byTime.right(waiting, pageNow() + AHEAD_MS)
      for (const entry of waiting.slice(0, due)) {
        entry.placed = sound(entry.event, entry.atMs)
        if (entry.placed) placed.push(entry)
      }
      waiting = waiting.slice(due)
      const now = clock.now()
      placed = placed.filter(entry => entry.placed!.endsAt > now)
      for (const one of held) if (one.placed.endsAt <= now) held.delete(one)
      return waiting.length > 0 || placed.length > 0
    }

    return {
      add(events, zeroMs) {
        if (events.length === 0) return
        waiting = [...waiting, ...events.map(event => ({ event, atMs: zeroMs + event.atMs }))].sort(
          (a, b) => a.atMs - b.atMs,
        )
        if (!place()) return
        places.add(place)
        stopTicking ??= everyTick(tick)
      },
      strike(voice, struck, atMs) {
        const made = voiceOf(voice)?.place(struck, Math.max(clock.secondsAt(atMs), clock.now()))
        if (!made) return { letGo: () => {} }
        tell('half-step:sound', { voice, pitch: struck.pitch, atMs, lateMs: 0 })
        const one = { voice, placed: made }
        held.add(one)
        return { letGo: endMs => made.letGo(Math.max(clock.secondsAt(endMs), clock.now()), 'key') }
      },
      cut({ fromMs, which = () => true } = {}) {
        const [now, fromPageMs] = [clock.now(), fromMs ?? -Infinity]
        const from = fromMs === undefined ? now : Math.max(now, clock.secondsAt(fromMs))
        tell('half-step:cut', { atMs: fromMs ?? pageNow() })
        waiting = waiting.filter(entry => entry.atMs < fromPageMs || !which(entry.event))
        for (const entry of placed) if (which(entry.event)) entry.placed!.letGo(from, 'stop')
        for (const one of held) if (which(one)) one.placed.letGo(from, 'stop')
      },
    }
  }

  return { line, everyTick }
}
