import { bisector, group } from 'd3-array'
import type { MidiPitch } from '../music/pitch'
import type { Quarters } from '../music/quarters'

/**
 * What makes a sound: a click, the piano, another instrument by its General MIDI number from 0, or drums, whose pitches
 * are keys of the General MIDI percussion map.
 */
export type Instrument =
  { kind: 'click' } | { kind: 'piano' } | { kind: 'program'; program: number } | { kind: 'drums' }

/** Somebody or something that sounds in a performance, told by its id. */
export interface Voice {
  readonly id: string
  readonly name: string
  readonly instrument: Instrument
}

/** One sound. Times are ms from the performance's time 0; `velocity` as in MIDI, 1 to 127. */
export interface SoundEvent {
  readonly voice: string
  readonly atMs: number
  readonly lengthMs: number
  /** Of a click: which tone it has (`CLICK_KEYS`). */
  readonly pitch: MidiPitch
  readonly velocity: number
  /** The written note that sounds, and where it stands; what was not written has neither. */
  readonly noteId?: string
  readonly onset?: Quarters
}

/** A change of the sustain pedal of a voice. */
export interface PedalEvent {
  readonly voice: string
  readonly atMs: number
  readonly down: boolean
}

/** A tempo, quarter notes a minute, from a time on, for laying out bars. */
export interface TempoEvent {
  readonly atMs: number
  readonly quarterBpm: number
}

/** What would sound: events in order of time, each of one of the voices. */
export interface RenderedScore {
  readonly voices: readonly Voice[]
  readonly events: readonly SoundEvent[]
  readonly pedals: readonly PedalEvent[]
  readonly tempos: readonly TempoEvent[]
  readonly lengthMs: number
}

/** The keys of the General MIDI percussion map that clicks are written with: high and low wood block, claves. */
export const CLICK_KEYS = { downbeat: 76, beat: 77, finer: 75 } as const

/** Performances that sound at the same time; the tempo is the first one's that says any. */
export function together(performances: readonly RenderedScore[]): RenderedScore {
  return {
    voices: performances.flatMap(({ voices }) => voices),
    events: inTime(performances.flatMap(({ events }) => events)),
    pedals: performances.flatMap(({ pedals }) => pedals).sort((a, b) => a.atMs - b.atMs),
    tempos: performances.find(({ tempos }) => tempos.length > 0)?.tempos ?? [],
    lengthMs: performances.reduce((length, one) => Math.max(length, one.lengthMs), 0),
  }
}

/** Performances one after the other, with a silence between them, ms. */
export function inTurn(performances: readonly RenderedScore[], silenceMs: number): RenderedScore {
  let shiftMs = 0
  const shifted = performances.map((one): RenderedScore => {
    const byMs = shiftMs
    shiftMs += one.lengthMs + silenceMs
    const later = <Event extends { readonly atMs: number }>(event: Event): Event => ({
      ...event,
      atMs: event.atMs + byMs,
    })
    return {
      ...one,
      events: one.events.map(later),
      pedals: one.pedals.map(later),
      tempos: one.tempos.map(later),
      lengthMs: byMs + one.lengthMs,
    }
  })
  const voices = new Map(shifted.flatMap(one => one.voices.map(voice => [voice.id, voice])))
  return { ...together(shifted), voices: [...voices.values()], tempos: shifted.flatMap(({ tempos }) => tempos) }
}

/** In order of time, then pitch. */
export const inTime = (events: readonly SoundEvent[]): SoundEvent[] =>
  [...events].sort((a, b) => a.atMs - b.atMs || a.pitch - b.pitch)

/** Let go just before the same key is struck again, ms: a key has to come up. */
const KEY_UP_MS = 10

/**
 * No key sounds twice at once in a voice: a note ends before the next of its key begins. Events in order of time; what
 * is struck twice at a moment sounds once, at its longest and loudest.
 */
export function oneKeyAtATime(events: readonly SoundEvent[]): SoundEvent[] {
  const heard: (SoundEvent & { lengthMs: number; velocity: number })[] = []
  const newest = new Map<string, (typeof heard)[number]>()
  for (const event of events) {
    const key = `${event.voice} ${event.pitch}`
    const before = newest.get(key)
    if (before && event.atMs - before.atMs < 1) {
      before.lengthMs = Math.max(before.lengthMs, event.lengthMs)
      before.velocity = Math.max(before.velocity, event.velocity)
      continue
    }
    if (before)
      before.lengthMs = Math.min(
        before.lengthMs,
        Math.max((event.atMs - before.atMs) / 2, event.atMs - before.atMs - KEY_UP_MS),
      )
    const copy = { ...event }
    newest.set(key, copy)
    heard.push(copy)
  }
  return heard
}

/**
 * Events that sound as long as the pedal holds them: for voices that know no pedal. What is struck again is not held
 * beyond that.
 */
export function withPedal({ events, pedals, lengthMs }: RenderedScore): SoundEvent[] {
  const ofVoice = group(pedals, ({ voice }) => voice)
  return oneKeyAtATime(
    events.map(event => {
      const own = ofVoice.get(event.voice)
      if (!own) return event
      const endMs = event.atMs + event.lengthMs
      const next = pedalBy.right(own, endMs)
      if (!own[next - 1]?.down) return event
      const up = own.slice(next).find(({ down }) => !down)
      return { ...event, lengthMs: (up?.atMs ?? Math.max(lengthMs, endMs)) - event.atMs }
    }),
  )
}

const pedalBy = bisector((pedal: PedalEvent) => pedal.atMs)

/** What would begin before time 0 begins at it: a grace note before the first beat is crushed into it. */
export const fromTimeZero = (performance: RenderedScore): RenderedScore => ({
  ...performance,
  events: inTime(performance.events.map(event => (event.atMs < 0 ? { ...event, atMs: 0 } : event))),
})
