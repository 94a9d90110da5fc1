import { EACH_HAND } from '#core/music/arrangement'
import { bisector, group, mode, rollup } from 'd3-array'
import type { Hand } from '../../music/arrangement'
import type { Heard, HeardNote } from '../heard'
import type { Timing } from '../measures/timing'
import { robustMean, robustSpread } from '../statistics'
import { struckName } from './notes'
import { isDisplaced } from './route'
import { atPlaces, barNumbersOf, weigh, type WeightedFinding } from './weighed'

/**
 * The same fault in this many places, and in this share of the places where it could occur, is a habit (own choice; a
 * teacher says it once).
 */
const HABIT_PLACES = 3
const HABIT_SHARE = 0.6
/** A hand is displaced when this many consecutive notes, over several events, are off by the same amount. */
const DISPLACED_NOTES = 3
const DISPLACED_OCTAVE_MOMENTS = 3

/** Note errors that are one habit, with the notes and extra strokes they account for, by index. */
export function habitFindings(heard: Heard): {
  weighed: WeightedFinding[]
  told: ReadonlySet<number>
  toldExtras: ReadonlySet<number>
} {
  const told = new Set<number>()
  const toldExtras = new Set<number>()
  const weighed: WeightedFinding[] = []
  const wrong = () => heard.notes.filter(note => note.outcome === 'wrong' && !told.has(note.index))
  const tell = (notes: readonly HeardNote[], one?: WeightedFinding) => {
    for (const note of notes) told.add(note.index)
    if (one) weighed.push(one)
  }
  displacedWhole(heard, tell)
  signatureForgotten(heard, wrong(), tell)
  for (const hand of EACH_HAND) displacedStretches(heard, hand, told, toldExtras, tell)
  inversions(heard, wrong(), tell)
  sameKeys(heard, wrong(), tell)
  return { weighed, told, toldExtras }
}

type Tell = (notes: readonly HeardNote[], weighed?: WeightedFinding) => void

function displacedWhole({ notes, alignment }: Heard, tell: Tell): void {
  const { displaced } = alignment
  if (!displaced) return
  const own = notes.filter(note => note.outcome === 'wrong' && isDisplaced(note, displaced))
  if (own.length === 0) return
  tell(own, {
    weight: 24,
    finding: {
      kind: 'hand-displaced',
      ...atPlaces(own),
      ...barNumbersOf(own),
      halfSteps: displaced.halfSteps,
      keys: off(own[0]!, whiteKey),
      whole: true,
    },
  })
}

/** How keys are counted: every key, or white keys, where a black key counts as the white one below it. */
type Counting = (pitch: number) => number
interface Shift {
  by: Counting
  off: number
}

const WHITE = [0, 0, 1, 1, 2, 3, 3, 4, 4, 5, 5, 6]
const halfSteps: Counting = pitch => pitch
const whiteKey: Counting = pitch => 7 * Math.floor(pitch / 12) + WHITE[pitch % 12]!

/** Distance of the struck key from its note. */
const off = ({ written, stroke }: HeardNote, by: Counting): number => by(stroke!.pitch) - by(written.pitch)

/** The displacements these notes suggest, in half steps first. */
const shiftsOf = (notes: readonly HeardNote[]): Shift[] =>
  [halfSteps, whiteKey].flatMap(by =>
    [...new Set(notes.map(note => off(note, by)))].filter(one => one !== 0).map(one => ({ by, off: one })),
  )

/** How many of an event's notes were struck at the displacement, whichever note each stroke was paired with. */
function fitsShift(notes: readonly HeardNote[], by: Counting, shift: number): number {
  const struck = notes.map(note => by(note.stroke!.pitch))
  return notes.filter(({ written }) => {
    const at = struck.indexOf(by(written.pitch) + shift)
    if (at >= 0) struck.splice(at, 1)
    return at >= 0
  }).length
}

/** By how much most of the notes are off, in half steps and in white keys. */
function shiftIn(notes: readonly HeardNote[]): { halfSteps: number; keys: number } {
  const usual = mode(notes.map(note => off(note, halfSteps)))
  return {
    halfSteps: usual,
    keys: off(
      notes.find(note => off(note, halfSteps) === usual)!,
      whiteKey,
    ),
  }
}

/** Events at each edge that belong to a displaced passage. */
const EDGE_MOMENTS = 2
/** Notes between two passages of one displacement that may not fit: a key that happens to be right, a slip. */
const BETWEEN_STRETCHES = 3

/** Passages in which a hand lies the same number of half steps, or of white keys, from where it is written. */
function displacedStretches(
  heard: Heard,
  hand: Hand,
  told: ReadonlySet<number>,
  toldExtras: Set<number>,
  tell: Tell,
): void {
  const isFree = (note: HeardNote) => note.outcome === 'wrong' && !told.has(note.index)
  const own = [
    ...group(
      heard.notes.filter(note => note.written.hand === hand && note.outcome !== 'missed' && !note.written.grace),
      note => note.event,
    ),
  ]
    .sort(([a], [b]) => a - b)
    .map(([, notes]) => ({ notes, isFree: notes.some(isFree) }))
  const sizeOf = (first: number, last: number) =>
    own.slice(first, last + 1).reduce((sum, { notes }) => sum + notes.length, 0)
  const runFrom = (from: number, { by, off }: Shift) => {
    let last = from
    let fitting = 0
    for (let at = from, between = 0; at < own.length && between <= BETWEEN_STRETCHES; at++) {
      const fits = own[at]!.isFree ? fitsShift(own[at]!.notes, by, off) : 0
      between = fits > 0 ? 0 : between + own[at]!.notes.length
      if (fits > 0) last = at
      fitting += fits
    }
    return { by, off, last, fitting }
  }
  const stretches: { notes: HeardNote[]; off: number; last: number }[] = []
  for (let from = 0; from < own.length; from++) {
    if (!own[from]!.isFree) continue
    const [run] = shiftsOf(own[from]!.notes.filter(isFree))
      .map(shift => runFrom(from, shift))
      .sort((a, b) => b.fitting - a.fitting)
    if (!run) continue
    const isChromatic = run.by === halfSteps
    const notes = own.slice(from, run.last + 1).flatMap(event => event.notes.filter(isFree))
    const events = new Set(notes.map(note => note.event)).size
    const isOctave = isChromatic && run.off % 12 === 0
    const isEnough = isOctave
      ? events >= DISPLACED_OCTAVE_MOMENTS
      : run.fitting >= (isChromatic ? DISPLACED_NOTES : DISPLACED_NOTES + 1) && events >= 2
    // Most notes in between must be displaced too: a habit of one key is not a displaced hand.
    if (!isEnough || run.fitting < 0.7 * sizeOf(from, run.last)) continue
    const before = stretches.at(-1)
    if (
      before &&
      sizeOf(before.last + 1, from - 1) < 2 * BETWEEN_STRETCHES &&
      Math.sign(before.off) === Math.sign(run.off)
    ) {
      before.notes.push(...own.slice(before.last + 1, from).flatMap(event => event.notes.filter(isFree)), ...notes)
      before.last = run.last
    } else stretches.push({ notes, off: run.off, last: run.last })
    from = run.last
  }
  for (const { notes, off } of stretches) {
    const [first, last] = [notes[0]!, notes.at(-1)!]
    // Other errors and extra keys inside and right beside the passage belong to it: the hand lay on other keys and took
    // some of the other's.
    const there = notesBetween(heard, first.event - EDGE_MOMENTS, last.event + EDGE_MOMENTS)
    const missing = there.filter(note => note.outcome === 'missed')
    tell(there.filter(isFree))
    tell(missing)
    tell(notes, {
      weight: 12 + Math.min(8, notes.length / 2),
      finding: { kind: 'hand-displaced', ...atPlaces(notes), ...barNumbersOf(notes), ...shiftIn(notes), whole: false },
    })
    const [fromMs, toMs] = [first.dueMs - heard.beatMs, last.dueMs + heard.beatMs]
    const { extras } = heard.alignment
    for (
      let at = bisector((extra: (typeof extras)[number]) => heard.take.notes[extra.played]!.onsetMs).left(
        extras,
        fromMs,
      );
      at < extras.length;
      at++
    ) {
      const { played, reason } = extras[at]!
      const { pitch, onsetMs } = heard.take.notes[played]!
      if (onsetMs > toMs) break
      const isNear = there.some(
        note =>
          Math.abs(pitch - note.written.pitch) <= Math.max(2, Math.abs(off)) &&
          Math.abs(note.dueMs - onsetMs) < heard.beatMs,
      )
      if (!reason && isNear) toldExtras.add(played)
    }
  }
}

/** The written notes of some events, in order. */
const notesBetween = ({ notes, alignment: { events } }: Heard, first: number, last: number): HeardNote[] =>
  events
    .slice(Math.max(0, first), last + 1)
    .flatMap(event => event.notes.map(note => notes[note]!))
    .sort((a, b) => a.index - b.index)

const SHARPS = ['F', 'C', 'G', 'D', 'A', 'E', 'B']

/** The letters that a key signature alters: in two sharps F and C. */
const altered = (fifths: number): readonly string[] => (fifths >= 0 ? SHARPS.slice(0, fifths) : SHARPS.slice(fifths))

/** Notes that the key signature raises or lowers, played on the white key. */
function signatureForgotten(heard: Heard, wrong: readonly HeardNote[], tell: Tell): void {
  const { arrangement, notes } = heard
  const isOfSignature = ({ written }: HeardNote) => {
    const { fifths } = arrangement.bars[written.barIndex]!
    return (
      /^[A-G][#b]-?\d+$/.test(written.spelled) &&
      altered(fifths).includes(written.spelled[0]!) &&
      fifths > 0 === (written.spelled[1] === '#')
    )
  }
  const isNatural = ({ written, stroke }: HeardNote) =>
    stroke!.pitch === written.pitch - (written.spelled[1] === '#' ? 1 : -1)
  for (const [letter, group_] of group(
    wrong.filter(note => isOfSignature(note) && isNatural(note)),
    note => note.written.spelled[0]!,
  )) {
    const all = notes.filter(
      note => note.outcome !== 'missed' && isOfSignature(note) && note.written.spelled[0] === letter,
    )
    if (group_.length < HABIT_PLACES || group_.length < 0.5 * all.length) continue
    const { written } = group_[0]!
    tell(group_, {
      weight: 13 + Math.min(6, group_.length / 2),
      finding: {
        kind: 'signature-forgotten',
        ...atPlaces(group_),
        written: written.spelled.slice(0, 2),
        instead: letter,
        fifths: arrangement.bars[written.barIndex]!.fifths,
      },
    })
  }
}

/** A chord that is taken in another inversion wherever it comes. */
function inversions(heard: Heard, wrong: readonly HeardNote[], tell: Tell): void {
  const free = new Set(wrong.map(note => note.index))
  if (new Set(wrong.map(note => note.event)).size < HABIT_PLACES) return
  const chords = heard.alignment.events
    .filter(event => event.notes.length >= 3)
    .flatMap(({ notes }) =>
      EACH_HAND.map(hand =>
        notes.map(note => heard.notes[note]!).filter(({ written }) => written.hand === hand && !written.grace),
      ).filter(chord => chord.length >= 3),
    )
  const name = (chord: readonly HeardNote[]) =>
    chord
      .map(note => note.written.pitch)
      .sort((a, b) => a - b)
      .join()
  const isInverted = (chord: readonly HeardNote[]) =>
    chord.every(note => note.stroke) &&
    chord.some(note => free.has(note.index)) &&
    same(
      chord.map(note => note.written.pitch % 12),
      chord.map(note => note.stroke!.pitch % 12),
    )
  for (const [, alike] of group(chords, name)) {
    const inverted = alike.filter(isInverted)
    if (inverted.length < HABIT_PLACES || inverted.length < HABIT_SHARE * alike.length) continue
    const [first] = inverted as [HeardNote[]]
    tell(
      inverted.flat().filter(note => note.outcome === 'wrong'),
      {
        weight: 12 + Math.min(6, inverted.length),
        finding: {
          kind: 'habit',
          habit: 'inversion',
          ...atPlaces(inverted.map(chord => chord[0]!)),
          written: first.map(note => note.written.spelled),
          instead: first
            .map(note => note.stroke!.pitch)
            .sort((a, b) => a - b)
            .map(pitch => struckName(heard, pitch, first[0]!.written.barIndex)),
        },
      },
    )
  }
}

const same = (a: readonly number[], b: readonly number[]): boolean =>
  [...a].sort((x, y) => x - y).join() === [...b].sort((x, y) => x - y).join()

/** The same key instead of the same note, wherever it comes. */
function sameKeys(heard: Heard, wrong: readonly HeardNote[], tell: Tell): void {
  const played = rollup(
    heard.notes.filter(note => note.outcome !== 'missed'),
    alike => alike.length,
    note => note.written.hand,
    note => note.written.pitch,
  )
  for (const [, alike] of group(wrong, ({ written, stroke }) => `${written.hand}:${written.pitch}:${stroke!.pitch}`)) {
    const { written, stroke } = alike[0]!
    if (alike.length < HABIT_PLACES || alike.length < HABIT_SHARE * played.get(written.hand)!.get(written.pitch)!)
      continue
    tell(alike, {
      weight: 12 + Math.min(6, alike.length),
      finding: {
        kind: 'habit',
        habit: 'same-key',
        ...atPlaces(alike),
        written: written.spelled,
        instead: struckName(heard, stroke!.pitch, written.barIndex),
      },
    })
  }
}

/**
 * A finger or key that comes late: at least this many notes, at most half of the hand's, later than the rest by this
 * much and by this multiple of the uncertainty.
 */
const LATE_NOTES = 6
const LATE_MS = 30
const LATE_CERTAIN = 5
/** Fingers are named only where this share of the hand's notes has one written. */
const FINGERED_SHARE = 0.6

/** One finger that always comes late; where no fingers are written, one key. */
export function lateHabit({ ear }: Heard, { residuals, onTimeMs }: Timing): WeightedFinding[] {
  const leastMs = Math.max(LATE_MS, ear.tolerances.offsetShare * onTimeMs)
  return EACH_HAND.flatMap((hand): WeightedFinding[] => {
    const own = residuals.filter(({ note }) => note.written.hand === hand)
    const fingered = own.filter(({ note }) => note.written.finger !== undefined)
    const byFinger = fingered.length >= FINGERED_SHARE * own.length
    const groups = group(byFinger ? fingered : own, ({ note }) =>
      byFinger ? note.written.finger! : note.written.pitch,
    )
    let worst: { notes: HeardNote[]; ms: number } | undefined
    const usualMs = robustMean(own.map(one => one.ms))
    for (const late of groups.values()) {
      if (late.length < LATE_NOTES || 2 * late.length > own.length) continue
      const lateMs = late.map(one => one.ms)
      // The rest cannot lie farther from the usual than this group: most groups need no closer look.
      if (robustMean(lateMs) - usualMs < 0.4 * leastMs) continue
      const isLate = new Set(late)
      const restMs = own.flatMap(one => (isLate.has(one) ? [] : [one.ms]))
      const ms = robustMean(lateMs) - robustMean(restMs)
      const uncertainty = Math.hypot(
        robustSpread(lateMs) / Math.sqrt(lateMs.length),
        robustSpread(restMs) / Math.sqrt(restMs.length),
      )
      if (ms > leastMs && ms > LATE_CERTAIN * uncertainty && ms > (worst?.ms ?? 0))
        worst = { notes: late.map(one => one.note), ms }
    }
    if (!worst) return []
    const places = atPlaces(worst.notes)
    const { finger, spelled } = worst.notes[0]!.written
    const ms = Math.round(worst.ms)
    return [
      {
        weight: weigh(8, ms / leastMs, 13),
        finding: byFinger
          ? { kind: 'habit', habit: 'late-finger', ...places, finger: finger!, ms }
          : { kind: 'habit', habit: 'late-key', ...places, written: spelled, ms },
      },
    ]
  })
}
