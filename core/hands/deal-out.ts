import { EACH_HAND } from '#core/music/arrangement'
import { group } from 'd3-array'
import type { Hand, OtherRole, Track } from '../music/arrangement'
import type { VoiceAssignment } from '../music/voice'

/** A note of a voice: when it begins and ends, in quarter notes. */
export interface VoiceNote {
  onset: number
  end: number
  pitch: number
}
/** A voice and who plays it. */
export interface GivenVoice<T extends VoiceNote> {
  plays: VoiceAssignment
  notes: readonly T[]
}

/**
 * What one hand holds at once where several voices are laid in it: an octave, and four keys (common practice for most
 * hands).
 */
export const ONE_HAND = { span: 12, keys: 4 } as const
/** Notes that begin within this are struck together, quarter notes. */
const TOGETHER = 0.06
/** A voice plays in a stretch of so many quarter notes, or it does not. */
const STRETCH = 4

/**
 * Notes that go to a hand, `undefined` for those that both share; and of each voice those that no hand plays, with
 * notes that were shortened.
 */
export interface DealtOut<T> {
  hands: { note: T; hand: Hand | undefined; voice: number }[]
  left: T[][]
}

/**
 * Gives voices to the hands as they are said to play. Where several voices are laid in one hand, it gets what it can
 * hold: the lowest voice first, then one other at a time. The rest stays with the voices it comes from. Notes in the
 * order they came.
 */
export function splitBetweenHands<T extends VoiceNote>(voices: readonly GivenVoice<T>[]): DealtOut<T> {
  const hands: DealtOut<T>['hands'] = []
  const left: T[][] = voices.map(({ plays, notes }) => (plays === 'role' || plays === 'nobody' ? [...notes] : []))
  voices.forEach(({ plays, notes }, voice) => {
    if (plays === 'both') for (const note of notes) hands.push({ note, hand: undefined, voice })
  })
  for (const hand of EACH_HAND) {
    const own = voices.flatMap(({ plays, notes }, voice) => (plays === hand ? [{ voice, notes }] : []))
    if (own.length <= 1) {
      for (const { voice, notes } of own) for (const note of notes) hands.push({ note, hand, voice })
      continue
    }
    for (const { note, voice, isHeld } of thinned(own, hand)) {
      if (isHeld) hands.push({ note, hand, voice })
      else left[voice]!.push(note)
    }
  }
  return { hands, left }
}

/** What no hand plays, as roles: each with its track's name and instrument. */
export const rolesOf = <T>(
  tracks: readonly Track[],
  left: readonly T[][],
): (Omit<OtherRole, 'notes'> & { notes: T[] })[] =>
  tracks.flatMap(({ name, program, percussion, plays }, index) =>
    left[index]!.length === 0
      ? []
      : [
          {
            name,
            program,
            ...(percussion ? { percussion } : {}),
            ...(plays === 'nobody' ? { silent: true as const } : {}),
            notes: left[index]!,
          },
        ],
  )

/** How many notes of voices that a hand plays it cannot hold. */
export const beyondHands = (tracks: readonly Track[], left: readonly unknown[][]): number =>
  tracks.reduce((sum, { plays }, index) => sum + (plays === 'role' || plays === 'nobody' ? 0 : left[index]!.length), 0)

interface Candidate<T> {
  note: T
  voice: number
  rank: number
  isHeld: boolean
}

/**
 * What one hand can hold of several voices. The first in rank is the outer voice: the lowest of the left hand, the
 * highest of the right.
 */
function thinned<T extends VoiceNote>(
  voices: readonly { voice: number; notes: readonly T[] }[],
  hand: Hand,
): Candidate<T>[] {
  const outward = hand === 'left' ? 1 : -1
  const height = ({ notes }: { notes: readonly T[] }) =>
    notes.reduce((sum, note) => sum + note.pitch, 0) / Math.max(1, notes.length)
  const ranked = [...voices].sort((a, b) => outward * (height(a) - height(b)))
  const inners = fullestByStretch(ranked.slice(1))
  const candidates = ranked
    .flatMap(({ voice, notes }, rank): Candidate<T>[] =>
      notes.map(note => ({
        note,
        voice,
        rank,
        isHeld: rank === 0 || inners.get(Math.floor((note.onset + TOGETHER) / STRETCH)) === voice,
      })),
    )
    .sort((a, b) => a.note.onset - b.note.onset)
  let held: Candidate<T>[] = []
  for (let from = 0; from < candidates.length;) {
    const at = candidates[from]!.note.onset
    let to = from + 1
    while (to < candidates.length && candidates[to]!.note.onset - at < TOGETHER) to++
    const struck = candidates.slice(from, to).sort((a, b) => a.rank - b.rank || outward * (a.note.pitch - b.note.pitch))
    held = held.filter(({ note }) => note.end > at + TOGETHER)
    const taken: Candidate<T>[] = []
    const fits = ({ note }: Candidate<T>, some: readonly Candidate<T>[]) =>
      some.length < ONE_HAND.keys &&
      some.every(other => other.note.pitch !== note.pitch && Math.abs(other.note.pitch - note.pitch) <= ONE_HAND.span)
    for (const one of struck) {
      if (one.isHeld && fits(one, taken)) taken.push(one)
      else one.isHeld = false
    }
    // What is struck now is played; what lies beyond reach of it is let go.
    const still = held.filter(one =>
      taken.every(
        other => other.note.pitch !== one.note.pitch && Math.abs(other.note.pitch - one.note.pitch) <= ONE_HAND.span,
      ),
    )
    const room = Math.max(0, ONE_HAND.keys - taken.length)
    const kept = still.sort((a, b) => a.rank - b.rank).slice(0, room)
    if (taken.length > 0) for (const one of held) if (!kept.includes(one)) one.note = { ...one.note, end: at }
    held = taken.length > 0 ? [...kept, ...taken] : held
    from = to
  }
  return candidates
}

/** Which of several voices plays most in each stretch; the one before goes on where two play as much. */
function fullestByStretch<T extends VoiceNote>(
  voices: readonly { voice: number; notes: readonly T[] }[],
): Map<number, number> {
  const struck = voices.flatMap(({ voice, notes }) =>
    notes.map(note => ({ voice, stretch: Math.floor((note.onset + TOGETHER) / STRETCH) })),
  )
  const fullest = new Map<number, number>()
  let before: number | undefined
  for (const [stretch, some] of [...group(struck, one => one.stretch)].sort(([a], [b]) => a - b)) {
    const counts = group(some, one => one.voice)
    const most = Math.max(...[...counts.values()].map(one => one.length))
    if (before === undefined || (counts.get(before)?.length ?? 0) < most)
      before = [...counts].find(([, one]) => one.length === most)![0]
    fullest.set(stretch, before)
  }
  return fullest
}
