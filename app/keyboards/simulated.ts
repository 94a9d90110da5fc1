import type { ExpectedNote } from '#core/music/passage'
import { seededChance } from '#core/players/randomness'
import { MACHINE, type PlayerHabits } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { noteOff, noteOn, type KeyboardSource } from './source'

export interface SimulatedKeys extends KeyboardSource {
  /** Tells the player what to play and when it begins, on the page's clock. */
  prepare: (expected: readonly ExpectedNote[], startsAtMs: number) => void
  /** Tells the player which keys are waited for; found after some thought, now and then with a wrong one first. */
  answer: (pitches: readonly number[]) => void
  /** The player takes the hands off the keys. */
  rest: () => void
}

/** Somebody who knows the part but not yet well. */
export const LEARNER: PlayerHabits = {
  ...MACHINE,
  jitterMs: 28,
  chordSpreadMs: 14,
  wrong: 0.04,
  missed: 0.03,
  extra: 0.02,
}

/** Time to find a key in its own time, ms. */
const THINKS_MS = 450

/** How much earlier than a key's moment its timer is set, so that a late timer seldom makes it late. */
const AHEAD_MS = 4

/**
 * A player that ships with the program and plays the part as a learner would, seeded, through the same interface as a
 * real keyboard.
 */
export function simulatedKeys(seed: number, habits: PlayerHabits = LEARNER): SimulatedKeys {
  const listeners = new Set<Parameters<KeyboardSource['listen']>[0]>()
  const timers = new Set<ReturnType<typeof setTimeout>>()
  const held = new Set<number>()
  let nextSeed = seed

  const tell = (bytes: number[], atMs: number) => {
    for (const heard of listeners) heard({ bytes, atMs })
  }
  const at = (atMs: number, act: () => void) => {
    const timer = setTimeout(
      () => {
        timers.delete(timer)
        act()
      },
      Math.max(0, atMs - performance.now() - AHEAD_MS),
    )
    timers.add(timer)
  }
  const rest = () => {
    for (const timer of timers) clearTimeout(timer)
    timers.clear()
    for (const pitch of held) tell(noteOff(pitch), performance.now())
    held.clear()
  }
  return {
    id: 'simulated',
    name: 'Simulated player',
    silent: true,
    listen(heard) {
      listeners.add(heard)
      return () => {
        rest()
        listeners.delete(heard)
      }
    },
    prepare(expected, startsAtMs) {
      if (listeners.size === 0) return
      for (const note of simulatePlayer(expected, habits, nextSeed++).take.notes) {
        const onMs = startsAtMs + note.onsetMs
        at(onMs, () => {
          held.add(note.pitch)
          tell(noteOn(note.pitch, note.velocity), onMs)
        })
        at(onMs + note.durationMs, () => {
          if (held.delete(note.pitch)) tell(noteOff(note.pitch), onMs + note.durationMs)
        })
      }
    },
    answer(pitches) {
      if (listeners.size === 0 || pitches.length === 0) return
      const chance = seededChance(nextSeed++)
      const thoughtMs = performance.now() + THINKS_MS * (0.6 + 0.8 * chance.uniform())
      const strike = (pitch: number, atMs: number) => {
        at(atMs, () => tell(noteOn(pitch, 64), atMs))
        at(atMs + 200, () => tell(noteOff(pitch), atMs + 200))
      }
      if (chance.happens(habits.wrong)) strike(chance.pick(pitches) + 1, thoughtMs - 150)
      for (const pitch of pitches) strike(pitch, thoughtMs + 10 * chance.uniform())
    },
    rest,
  }
}
