import type { Take } from '../ear/take'
import type { Arrangement, Hand } from '../music/arrangement'
import { barLength, type Meter } from '../music/meter'
import { toDecimal } from '../music/quarters'
import { findBeats, inBeats } from './find-beats'
import type { Guess } from '../music/guess'
import { notate, type NotationChoices, type Raw } from './notate'

export interface PhraseOptions extends NotationChoices {
  title: string
  meter: Meter
  hands?: 'found' | Hand
  /** The click it was played to, in denominator beats a minute; left out for free playing, whose beats are found. */
  clickBpm?: number
}

/** Notes struck this far apart belong to one moment when beats are looked for, ms. */
const TOGETHER_MS = 50

/** Writes down a phrase that was played, to the click or freely. Undefined when nothing was played. */
export function notatePhrase(take: Take, { clickBpm, title, ...choices }: PhraseOptions): { arrangement: Arrangement, guesses: Guess[] } | undefined {
  if (take.notes.length === 0) return undefined
  const { meter } = choices
  const beatQuarters = 4 / meter.beatType
  const free = clickBpm === undefined ? beatsOf(take) : undefined
  const bpm = clickBpm ?? free!.bpm
  const toQuarters = free
    ? (ms: number) => inBeats(free.beats, ms) * beatQuarters
    : (ms: number) => ms * bpm / 60_000 * beatQuarters
  // A note before the first beat is a pickup: whole bars are put before it, so that bar lines stay where they were heard.
  const bar = toDecimal(barLength(meter))
  const earliest = toQuarters(take.notes[0]!.onsetMs)
  const ahead = earliest < -EARLY_SHARE * beatQuarters ? Math.ceil(-earliest / bar) * bar : 0
  const place = (ms: number) => Math.max(0, toQuarters(ms) + ahead)
  const quarterBpm = bpm * beatQuarters
  const raw: Raw = {
    title, roles: [], toleranceQuarters: 1 / 2000, quarterSeconds: 60 / quarterBpm, tempos: [{ at: 0, quarterBpm: Math.round(quarterBpm) }],
    notes: take.notes.map(note => ({ pitch: note.pitch, velocity: note.velocity, onset: place(note.onsetMs), end: Math.max(place(note.onsetMs) + 0.05, place(note.onsetMs + note.durationMs)) })),
    pedals: take.pedals.map(pedal => ({ at: place(pedal.atMs), down: pedal.down })),
  }
  const { arrangement, guesses } = notate(raw, choices)
  if (free) guesses.unshift({ about: 'tempo', kind: 'tempo-found', bpm })
  return { arrangement, guesses }
}

/** A first note no earlier than this share of a beat is only early, not a pickup. */
const EARLY_SHARE = 0.2

function beatsOf(take: Take): { beats: number[], bpm: number } {
  const onsets: number[] = []
  const weights: number[] = []
  for (const note of take.notes) {
    const weight = note.velocity / 80 + (note.pitch < 55 ? 0.5 : 0)
    if (onsets.length > 0 && note.onsetMs - onsets.at(-1)! < TOGETHER_MS) weights[weights.length - 1]! += weight / 2
    else {
      onsets.push(note.onsetMs)
      weights.push(weight)
    }
  }
  const beats = findBeats(onsets, weights)
  const steps = beats.slice(1).map((beat, index) => beat - beats[index]!).sort((a, b) => a - b)
  return { beats, bpm: 60_000 / (steps[steps.length >> 1] ?? 600) }
}
