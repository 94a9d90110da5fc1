import { EACH_HAND } from '#core/music/arrangement'
import type {
  Arrangement,
  Bar,
  ChordSymbol,
  Hand,
  Lyric,
  Note,
  OtherRole,
  PedalMark,
  Rehearsal,
  SwingMark,
  TempoMark,
} from './arrangement'
import { barLength, type Meter } from './meter'
import { inOrder } from './note-list'
import { playingOrder } from './playing-order'
import { spellInKey, type MidiPitch } from './pitch'
import { add, compare, equal, later, subtract, ZERO, type Quarters } from './quarters'

/** A note at its written time, with no id or spelling yet. */
export interface HandNote {
  hand: Hand
  onset: Quarters
  end: Quarters
  pitch: MidiPitch
  track?: number
  grace?: Note['grace']
  /** Spelling to use where the key's own is not meant. */
  spelled?: string
  articulations?: string[]
}
export interface RoleNotes extends Omit<OtherRole, 'notes'> {
  notes: Omit<HandNote, 'hand'>[]
}

/** The frame of a song beside its notes. Times in quarter notes from the first written beat. */
export interface Frame {
  title: string
  composer?: string
  /** Each meter with its start; the first starts at 0. */
  meters: { at: Quarters; meter: Meter }[]
  fifths: number
  /** Other signatures, from later bar lines on. */
  keyChanges?: { at: Quarters; fifths: number }[]
  /** The beats before the first bar line, shorter than a bar. */
  pickup: Quarters
  tempos: TempoMark[]
  pedals?: PedalMark[]
  swing?: Omit<SwingMark, 'onset'>
  chords?: ChordSymbol[]
  rehearsals?: Rehearsal[]
  lyrics?: Lyric[]
  /** Ends of sections, moments of the score. */
  sectionEnds?: Quarters[]
  /** The earliest end of the last bar. */
  end?: Quarters
}

/** Lays notes out in bars: an arrangement with ids, spelling by key, and no key sounding twice at once in a hand. */
export function arrange(frame: Frame, handNotes: readonly HandNote[], roles: readonly RoleNotes[] = []): Arrangement {
  const sorted = [...handNotes].sort(inOrder)
  const end = [...handNotes, ...roles.flatMap(role => role.notes)].reduce(
    (latest, note) => later(latest, note.end),
    frame.end ?? ZERO,
  )
  const bars = layOutBars(frame, end)
  let count = 0
  let merged = 0
  const barIndexAt = indexer(bars)
  const written = <T extends Omit<HandNote, 'hand'>>(notes: readonly T[], voice: (note: T) => string) =>
    withoutOverlap(notes, () => merged++).map(note => {
      const barIndex = barIndexAt(note.onset)
      return {
        id: `n${++count}`,
        barIndex,
        onset: note.onset,
        duration: subtract(note.end, note.onset),
        pitch: note.pitch,
        spelled: note.spelled ?? spellInKey(note.pitch, bars[barIndex]!.fifths),
        voice: voice(note),
        tiedIds: [] as string[],
        ...(note.track === undefined ? {} : { track: note.track }),
        ...(note.grace ? { grace: note.grace } : {}),
        ...(note.articulations ? { articulations: note.articulations } : {}),
      }
    })
  const hands = EACH_HAND.flatMap(hand =>
    written(
      sorted.filter(note => note.hand === hand),
      () => (hand === 'right' ? '1' : '5'),
    ).map((note): Note => ({ ...note, hand })),
  )
  const others = roles.map(role => ({
    ...role,
    notes: written(
      [...role.notes].sort((a, b) => compare(a.onset, b.onset) || a.pitch - b.pitch),
      () => '1',
    ),
  }))
  return {
    format: 'half-step/arrangement',
    version: 1,
    title: frame.title,
    composer: frame.composer ?? '',
    bars,
    order: playingOrder(bars),
    notes: hands.sort(inOrder),
    others,
    chords: frame.chords ?? [],
    lyrics: frame.lyrics ?? [],
    pedals: frame.pedals ?? [],
    dynamics: [],
    tempos: frame.tempos,
    ...(frame.swing ? { swings: [{ onset: ZERO, ...frame.swing }] } : {}),
    rehearsals: frame.rehearsals ?? [],
    warnings: merged > 0 ? [{ kind: 'merged-notes', notes: merged }] : [],
  }
}

function layOutBars({ meters, fifths: first, keyChanges = [], pickup, sectionEnds = [] }: Frame, end: Quarters): Bar[] {
  const bars: Bar[] = []
  let start = ZERO
  const hasPickup = compare(pickup, ZERO) > 0
  const meterAt = latestOf(meters)
  const keyAt = latestOf(keyChanges)
  while (bars.length === 0 || compare(start, end) < 0) {
    const { now, next } = meterAt(start)
    const meter = (now ?? meters[0]!).meter
    const whole = barLength(meter)
    const isPickup = bars.length === 0 && hasPickup
    const change = next && compare(next.at, add(start, whole)) < 0 ? next : undefined
    const length = isPickup ? pickup : change ? subtract(change.at, start) : whole
    const index = bars.length
    const stop = add(start, length)
    const fifths = keyAt(start).now?.fifths ?? first
    bars.push({
      index,
      number: hasPickup ? index : index + 1,
      start,
      length,
      offset: isPickup ? subtract(whole, pickup) : ZERO,
      meter,
      fifths,
      ...(sectionEnds.some(at => equal(at, stop)) || compare(stop, end) >= 0 ? { sectionEnd: true } : {}),
    })
    start = stop
  }
  return bars
}

/** For marks in time order: a function that gives the mark in force and the next one, for times that never decrease. */
function latestOf<Mark extends { at: Quarters }>(marks: readonly Mark[]) {
  let passed = 0
  return (at: Quarters): { now: Mark | undefined; next: Mark | undefined } => {
    while (passed < marks.length && compare(marks[passed]!.at, at) <= 0) passed++
    return { now: marks[passed - 1], next: marks[passed] }
  }
}

/** A function that gives the bar of a time, for times that never decrease. */
function indexer(bars: readonly Bar[]) {
  let index = 0
  return (onset: Quarters) => {
    if (compare(bars[index]!.start, onset) > 0) index = 0
    while (index + 1 < bars.length && compare(bars[index + 1]!.start, onset) <= 0) index++
    return index
  }
}

/** A key struck again ends its earlier note; two strikes at one time are one note, the longer. */
function withoutOverlap<T extends Omit<HandNote, 'hand'>>(notes: readonly T[], merge: () => void): T[] {
  const last = new Map<MidiPitch, T>()
  const kept: T[] = []
  for (const note of notes) {
    const before = last.get(note.pitch)
    if (before && equal(before.onset, note.onset) && !before.grace && !note.grace) {
      before.end = later(before.end, note.end)
      merge()
      continue
    }
    if (before && compare(before.end, note.onset) > 0) before.end = note.onset
    const own = { ...note }
    kept.push(own)
    last.set(note.pitch, own)
  }
  return kept
}
