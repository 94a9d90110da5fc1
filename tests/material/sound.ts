import type { Sound } from '../../app/sound/sound'
import { createTransport } from '../../app/sound/transport'
import type { Struck } from '../../app/sound/voice'

/** One sound as it was placed: when, and when it was let go, on the page's clock, ms. */
export interface PlacedSound extends Struck {
  voice: string
  atMs: number
  letGoMs?: number
  how?: 'key' | 'stop'
}

/**
 * The program's sound without ears: the real transport on a clock that is moved by hand, with voices that write down
 * what they are given.
 */
export function silentSound({ prepare = () => Promise.resolve() }: { prepare?: Sound['prepare'] } = {}) {
  const acts = new Set<() => void>()
  const placed: PlacedSound[] = []
  const cues: string[] = []
  const everyTick = (act: () => void) => {
    acts.add(act)
    return () => void acts.delete(act)
  }
  const voiceOf = (voice: string) => ({
    place: ({ pitch, velocity, lengthMs }: Struck, atSeconds: number) => {
      const one: PlacedSound = { voice, pitch, velocity, lengthMs, atMs: atSeconds * 1000 }
      placed.push(one)
      return {
        get endsAt() {
          return Math.min(one.letGoMs ?? Infinity, one.atMs + one.lengthMs) / 1000
        },
        letGo: (at: number, how: 'key' | 'stop') => Object.assign(one, { letGoMs: at * 1000, how }),
      }
    },
  })
  const transport = createTransport({
    clock: { now: () => performance.now() / 1000, secondsAt: ms => ms / 1000 },
    voiceOf,
    everyTick,
  })
  const line = transport.line()
  const sound: Sound = {
    ...transport,
    prepare,
    cue: kind => void cues.push(kind),
    addRecording: () => 1,
    setPianoOutput: () => {},
    mixer: { set: () => {} },
    outputDelayMs: () => 0,
    press: (pitch, velocity) => void line.strike('keys', { pitch, velocity, lengthMs: Infinity }, performance.now()),
    release: () => {},
  }
  return {
    sound,
    placed,
    cues,
    tick: () => {
      for (const act of [...acts]) act()
    },
    /** What was heard: all that was not taken back before it began. */
    heard: (voice?: string) =>
      placed
        .filter(
          one => (voice === undefined || one.voice === voice) && (one.letGoMs === undefined || one.letGoMs > one.atMs),
        )
        .sort((a, b) => a.atMs - b.atMs),
  }
}

/** Moves the clock of Vitest's fake timers on, tick by tick. */
export function runTo(pageMs: number, tick: () => void, advance: (ms: number) => void): void {
  while (performance.now() < pageMs) {
    // Whole ms: the fake clock knows no others.
    advance(Math.min(25, Math.ceil(pageMs - performance.now())))
    tick()
  }
}
