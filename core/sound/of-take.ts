import type { Take } from '../ear/take'
import { handsIn, type Arrangement } from '../music/arrangement'
import type { Passage } from '../music/passage'
import { renderPassage } from './of-score'
import { inTurn, type RenderedScore, type Voice } from './performance'

export const PLAYER_VOICE: Voice = { id: 'player', name: 'As played', instrument: { kind: 'piano' } }

/**
 * How a take is performed: at which tempo bars are laid out, how many times its deviations (ms) are taken, and which
 * written note a stroke stands for.
 */
export interface RenderedTake {
  bpm: number
  exaggerate?: number
  deviationOf?: (played: number) => number | undefined
  noteIdOf?: (played: number) => string | undefined
  voice?: Voice
}

/**
 * A take as it was played. With `exaggerate` each stroke is moved away from its time by so many times its deviation
 * (ms, + is late; undefined for a stroke that stands for nothing, which goes with the one before it): 1 is as played, 2
 * makes twice of every deviation, 0 plays it as written.
 */
export function renderTake(
  take: Take,
  { bpm, exaggerate = 1, deviationOf, noteIdOf, voice = PLAYER_VOICE }: RenderedTake,
): RenderedScore {
  let shift = 0
  const events = take.notes.map(({ onsetMs, durationMs, pitch, velocity }, played) => {
    shift = deviationOf?.(played) ?? shift
    return {
      voice: voice.id,
      atMs: onsetMs + (exaggerate - 1) * shift,
      lengthMs: Math.max(1, durationMs),
      pitch,
      velocity,
      noteId: noteIdOf?.(played),
    }
  })
  return {
    voices: [voice],
    events: events.sort((a, b) => a.atMs - b.atMs || a.pitch - b.pitch),
    pedals: take.pedals.map(pedal => ({ ...pedal, voice: voice.id })),
    tempos: [{ atMs: 0, quarterBpm: bpm }],
    lengthMs: events.reduce((length, { atMs, lengthMs }) => Math.max(length, atMs + lengthMs), 0),
  }
}

/** The ways in which a player can hear what they have played. */
export const REPLAYS = ['as-played', 'exaggerated', 'as-written', 'in-turn'] as const
export type Replay = (typeof REPLAYS)[number]
/** The factor of deviations in the exaggerated replay. */
const EXAGGERATED = 2
const BETWEEN_MS = 900

/** A judged pass, as far as it has to be known to be heard again. */
export interface HeardAgain {
  arrangement: Arrangement
  passage: Passage
  take: Take
  bpm: number
  notes: readonly { id: string; played: number | null; deviationMs: number | null }[]
}

/**
 * A pass to be heard again: as it was played, with its deviations doubled so that they can be heard, as it is written,
 * or all three one after the other.
 */
export function renderReplay({ arrangement, passage, take, bpm, notes }: HeardAgain, replay: Replay): RenderedScore {
  const struck = new Map(notes.flatMap(note => (note.played === null ? [] : [[note.played, note] as const])))
  const played = (exaggerate: number) =>
    renderTake(take, {
      bpm,
      exaggerate,
      deviationOf: index => struck.get(index)?.deviationMs ?? undefined,
      noteIdOf: index => struck.get(index)?.id,
    })
  const written = () => renderPassage(arrangement, passage, { hands: handsIn(passage.hands) }, bpm)
  switch (replay) {
    case 'as-played':
      return played(1)
    case 'exaggerated':
      return played(EXAGGERATED)
    case 'as-written':
      return written()
    case 'in-turn':
      return inTurn([played(1), played(EXAGGERATED), written()], BETWEEN_MS)
  }
}
