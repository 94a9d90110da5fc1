import { bisectCenter, bisector, bisectRight } from 'd3-array'
import { mean, median } from 'simple-statistics'
import { findPulse, type PulseEvent } from './find-pulse'
import type { Meter } from '../music/meter'
import { groupStrokes, standingOut } from './struck-events'
import { isExact } from './quantise'
import { withTriplets } from './thirds'
import type { Raw, RawNote } from './notate'

/** Divisions of the quarter note on one of which a file's notes gather when it was made to a click. */
const DIVISIONS = [1, 2, 3, 4, 6]
/**
 * How much they gather there at least: the length of the mean of their directions around the division (0 for none, 1
 * for all; own choice).
 */
const GATHERED = 0.35
/** Fewer events say nothing. */
const MIN_MOMENTS = 24
/** Notes that begin within this are struck together, ms. */
const TOGETHER_MS = 45

/** Whether the notes of a file follow its own beats, as those of a notation program or of playing to a click do. */
export function followsItsBeats({ notes, roles, toleranceQuarters }: Raw): boolean {
  const moments = [...new Set([...notes, ...roles.flatMap(role => role.notes)].map(note => note.onset))]
  if (moments.length < MIN_MOMENTS || isExact(moments, toleranceQuarters)) return true
  return DIVISIONS.some(division => {
    const turns = moments.map(at => 2 * Math.PI * at * division)
    return Math.hypot(mean(turns.map(Math.cos)), mean(turns.map(Math.sin))) >= GATHERED
  })
}

/** What the player knows of a recording: its meter, and times at which a bar begins, ms from the beginning. */
export interface Known {
  meter?: Meter
  barLinesMs?: readonly number[]
}

/** A recording on beats: what is to be written down, and when each of its moments was played. */
export interface Heard {
  raw: Raw
  clock: { quarter: number; ms: number }[]
}

/** A recording without a click, laid on the beats found in it. The file's own meters and tempo say nothing here. */
export function onItsOwnBeats(raw: Raw, { meter, barLinesMs = [] }: Known = {}): Heard {
  const toMs = clockOf(raw)
  const all = [...raw.notes, ...raw.roles.flatMap(role => role.notes)]
  const struck = all
    .map(note => ({ note, onset: toMs(note.onset), end: toMs(note.end), pitch: note.pitch }))
    .sort((a, b) => a.onset - b.onset)
  const { moments: struckTogether, momentOf } = groupStrokes(struck, TOGETHER_MS)
  const accents = standingOut(struckTogether)
  const moments = struckTogether.map(({ at }, index): PulseEvent => ({ atMs: at, accent: accents[index]! }))
  const momentOfNote = new Map(struck.map(({ note }, index) => [note, momentOf[index]!]))
  for (const ms of barLinesMs) {
    const nearest = moments[momentBy.center(moments, ms)]
    if (nearest) nearest.beginsBar = true
  }
  const { places: heard, pulses, meter: found } = findPulse(moments, meter)
  const places = withTriplets(
    moments.map(moment => moment.atMs),
    heard,
    pulses,
  )
  const lengths = moments
    .slice(1)
    .flatMap((moment, index) =>
      places[index + 1]! > places[index]!
        ? [(moment.atMs - moments[index]!.atMs) / (places[index + 1]! - places[index]!)]
        : [],
    )
  const quarterMs = lengths.length > 0 ? median(lengths) : 600
  /** Quarter notes from the first bar line, even between two moments; before and behind them at the usual tempo. */
  const quarterAt = (ms: number): number => {
    const after = momentBy.right(moments, ms)
    const [before, next] = [Math.max(0, after - 1), after === 0 ? undefined : moments[after]]
    const { atMs } = moments[before]!
    const step = next ? (places[after]! - places[before]!) / (next.atMs - atMs) : 1 / quarterMs
    return places[before]! + (ms - atMs) * step
  }
  return {
    raw: {
      ...laid(
        raw,
        quarterMs,
        note => places[momentOfNote.get(note)!]!,
        at => Math.max(0, quarterAt(toMs(at))),
      ),
      // Where bars are known to begin they are counted from there; else their meter is found once more, from the notes
      // on their beats.
      ...(barLinesMs.length > 0 ? { meters: [{ at: 0, meter: meter ?? found }] } : {}),
    },
    clock: moments.map(({ atMs }, index) => ({ quarter: places[index]!, ms: atMs })),
  }
}

/** Notes laid on other beats: `onsetOf` a note, and `placeOf` any time of the file, in quarter notes. */
function laid(raw: Raw, quarterMs: number, onsetOf: (note: RawNote) => number, placeOf: (at: number) => number): Raw {
  const lay = (note: RawNote): RawNote => {
    const onset = onsetOf(note)
    return { ...note, onset, end: Math.max(onset + 1 / 16, placeOf(note.end)) }
  }
  return {
    ...raw,
    notes: raw.notes.map(lay),
    roles: raw.roles.map(role => ({ ...role, notes: role.notes.map(lay) })),
    pedals: raw.pedals.map(({ at, down }) => ({ at: placeOf(at), down })),
    quarterSeconds: quarterMs / 1000,
    toleranceQuarters: 1 / 50,
    keys: raw.keys?.some(key => key.fifths !== 0) ? raw.keys.map(key => ({ ...key, at: placeOf(key.at) })) : undefined,
    meters: undefined,
    tempos: [{ at: 0, quarterBpm: Math.min(1000, Math.max(5, Math.round(60_000 / quarterMs))) }],
  }
}

/** A tap lies on the beat that is struck within this, ms. */
const TAP_MS = 130

/**
 * A recording laid on the beats tapped by the player: `tapsMs` from its beginning, each a fixed number of quarter
 * notes. Undefined for fewer than two taps.
 */
export function onTappedBeats(raw: Raw, tapsMs: readonly number[], tapQuarters: number): Heard | undefined {
  const toMs = clockOf(raw)
  const onsets = [
    ...new Set([...raw.notes, ...raw.roles.flatMap(role => role.notes)].map(note => toMs(note.onset))),
  ].sort((a, b) => a - b)
  const beats = [
    ...new Set(
      [...tapsMs]
        .sort((a, b) => a - b)
        .map(tap => {
          const nearest = onsets[bisectCenter(onsets, tap)]
          return nearest !== undefined && Math.abs(nearest - tap) <= TAP_MS ? nearest : tap
        }),
    ),
  ]
  if (beats.length < 2) return undefined
  const usual = median(beats.slice(1).map((beat, index) => beat - beats[index]!))
  // Whole beats before the first tap, so that nothing lies before time 0.
  const ahead = Math.ceil(Math.max(0, beats[0]! - (onsets[0] ?? 0)) / usual)
  const quarterAt = (ms: number): number => {
    const index = Math.max(0, bisectRight(beats, ms) - 1)
    const [from, to] = [beats[index]!, beats[index + 1]]
    const length = ms < from || to === undefined ? usual : to - from
    return Math.max(0, (ahead + index + (ms - from) / length) * tapQuarters)
  }
  return {
    raw: laid(
      raw,
      usual / tapQuarters,
      note => quarterAt(toMs(note.onset)),
      at => quarterAt(toMs(at)),
    ),
    clock: onsets.map(ms => ({ quarter: quarterAt(ms), ms })),
  }
}

const momentBy = bisector((moment: PulseEvent) => moment.atMs)

/** Quarter notes of the file as ms, by its tempos. */
export function clockOf({ tempos }: Raw): (at: number) => number {
  const from: { at: number; ms: number; quarterMs: number }[] = []
  for (const { at, quarterBpm } of [...tempos].sort((a, b) => a.at - b.at)) {
    const last = from.at(-1)
    from.push({
      at,
      ms: last ? last.ms + (at - last.at) * last.quarterMs : (at * 60_000) / quarterBpm,
      quarterMs: 60_000 / quarterBpm,
    })
  }
  const tempoBy = bisector((one: { at: number }) => one.at)
  return at => {
    const tempo = from[Math.max(0, tempoBy.right(from, at) - 1)]!
    return tempo.ms + (at - tempo.at) * tempo.quarterMs
  }
}
