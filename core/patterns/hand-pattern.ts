import type { Hand } from '../music/arrangement'
import { isCompound, pulses, type Meter } from '../music/meter'
import { CHORD_TONES, fits, isUsual, row, usualMeters, type ChordTone, type Pattern, type PatternNote } from './pattern'

/**
 * Rows of a bar, by tone; a tone with `'` behind it lies an octave higher, with `,` an octave lower: `{ "third'":
 * '..x-' }`.
 */
export type HandRows = Readonly<Record<string, string>>

/** Bars that alternate, each of a number of felt beats in equal steps. */
export interface HandCycle {
  readonly beats: number
  readonly division: Pattern['division']
  readonly bars: readonly HandRows[]
  /** In thirds of a beat: only for beats that are three (6/8), not as triplets. */
  readonly isCompound?: true
}

/** What one hand plays to chords: plain data, as it is shipped, drawn on the grid, kept and sent. */
export interface HandPattern {
  /** Of those that ship, what it is called by; of a player's own, its title. */
  readonly name: string
  readonly cycles: readonly HandCycle[]
  /** The hands it is for. */
  readonly hands: readonly Hand[]
  /** Its rhythm continues when the chord changes within the bar; otherwise a new chord restarts the pattern. */
  readonly isOneRhythm?: true
  /** Only what falls where the other hand rests is played. */
  readonly answers?: true
  /** To a chart alone, what the other hand plays beside it, by name. */
  readonly beside?: string
}

const TONE = new RegExp(`^(${CHORD_TONES.join('|')})('*|,*)$`)

/**
 * A bar's rows as a pattern. Throws a RangeError for a tone or sign that is not known, or a row that is longer than the
 * bar.
 */
export function barOf({ beats, division }: Pick<HandCycle, 'beats' | 'division'>, rows: HandRows): Pattern<ChordTone> {
  const notes = Object.entries(rows).flatMap(([name, signs]): PatternNote<ChordTone>[] => {
    const [, tone, marks] = TONE.exec(name) ?? []
    if (tone === undefined)
      throw new RangeError(
        `"${name.slice(0, 20)}" is not a tone of a pattern: ${CHORD_TONES.join(', ')} were expected, with ' for an octave higher or , for one lower`,
      )
    const struck = row(tone as ChordTone, signs, marks!.startsWith(',') ? -marks!.length : marks!.length)
    const over = struck.find(({ step, length }) => step + length > beats * division)
    if (over)
      throw new RangeError(
        `the row "${name}" reaches to step ${over.step + over.length}; the bar has ${beats * division}`,
      )
    return struck
  })
  return { beats, division, notes: notes.sort((a, b) => a.step - b.step) }
}

const drawn = new WeakMap<HandCycle, Pattern<ChordTone>[]>()

/** The bars of a cycle, as patterns. */
export function barCountOf(cycle: HandCycle): readonly Pattern<ChordTone>[] {
  const known = drawn.get(cycle)
  if (known) return known
  const bars = cycle.bars.map(rows => barOf(cycle, rows))
  drawn.set(cycle, bars)
  return bars
}

/** Meters that a hand's pattern has bars for, among the usual ones. */
export const metersOfHand = ({ cycles }: HandPattern): string[] =>
  usualMeters(meter => cycles.some(cycle => cycleFits(cycle, meter)))

const cycleFits = (cycle: HandCycle, meter: Meter): boolean =>
  fits(barCountOf(cycle)[0]!, meter) && (!cycle.isCompound || isCompound(meter))

/** Whether a pattern can be played in a meter: it has bars of its own for it or, in an unusual one, for parts of it. */
export function canPlayIn({ cycles }: HandPattern, meter: Meter): boolean {
  if (cycles.some(cycle => cycleFits(cycle, meter))) return true
  const beats = pulses(meter).length
  return (
    !isUsual(meter) &&
    (beats === 1 ||
      partsOf(
        beats,
        [...new Set(formsFor(cycles, meter).map(cycle => cycle.beats))].sort((a, b) => b - a),
      ) !== undefined)
  )
}

/** The forms whose steps a meter's beats can be divided in. */
const formsFor = (cycles: readonly HandCycle[], meter: Meter): readonly HandCycle[] =>
  cycles.filter(
    ({ division, isCompound: isOnlyCompound }) =>
      division === 1 || (isCompound(meter) ? division === 3 : !meter.groups && !isOnlyCompound),
  )

/**
 * What a pattern plays on so many felt beats of a bar, from number `first` on; `turn` counts the bars. On part of a bar
 * it is the pattern's own form for so many beats, or the beginning of a longer one; a meter it has no form for is taken
 * in parts that it has one for, the larger first (5/4 as three and two; common practice).
 */
export function onBeats(pattern: HandPattern, meter: Meter, beats: number, turn: number): Pattern<ChordTone> {
  const isWhole = beats === pulses(meter).length
  const ofMeter = formsFor(pattern.cycles, meter)
  const cycles = ofMeter.length > 0 ? ofMeter : pattern.cycles
  const own = cycles.find(cycle => cycle.beats === beats)
  if (own) return barCountOf(own)[isWhole ? turn % own.bars.length : 0]!
  const longer = cycles.filter(cycle => cycle.beats > beats).sort((a, b) => a.beats - b.beats)[0]
  if (longer && beats < MIN_PART) return beginningOf(barCountOf(longer)[0]!, beats)
  const parts = partsOf(
    beats,
    [...new Set(cycles.map(cycle => cycle.beats))].sort((a, b) => b - a),
  )
  if (!parts) return beginningOf(barCountOf(longer ?? cycles[0]!)[0]!, beats)
  const forms = parts.map(size => barCountOf(cycles.find(cycle => cycle.beats === size)!)[0]!)
  const division = forms[0]!.division
  let from = 0
  const notes = forms.flatMap(form => {
    const shifted = form.division === division ? form.notes.map(note => ({ ...note, step: note.step + from })) : []
    from += form.beats * division
    return shifted
  })
  return { beats, division, notes }
}

/** Fewer beats than these are no parts to put together. */
const MIN_PART = 4

/** A number of beats as a sum of sizes, larger first; undefined where there is none. */
function partsOf(beats: number, sizes: readonly number[]): number[] | undefined {
  if (beats === 0) return []
  for (const size of sizes) {
    const rest = size <= beats ? partsOf(beats - size, sizes) : undefined
    if (rest) return [size, ...rest]
  }
  return undefined
}

function beginningOf({ division, notes }: Pattern<ChordTone>, beats: number): Pattern<ChordTone> {
  const end = beats * division
  return {
    beats,
    division,
    notes: notes
      .filter(({ step }) => step < end)
      .map(note => ({ ...note, length: Math.min(note.length, end - note.step) })),
  }
}
