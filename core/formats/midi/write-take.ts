import type { Take } from '../../ear/take'
import { writeTrackFile, type PlacedEvent } from './track-file'

/** A marker event at the moment the assessment calls time 0, when notes were struck before it. */
export const START_MARKER = 'half-step: first beat'

/** Fine enough that a rounded time is never more than 0.06 ms off above 50 bpm. */
const TICKS_PER_QUARTER = 9600

/**
 * A take as a Standard MIDI File of type 0, its tempo the one practised at, so that bars line up in other
 * programs. Notes struck before time 0 shift the file; a marker then shows where time 0 is.
 */
export function writeTake(take: Take, bpm: number): Uint8Array {
  const microsecondsPerBeat = Math.round(60_000_000 / bpm)
  const leadMs = [...take.notes.map(note => -note.onsetMs), ...take.pedals.map(pedal => -pedal.atMs)].reduce(
    (a, b) => Math.max(a, b),
    0,
  )
  const tickAt = (ms: number) => Math.round((((ms + leadMs) * 1000) / microsecondsPerBeat) * TICKS_PER_QUARTER)
  const placed: PlacedEvent[] = take.notes.flatMap(note => {
    const onTick = tickAt(note.onsetMs)
    const offTick = Math.max(onTick + 1, tickAt(note.onsetMs + note.durationMs))
    const key = { deltaTime: 0, channel: 0, noteNumber: note.pitch }
    return [
      { tick: onTick, order: 2, event: { ...key, type: 'noteOn' as const, velocity: note.velocity } },
      { tick: offTick, order: 1, event: { ...key, type: 'noteOff' as const, velocity: 0 } },
    ]
  })
  for (const { atMs, down } of take.pedals) {
    placed.push({
      tick: tickAt(atMs),
      order: 1,
      event: { deltaTime: 0, channel: 0, type: 'controller', controllerType: 64, value: down ? 127 : 0 },
    })
  }
  if (leadMs > 0)
    placed.push({ tick: tickAt(0), order: 0, event: { deltaTime: 0, type: 'marker', meta: true, text: START_MARKER } })
  return writeTrackFile(
    [[{ tick: 0, order: -1, event: { deltaTime: 0, type: 'setTempo', meta: true, microsecondsPerBeat } }, ...placed]],
    TICKS_PER_QUARTER,
  )
}
