import type { Take } from '../ear/take'
import type { Arrangement, Hand } from '../music/arrangement'
import { barLength, type Meter } from '../music/meter'
import { toDecimal } from '../music/quarters'
import { onItsOwnBeats } from './free-file'
import type { Guess } from '../music/guess'
import { notate, type NotationChoices, type Raw } from './notate'

export interface PhraseOptions extends NotationChoices {
  title: string
  meter: Meter
  hands?: 'found' | Hand
  /** The click it was played to, in denominator beats a minute; left out for free playing, whose beats are found. */
  clickBpm?: number
}

/** Writes down a phrase that was played, to the click or freely. Undefined when nothing was played. */
export function notatePhrase(
  take: Take,
  { clickBpm, title, ...choices }: PhraseOptions,
): { arrangement: Arrangement; guesses: Guess[] } | undefined {
  if (take.notes.length === 0) return undefined
  const { meter } = choices
  const beatQuarters = 4 / meter.beatType
  if (clickBpm === undefined) {
    const { raw } = onItsOwnBeats(
      rawOf(take, title, ms => ms / FILE_QUARTER_MS, FILE_QUARTER_MS),
      { meter },
    )
    const { arrangement, guesses } = notate(raw, choices)
    guesses.unshift({ about: 'tempo', kind: 'tempo-found', bpm: raw.tempos[0]!.quarterBpm / beatQuarters })
    return { arrangement, guesses }
  }
  const toQuarters = (ms: number) => ((ms * clickBpm) / 60_000) * beatQuarters
  // A note before the first beat is a pickup: whole bars are put before it, so that bar lines stay where they were
  // heard.
  const bar = toDecimal(barLength(meter))
  const earliest = toQuarters(take.notes[0]!.onsetMs)
  const ahead = earliest < -EARLY_SHARE * beatQuarters ? Math.ceil(-earliest / bar) * bar : 0
  const { arrangement, guesses } = notate(
    rawOf(take, title, ms => Math.max(0, toQuarters(ms) + ahead), 60_000 / clickBpm / beatQuarters),
    choices,
  )
  return { arrangement, guesses }
}

/** A first note no earlier than this share of a beat is only early, not a pickup. */
const EARLY_SHARE = 0.2
/** The length of a quarter note while none is known, ms: as in a MIDI file that names no tempo. */
const FILE_QUARTER_MS = 500

/** A take in quarter notes. */
function rawOf(take: Take, title: string, place: (ms: number) => number, quarterMs: number): Raw {
  return {
    title,
    roles: [],
    toleranceQuarters: 1 / 2000,
    quarterSeconds: quarterMs / 1000,
    tempos: [{ at: 0, quarterBpm: Math.round(60_000 / quarterMs) }],
    notes: take.notes.map(note => ({
      pitch: note.pitch,
      velocity: note.velocity,
      onset: place(note.onsetMs),
      end: Math.max(place(note.onsetMs) + 0.05, place(note.onsetMs + note.durationMs)),
    })),
    pedals: take.pedals.map(pedal => ({ at: Math.max(0, place(pedal.atMs)), down: pedal.down })),
  }
}
