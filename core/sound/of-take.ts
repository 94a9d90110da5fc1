import type { Take } from '../ear/take'
import type { Performance, Voice } from './performance'

export const PLAYER_VOICE: Voice = { id: 'player', name: 'As played', instrument: { kind: 'piano' } }

/**
 * A take as it was played. With `exaggerate` each stroke is moved away from its time by so many times its deviation (ms, + is late; undefined for a stroke that stands
 * for nothing, which goes with the one before it): 1 is as played, 2 makes twice of every deviation, 0 plays it as written.
 */
export function performTake(take: Take, { bpm, exaggerate = 1, deviationOf, voice = PLAYER_VOICE }: { bpm: number, exaggerate?: number, deviationOf?: (played: number) => number | undefined, voice?: Voice }): Performance {
  let shift = 0
  const events = take.notes.map(({ onsetMs, durationMs, pitch, velocity }, played) => {
    shift = deviationOf?.(played) ?? shift
    return { voice: voice.id, atMs: onsetMs + (exaggerate - 1) * shift, lengthMs: Math.max(1, durationMs), pitch, velocity }
  })
  return {
    voices: [voice],
    events: events.sort((a, b) => a.atMs - b.atMs || a.pitch - b.pitch),
    pedals: take.pedals.map(pedal => ({ ...pedal, voice: voice.id })),
    tempos: [{ atMs: 0, quarterBpm: bpm }],
    lengthMs: events.reduce((length, { atMs, lengthMs }) => Math.max(length, atMs + lengthMs), 0),
  }
}
