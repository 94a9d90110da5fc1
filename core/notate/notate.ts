import { EACH_HAND } from '#core/music/arrangement'
import { bisectRight } from 'd3-array'
import { separateHands } from '../hands/separate'
import type { Arrangement, Hand, OtherRole, PedalMark, TempoMark } from '../music/arrangement'
import type { Guess } from '../music/guess'
import { barLength, type Meter } from '../music/meter'
import type { MidiPitch } from '../music/pitch'
import { add, compare, equal, multiply, quarters, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'
import { arrange, type HandNote, type RoleNotes } from '../music/arrange'
import { findMeter } from './find-meter'
import { isPlainlyElsewhere, keysOf, needsDoubles, plainestSignature } from '../music/key'
import {
  findSwing,
  haveOneGrid,
  isExact,
  NOTATION,
  readExact,
  snapToGrid,
  straighten,
  type PlayedNote,
  type WrittenTime,
} from './quantise'

/** A note as it comes from a file or a keyboard; times in quarter notes from the first beat, as decimals. */
export interface RawNote extends PlayedNote {
  pitch: MidiPitch
  velocity: number
  hand?: Hand
  /** The number of the track it comes from. */
  track?: number
}

/** The raw notes with what is known about them. */
export interface Raw {
  title: string
  notes: RawNote[]
  roles: (Omit<OtherRole, 'notes'> & { notes: RawNote[] })[]
  pedals: { at: number; down: boolean }[]
  /** Length of a quarter note, seconds, for what a hand can do in time. */
  quarterSeconds: number
  /** How near exact files come to their places, quarter notes. */
  toleranceQuarters: number
  meters?: { at: number; meter: Meter }[]
  /** Signatures in their order; several at one moment are what the first of them says. */
  keys?: { at: number; fifths: number }[]
  tempos: { at: number; quarterBpm: number }[]
}

/** The player's corrections of the import. Left out: as found. */
export interface NotationChoices {
  /** One hand plays all of it, or each its own as found. */
  hands?: 'found' | Hand
  meter?: Meter
  fifths?: number
  /** Quarter notes before the first bar line. */
  pickupQuarters?: number
  /** Whether late offbeats are written even, with the word "swing". */
  swing?: boolean
  bpm?: number
  /**
   * How fine its rhythm is written: as found; on the plainest grid of each beat, also where the notes seem to lie on
   * exact values; or on sixteenths and longer alone. What cannot be written in one way can in the next.
   */
  rhythm?: Rhythm
}

export const RHYTHMS = ['found', 'grid', 'sixteenths'] as const
export type Rhythm = (typeof RHYTHMS)[number]

/**
 * Notates raw notes. Every guess is reported and can be decided otherwise. `shift`: how far the written notes begin
 * behind the raw ones' time 0.
 */
export function notate(
  raw: Raw,
  choices: NotationChoices = {},
): { arrangement: Arrangement; guesses: Guess[]; shift: Quarters } {
  const guesses: Guess[] = []
  const guess = (one: Guess) => {
    guesses.push(one)
  }
  const notes = giveHands(raw, choices, guess)
  const all = [...notes, ...raw.roles.flatMap(role => role.notes)]
  const pitched = [...notes, ...raw.roles.filter(role => !role.percussion).flatMap(role => role.notes)]
  const onsets = all.map(note => note.onset)
  const { rhythm = 'found' } = choices
  const exact =
    rhythm === 'found' && isExact(onsets, raw.toleranceQuarters) && haveOneGrid(readExact(all, raw.toleranceQuarters))
  const swing = choices.swing === false ? undefined : findSwing(onsets)
  if (swing !== undefined) guess({ about: 'swing', kind: 'late-offbeats', ratio: swing })
  if (!exact) guess({ about: 'rhythm', kind: 'off-the-grid' })

  const even = (at: number) => (swing === undefined ? at : straighten(at, swing))
  const write = (list: readonly PlayedNote[]): WrittenTime[] => {
    const played = list.map(({ onset, end }) => ({ onset: even(onset), end: even(end) }))
    return exact && swing === undefined
      ? readExact(played, raw.toleranceQuarters)
      : snapToGrid(played, rhythm === 'sixteenths' ? NOTATION.plainGrids : NOTATION.grids)
  }
  const written: HandNote[] = EACH_HAND.flatMap(hand => {
    const own = notes.filter(note => note.hand === hand)
    const times = write(own)
    return own.map((note, index) => ({ hand, pitch: note.pitch, ...trackOf(note), ...times[index]! }))
  })
  const roles: RoleNotes[] = raw.roles.map(role => {
    const times = write(role.notes)
    return {
      ...role,
      notes: role.notes.map((note, index) => ({ pitch: note.pitch, ...trackOf(note), ...times[index]! })),
    }
  })

  const { meters, barLine } = metersOf(raw, choices, written, guess)
  const { shift, pickup } = beginning(
    meters[0]!.meter,
    barLine,
    [...written, ...roles.flatMap(role => role.notes)].map(note => note.onset),
    choices,
    guess,
  )
  const move = (at: Quarters) => subtract(at, shift)
  const { fifths, keyChanges } = signaturesOf(
    raw,
    choices,
    pitched,
    {
      bar: toDecimal(barLength(meters[0]!.meter)),
      first: toDecimal(shift) - (pickup === ZERO ? 0 : toDecimal(subtract(barLength(meters[0]!.meter), pickup))),
      isOneMeter: meters.length === 1,
    },
    guess,
  )

  const toMark = (at: number) => move(markPlace(at, exact, raw.toleranceQuarters))
  const tempos: TempoMark[] = raw.tempos.map(({ at, quarterBpm }) => ({
    onset: laterThanZero(toMark(at)),
    quarterBpm: choices.bpm ?? quarterBpm,
  }))
  const arrangement = arrange(
    {
      title: raw.title,
      meters: meters.map(({ at, meter }) => ({ at: at === ZERO ? ZERO : move(at), meter })),
      fifths,
      keyChanges: keyChanges.map(({ at, fifths: signs }) => ({ at: move(at), fifths: signs })),
      pickup,
      tempos: choices.bpm === undefined ? onlyChanges(tempos) : [{ onset: ZERO, quarterBpm: choices.bpm }],
      pedals: pedalMarks(raw.pedals.map(({ at, down }) => ({ onset: laterThanZero(toMark(at)), down }))),
      ...(swing === undefined ? {} : { swing: { unit: 'eighth', ratio: swing } }),
    },
    written.map(note => ({ ...note, onset: move(note.onset), end: move(note.end) })),
    roles.map(role => ({
      ...role,
      notes: role.notes.map(note => ({ ...note, onset: move(note.onset), end: move(note.end) })),
    })),
  )
  return { arrangement, guesses, shift }
}

/** The signature, and others from later bar lines on (raw times). `first`: where the bar lines begin to be counted. */
function signaturesOf(
  raw: Raw,
  choices: NotationChoices,
  notes: readonly RawNote[],
  { bar, first, isOneMeter }: { bar: number; first: number; isOneMeter: boolean },
  guess: (one: Guess) => void,
): { fifths: number; keyChanges: { at: Quarters; fifths: number }[] } {
  if (choices.fifths !== undefined) return { fifths: choices.fifths, keyChanges: [] }
  const sounding = notes.map(note => ({ pitch: note.pitch, onset: note.onset, length: note.end - note.onset }))
  const given: NonNullable<Raw['keys']> = []
  for (const key of raw.keys ?? []) {
    const before = given.at(-1)
    if (!before || (key.at > before.at && key.fifths !== before.fifths)) given.push(key)
  }
  // "No sharps or flats" and nothing else is what programs write where no key was set.
  const isUnset = given.length === 1 && given[0]!.fifths === 0 && isPlainlyElsewhere(sounding, 0)
  if (given.length > 0 && !isUnset) return signaturesGiven(given, notes, guess)
  const barOf = (onset: number) => Math.max(0, Math.floor((onset - first) / bar + BAR_EDGE))
  const keys = keysOf(sounding, isOneMeter ? barOf : () => 0)
  const [start, ...changes] = keys.map((key, index) => ({
    ...key,
    fifths: plainestSignature(
      key.fifths,
      sounding
        .filter(
          note =>
            keys.length === 1 ||
            (barOf(note.onset) >= key.bar && barOf(note.onset) < (keys[index + 1]?.bar ?? Infinity)),
        )
        .map(note => note.pitch),
    ),
  }))
  if (!start || (isUnset && start.fifths === 0)) return { fifths: 0, keyChanges: [] }
  guess({
    about: 'key',
    kind: 'key-found',
    from: 'notes',
    key: start,
    changes: changes.length,
    ...(isUnset ? { insteadOf: 0 } : {}),
  })
  return {
    fifths: start.fifths,
    keyChanges: changes.map(change => ({
      at: quarters(Math.round((first + change.bar * bar) * 24), 24),
      fifths: change.fifths,
    })),
  }
}

/** The file's own signatures: its word is left unless it needs double accidentals. */
function signaturesGiven(
  given: NonNullable<Raw['keys']>,
  notes: readonly RawNote[],
  guess: (one: Guess) => void,
): { fifths: number; keyChanges: { at: Quarters; fifths: number }[] } {
  const moments = given.map(key => key.at)
  const pitches = given.map((): MidiPitch[] => [])
  for (const note of notes) pitches[Math.max(0, bisectRight(moments, note.onset) - 1)]!.push(note.pitch)
  const written = given.map(({ at, fifths: from }, index) => {
    const fifths = needsDoubles(from, pitches[index]!) ? plainestSignature(from, pitches[index]!) : from
    return { at: quarters(Math.round(at * 32), 32), fifths, from }
  })
  const respelled = written.find(({ fifths, from }) => fifths !== from)
  if (respelled) guess({ about: 'key', kind: 'key-respelled', fifths: respelled.fifths, from: respelled.from })
  return { fifths: written[0]!.fifths, keyChanges: written.slice(1) }
}

/** A note this share of a bar early still belongs to the next bar. */
const BAR_EDGE = 0.02

function giveHands(raw: Raw, choices: NotationChoices, guess: (one: Guess) => void): (RawNote & { hand: Hand })[] {
  const sorted = [...raw.notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)
  const { hands } = choices
  if (hands === 'right' || hands === 'left') return sorted.map(note => ({ ...note, hand: hands }))
  if (sorted.every(note => note.hand !== undefined)) return sorted as (RawNote & { hand: Hand })[]
  // Played chords are spread: notes that begin within this are struck together.
  let moment = Number.NEGATIVE_INFINITY
  const together = sorted.map(note => {
    if (note.onset - moment > TOGETHER_SECONDS / raw.quarterSeconds) moment = note.onset
    return { ...note, onset: moment }
  })
  const found = separateHands(together, raw.quarterSeconds)
  guess({ about: 'hands', kind: 'told-apart' })
  return sorted.map((note, index) => ({ ...note, hand: found[index]! }))
}

const trackOf = ({ track }: RawNote) => (track === undefined ? {} : { track })

const TOGETHER_SECONDS = 0.04

/** The meters, and how far behind time 0 the first bar line is. */
function metersOf(
  raw: Raw,
  choices: NotationChoices,
  notes: readonly HandNote[],
  guess: (one: Guess) => void,
): { meters: { at: Quarters; meter: Meter }[]; barLine: Quarters } {
  if (choices.meter) return { meters: [{ at: ZERO, meter: choices.meter }], barLine: ZERO }
  if (raw.meters?.length)
    return {
      meters: raw.meters.map(({ at, meter }) => ({ at: at <= 0 ? ZERO : quarters(Math.round(at * 32), 32), meter })),
      barLine: ZERO,
    }
  const { meter, barLine } = findMeter(
    notes.map(({ onset, end, pitch }) => ({ onset: toDecimal(onset), end: toDecimal(end), pitch })),
  )
  guess({ about: 'meter', kind: 'meter-found', meter })
  return { meters: [{ at: ZERO, meter }], barLine: quarters(Math.round(barLine * 12), 12) }
}

/** How far the score begins behind time 0, and what stands before its first bar line. */
function beginning(
  meter: Meter,
  barLine: Quarters,
  onsets: readonly Quarters[],
  choices: NotationChoices,
  guess: (one: Guess) => void,
): { shift: Quarters; pickup: Quarters } {
  const first =
    onsets.reduce(
      (earliest: Quarters | undefined, at) => (earliest === undefined || compare(at, earliest) < 0 ? at : earliest),
      undefined,
    ) ?? ZERO
  const whole = barLength(meter)
  const bar = quarters(Math.floor(toDecimal(subtract(first, barLine)) / toDecimal(whole)))
  const barStart = add(barLine, multiply(bar, whole))
  if (choices.pickupQuarters !== undefined) {
    const asked = quarters(Math.round(choices.pickupQuarters * 24), 24)
    return { shift: first, pickup: asked }
  }
  const into = subtract(first, barStart)
  if (compare(multiply(into, quarters(2)), whole) < 0 || equal(into, ZERO)) return { shift: barStart, pickup: ZERO }
  const pickup = subtract(whole, into)
  guess({ about: 'pickup', kind: 'pickup', quarters: toDecimal(pickup) })
  return { shift: first, pickup }
}

/** Where a pedal or tempo mark is written: exactly in an exact file, else on the nearest eighth of a quarter note. */
function markPlace(at: number, exact: boolean, tolerance: number): Quarters {
  if (!exact) return quarters(Math.round(at * 8), 8)
  return readExact([{ onset: at, end: at }], tolerance)[0]!.onset
}

const laterThanZero = (at: Quarters): Quarters => (compare(at, ZERO) < 0 ? ZERO : at)

function onlyChanges(tempos: readonly TempoMark[]): TempoMark[] {
  const last = tempos.filter((tempo, index) => !tempos[index + 1] || !equal(tempos[index + 1]!.onset, tempo.onset))
  return last.filter((tempo, index) => index === 0 || Math.abs(last[index - 1]!.quarterBpm - tempo.quarterBpm) > 0.01)
}

/** A pedal that comes up and goes down again at one place is changed there. */
function pedalMarks(changes: readonly { onset: Quarters; down: boolean }[]): PedalMark[] {
  const marks: PedalMark[] = []
  for (const { onset, down } of changes) {
    const last = marks.at(-1)
    if (down && last?.kind === 'up' && compare(subtract(onset, last.onset), PEDAL_CHANGE) <= 0) {
      last.kind = 'change'
      last.onset = onset
    } else marks.push({ onset, kind: down ? 'down' : 'up' })
  }
  return marks
}

/** Quarter notes between up and down that are one movement of the foot. */
const PEDAL_CHANGE = quarters(1, 4)
