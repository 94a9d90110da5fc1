import { bisector } from 'd3-array'
import { mean, median } from 'simple-statistics'
import { findPulse, type PulseMoment } from './find-pulse'
import { isExact } from './quantise'
import type { Raw, RawNote } from './notate'

/** Divisions of the quarter note on one of which a file's notes gather when it was made to a click. */
const DIVISIONS = [1, 2, 3, 4, 6]
/** How much they gather there at least: the length of the mean of their directions around the division (0 for none, 1 for all; own choice). */
const GATHERED = 0.35
/** Fewer moments say nothing. */
const FEWEST_MOMENTS = 24
/** What begins within this is struck together, ms. */
const TOGETHER_MS = 45
/** A pause longer than this many usual steps makes a moment stand out; notes below this key are a bass. */
const LONG_STEPS = 1.6
const BASS_BELOW = 60

/** Whether the notes of a file follow its own beats, as those of a notation program or of playing to a click do. */
export function followsItsBeats({ notes, roles, toleranceQuarters }: Raw): boolean {
  const moments = [...new Set([...notes, ...roles.flatMap(role => role.notes)].map(note => note.onset))]
  if (moments.length < FEWEST_MOMENTS || isExact(moments, toleranceQuarters)) return true
  return DIVISIONS.some((division) => {
    const turns = moments.map(at => 2 * Math.PI * at * division)
    return Math.hypot(mean(turns.map(Math.cos)), mean(turns.map(Math.sin))) >= GATHERED
  })
}

/** What was played without a click, laid on the beats that are heard in it. The file's own meters say nothing of it, and its tempo neither. */
export function onItsOwnBeats(raw: Raw): Raw {
  const toMs = clockOf(raw)
  const all = [...raw.notes, ...raw.roles.flatMap(role => role.notes)]
  const struck = [...all].sort((a, b) => a.onset - b.onset)
  const moments: (PulseMoment & { pitches: number[] })[] = []
  const momentOf = new Map<RawNote, number>()
  for (const note of struck) {
    const atMs = toMs(note.onset)
    if (moments.length === 0 || atMs - moments.at(-1)!.atMs > TOGETHER_MS) moments.push({ atMs, accent: 0, pitches: [] })
    moments.at(-1)!.pitches.push(note.pitch)
    momentOf.set(note, moments.length - 1)
  }
  const steps = moments.slice(1).map((moment, index) => moment.atMs - moments[index]!.atMs)
  const usualMs = steps.length > 0 ? median(steps) : 500
  moments.forEach((moment, index) => {
    const isLong = (steps[index] ?? Infinity) > LONG_STEPS * usualMs
    const isBass = moment.pitches.some(pitch => pitch < BASS_BELOW)
    moment.accent = Math.min(1, (isBass ? 0.5 : 0) + (moment.pitches.length > 1 ? 0.3 : 0) + (isLong ? 0.4 : 0))
  })
  const { places, pulses: PULSES, meter } = findPulse(moments)
  const pulses = steps.flatMap((step, index) => places[index + 1]! > places[index]! ? [step / (places[index + 1]! - places[index]!)] : [])
  const quarterMs = PULSES * (pulses.length > 0 ? median(pulses) : 150)
  /** Quarter notes from the first bar line, even between two moments; before and behind them at the usual tempo. */
  const quarterAt = (ms: number): number => {
    const after = momentBy.right(moments, ms)
    const [before, next] = [Math.max(0, after - 1), after === 0 ? undefined : moments[after]]
    const { atMs } = moments[before]!
    const step = next ? (places[after]! - places[before]!) / PULSES / (next.atMs - atMs) : 1 / quarterMs
    return places[before]! / PULSES + (ms - atMs) * step
  }
  const lay = (note: RawNote): RawNote => {
    const onset = places[momentOf.get(note)!]! / PULSES
    return { ...note, onset, end: Math.max(onset + 1 / 16, quarterAt(toMs(note.end))) }
  }
  return {
    ...raw, notes: raw.notes.map(lay), roles: raw.roles.map(role => ({ ...role, notes: role.notes.map(lay) })),
    pedals: raw.pedals.map(({ at, down }) => ({ at: Math.max(0, quarterAt(toMs(at))), down })),
    quarterSeconds: quarterMs / 1000, toleranceQuarters: 1 / 50, meters: [{ at: 0, meter }], fifths: raw.fifths || undefined,
    tempos: [{ at: 0, quarterBpm: Math.min(1000, Math.max(5, Math.round(60_000 / quarterMs))) }],
  }
}

const momentBy = bisector((moment: PulseMoment) => moment.atMs)

/** Quarter notes of the file as ms, by its tempos. */
function clockOf({ tempos }: Raw): (at: number) => number {
  const from: { at: number, ms: number, quarterMs: number }[] = []
  for (const { at, quarterBpm } of [...tempos].sort((a, b) => a.at - b.at)) {
    const last = from.at(-1)
    from.push({ at, ms: last ? last.ms + (at - last.at) * last.quarterMs : at * 60_000 / quarterBpm, quarterMs: 60_000 / quarterBpm })
  }
  const tempoBy = bisector((one: { at: number }) => one.at)
  return (at) => {
    const tempo = from[Math.max(0, tempoBy.right(from, at) - 1)]!
    return tempo.ms + (at - tempo.at) * tempo.quarterMs
  }
}
