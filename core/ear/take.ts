import type { MidiPitch } from '../music/pitch'

/**
 * One key press as it was played. Times are milliseconds from the take's time 0; `onsetMs` may be negative for a note
 * struck before it.
 */
export interface TakeNote {
  onsetMs: number
  durationMs: number
  pitch: MidiPitch
  velocity: number
  /** The keyboard never sent a release: `durationMs` is unknown. */
  unreleased?: true
}

/** A change of the sustain pedal. */
export interface TakePedal {
  atMs: number
  down: boolean
}

/** What was played: notes sorted by onset, then pitch; a note's index is its number in every assessment. */
export interface Take {
  notes: TakeNote[]
  pedals: TakePedal[]
}

/** A MIDI channel message with the moment it happened, as every keyboard source gives it. */
export interface TimedMessage {
  readonly bytes: ArrayLike<number>
  readonly atMs: number
}

/** The meaning of a MIDI message. Anything else (active sensing, clock, other controllers) is ignored. */
export type KeyEvent =
  | { kind: 'down'; pitch: MidiPitch; velocity: number; atMs: number }
  | { kind: 'up'; pitch: MidiPitch; atMs: number }
  | { kind: 'pedal'; down: boolean; atMs: number }

/** MIDI 1.0: status 0x9n with velocity 0 is a note-off; controller 64 is the sustain pedal, down from 64 up. */
export function keyEvent({ bytes, atMs }: TimedMessage): KeyEvent | undefined {
  const status = (bytes[0] ?? 0) & 0xf0
  const first = bytes[1] ?? 0
  const second = bytes[2] ?? 0
  if (status === 0x90 && second > 0) return { kind: 'down', pitch: first, velocity: second, atMs }
  if (status === 0x80 || status === 0x90) return { kind: 'up', pitch: first, atMs }
  if (status === 0xb0 && first === 64) return { kind: 'pedal', down: second >= 64, atMs }
  return undefined
}

/** The length given to a note whose release was never seen. */
const UNRELEASED_MS = 1000

/**
 * Gathers key events, in any order, into a take. A key struck again without a release ends its earlier note there; one
 * never released gets a fixed length.
 */
export function gatherTake(events: readonly KeyEvent[]): Take {
  const inTime = [...events].sort((a, b) => a.atMs - b.atMs || order(a) - order(b))
  const notes: TakeNote[] = []
  const pedals: TakePedal[] = []
  const sounding = new Map<MidiPitch, TakeNote>()
  for (const event of inTime) {
    if (event.kind === 'pedal') {
      if (pedals.at(-1)?.down !== event.down) pedals.push({ atMs: event.atMs, down: event.down })
      continue
    }
    const held = sounding.get(event.pitch)
    if (held) {
      held.durationMs = event.atMs - held.onsetMs
      if (event.kind === 'up') delete held.unreleased
      sounding.delete(event.pitch)
    }
    if (event.kind === 'down') {
      const note: TakeNote = {
        onsetMs: event.atMs,
        durationMs: UNRELEASED_MS,
        pitch: event.pitch,
        velocity: event.velocity,
        unreleased: true,
      }
      notes.push(note)
      sounding.set(event.pitch, note)
    }
  }
  return { notes: notes.sort(byOnset), pedals }
}

/** A key as it is heard: `upMs` is known once it has come up. */
export interface KeyStroke {
  pitch: MidiPitch
  velocity: number
  downMs: number
  upMs?: number
}

/** Notes when a key comes up: the newest stroke of that key that is still down ends, where there is one. */
export function release(strokes: readonly KeyStroke[], pitch: MidiPitch, atMs: number): boolean {
  const held = strokes.findLast(stroke => stroke.pitch === pitch && stroke.upMs === undefined)
  if (held) held.upMs = atMs
  return held !== undefined
}

/** The take of keys heard live, its times counted from `zeroMs`. A key that is still down lasts until `untilMs`. */
export function takeOf(
  strokes: readonly KeyStroke[],
  pedals: readonly TakePedal[],
  { zeroMs, untilMs }: { zeroMs: number; untilMs: number },
): Take {
  return {
    notes: strokes
      .map(({ pitch, velocity, downMs, upMs }) => ({
        pitch,
        velocity,
        onsetMs: downMs - zeroMs,
        durationMs: Math.max(0, (upMs ?? untilMs) - downMs),
      }))
      .sort(byOnset),
    pedals: pedals.map(({ atMs, down }) => ({ atMs: atMs - zeroMs, down })),
  }
}

/** A take whose time 0 is its first key. */
export function fromFirstKey({ notes, pedals }: Take): Take {
  const firstMs = notes[0]?.onsetMs ?? 0
  return {
    notes: notes.map(note => ({ ...note, onsetMs: note.onsetMs - firstMs })),
    pedals: pedals.map(pedal => ({ ...pedal, atMs: pedal.atMs - firstMs })),
  }
}

/** The order that numbers the notes of a take. */
export const byOnset = (a: TakeNote, b: TakeNote): number => a.onsetMs - b.onsetMs || a.pitch - b.pitch

/** At the same time, a release comes before a new stroke of the same key. */
const order = (event: KeyEvent): number => (event.kind === 'up' ? 0 : 1)
