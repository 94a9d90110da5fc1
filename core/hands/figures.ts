import type { FingerNote } from './finger-note'
import type { Hand } from '../music/arrangement'
import type { Finger } from './ergonomics'
import { isBlack } from './ergonomics'
import { shapeOf } from './hand-shape'
import { scaleFingers, SCALE_KINDS } from './scale-pattern'

/** A finger that a note should rather have, and what another one costs. */
export interface FingerPreference {
  finger: Finger
  cost: number
}

/**
 * How strongly a figure holds its fingers, in the unit of the effort, and when it is one. Own choice: a figure gives
 * way to what is locked and to what the hand cannot do, and to little else.
 */
export const FIGURE = {
  scale: 3,
  scaleEnd: 1.525,
  chromatic: 6,
  arpeggio: 6,
  arpeggioEnd: 5.5,
  shape: 9,
  position: 6,
  thirds: 3,
  bass: 6,
  /**
   * Notes of a scale run, of a chromatic one, of a broken chord over more than an octave, and over one; thirds that go
   * one way.
   */
  scaleNotes: 6,
  chromaticNotes: 5,
  arpeggioNotes: 5,
  octaveNotes: 4,
  thirdsInARow: 3,
  /**
   * A hand holds so much, half steps: five fingers side by side; a broken chord; one of three keys (a tenth); one that
   * only goes one way.
   */
  fiveFingers: 7,
  brokenChord: 12,
  brokenTenth: 16,
  heldChord: 14,
  /** A bass note lies so far, half steps, from what it alternates with. */
  bassAway: 5,
  bassFarAway: 8,
} as const

/** One hand's notes as the figures are looked for in: keys as for the right hand, moments in order. */
export interface Played {
  notes: readonly FingerNote[]
  keys: readonly number[]
  moments: readonly (readonly number[])[]
  hand: Hand
}

/**
 * The fingers that the figures of one hand's music have, note by note; undefined where there is none. `tonic`: the
 * key's, as a pitch class.
 */
export function figureWishes(played: Played, tonic?: number): (FingerPreference | undefined)[] {
  const wishes: (FingerPreference | undefined)[] = played.notes.map(() => undefined)
  for (const line of linesOf(played)) {
    chromaticRuns(played, line, wishes)
    scaleRuns(played, line, wishes, tonic)
    arpeggios(played, line, wishes, FIGURE.arpeggioNotes)
    repeatedFigures(played, line, wishes)
    arpeggios(played, line, wishes, FIGURE.octaveNotes)
    heldChords(played, line, wishes)
    positions(played, line, wishes)
  }
  thirds(played, wishes)
  bassNotes(played, wishes)
  return wishes
}

/** Stretches of one note after another. */
function linesOf({ moments }: Played): number[][] {
  const lines: number[][] = [[]]
  for (const struck of moments) {
    if (struck.length === 1) lines.at(-1)!.push(struck[0]!)
    else if (lines.at(-1)!.length > 0) lines.push([])
  }
  return lines.filter(line => line.length > 1)
}

/**
 * The longest pieces of a line in which every step is of a kind and goes one way; pieces share the notes where they
 * turn.
 */
function runsOf({ keys }: Played, line: readonly number[], isStep: (size: number) => boolean): number[][] {
  const runs: number[][] = []
  for (let from = 0; from < line.length - 1;) {
    const step = (at: number) => keys[line[at + 1]!]! - keys[line[at]!]!
    const way = Math.sign(step(from))
    let to = from
    while (to < line.length - 1 && Math.sign(step(to)) === way && isStep(Math.abs(step(to)))) to++
    if (to > from) runs.push(line.slice(from, to + 1))
    from = Math.max(from + 1, to)
  }
  return runs
}

const isFree = (wishes: readonly (FingerPreference | undefined)[], run: readonly number[]) =>
  run.slice(1, -1).every(note => wishes[note] === undefined)
const classOf = (pitch: number) => ((pitch % 12) + 12) % 12

/**
 * The third finger on black keys, the thumb on white ones; where two white keys meet, the second finger on the one
 * farther out.
 */
function chromaticRuns(played: Played, line: readonly number[], wishes: (FingerPreference | undefined)[]): void {
  const outer = played.hand === 'right' ? [5, 0] : [4, 11]
  for (const run of runsOf(played, line, size => size === 1)) {
    if (run.length < FIGURE.chromaticNotes) continue
    run.forEach((note, at) => {
      const { pitch } = played.notes[note]!
      const isEnd = at === 0 || at === run.length - 1
      wishes[note] = {
        finger: isBlack(pitch) ? 3 : outer.includes(classOf(pitch)) ? 2 : 1,
        cost: isEnd ? FIGURE.scaleEnd : FIGURE.chromatic,
      }
    })
  }
}

/**
 * A run of steps through a scale wants the scale's own fingers; which scale, its notes say, with the key's tonic where
 * several fit.
 */
function scaleRuns(
  played: Played,
  line: readonly number[],
  wishes: (FingerPreference | undefined)[],
  tonic?: number,
): void {
  let before: number | undefined
  for (const run of runsOf(played, line, size => size <= 3)) {
    if (run.length < FIGURE.scaleNotes || !isFree(wishes, run)) continue
    const classes = run.map(note => classOf(played.notes[note]!.pitch))
    let best: { worth: number; scale: number[]; tonic: number } | undefined
    for (let root = 0; root < 12; root++) {
      SCALE_KINDS.forEach((steps, kind) => {
        const scale = steps.map(step => (root + step) % 12)
        const degrees = classes.map(one => scale.indexOf(one))
        if (
          degrees.some((degree, at) => degree < 0 || (at > 0 && ![1, 6].includes((degree - degrees[at - 1]! + 7) % 7)))
        )
          return
        const worth =
          (classes[0] === root ? 2 : 0) +
          (classes.at(-1) === root ? 2 : 0) +
          (root === tonic ? 3 : 0) +
          (root === before ? 2 : 0) -
          0.1 * kind
        if (!best || worth > best.worth) best = { worth, scale, tonic: root }
      })
    }
    if (!best) continue
    before = best.tonic
    // What is locked inside the run turns its groups.
    const kept = new Map(
      run
        .slice(1, -1)
        .flatMap(note =>
          played.notes[note]!.locked === undefined
            ? []
            : [[classOf(played.notes[note]!.pitch), played.notes[note]!.locked!] as const],
        ),
    )
    const fingers = scaleFingers(best.scale, played.hand, kept)
    run.forEach((note, at) => {
      const isEnd = at === 0 || at === run.length - 1
      if (wishes[note] && isEnd) return
      wishes[note] = { finger: fingers.get(classes[at]!)!, cost: isEnd ? FIGURE.scaleEnd : FIGURE.scale }
    })
  }
}

/**
 * A broken chord over an octave and more: the thumb on its first key where that is white, otherwise on the first white
 * one (on the first key where all are black); between thumbs the fingers of the chord with its octave (common
 * practice).
 */
function arpeggios(
  played: Played,
  line: readonly number[],
  wishes: (FingerPreference | undefined)[],
  least: number,
): void {
  const { keys, notes } = played
  for (const run of runsOf(played, line, size => size >= 3 && size <= 9)) {
    if (
      run.length < least ||
      !isFree(wishes, run) ||
      (run.length < FIGURE.arpeggioNotes && run.some(note => wishes[note] !== undefined))
    )
      continue
    const rising = keys[run.at(-1)!]! > keys[run[0]!]! ? run : [...run].reverse()
    const size = rising.findIndex((note, at) => at > 0 && keys[note]! - keys[rising[0]!]! === 12)
    if (size < 3 || rising.some((note, at) => at >= size && keys[note]! - keys[rising[at - size]!]! !== 12)) continue
    const thumb = Math.max(
      0,
      rising.slice(0, size).findIndex(note => !isBlack(notes[note]!.pitch)),
    )
    // The chord from one thumb to the next.
    const cycle = Array.from({ length: size + 1 }, (_, at) => {
      const note = rising[(thumb + at) % size]!
      return { key: keys[note]! + 12 * Math.floor((thumb + at) / size), pitch: notes[note]!.pitch }
    })
    const shape = shapeOf(
      cycle.map(one => one.key),
      cycle.map(one => one.pitch),
    )
    if (!shape) continue
    rising.forEach((note, at) => {
      const place = (at - thumb + size) % size
      const isTop = at === rising.length - 1
      const isBottom = at === 0
      // The hand need not pass once more at the top; below the first thumb it begins with the fingers next to it.
      const finger = place === 0 && isTop && at > 0 ? 5 : shape.fingers[place]!
      if (!wishes[note]) wishes[note] = { finger, cost: isTop || isBottom ? FIGURE.arpeggioEnd : FIGURE.arpeggio }
    })
  }
}

/** The ranks of a group's keys among themselves: the figure, whatever the chord. */
function contour(keys: readonly number[]): string {
  const sorted = [...new Set(keys)].sort((a, b) => a - b)
  return keys.map(key => sorted.indexOf(key)).join()
}

/**
 * Figures of a few notes that come back with the same contour, on the same chord or another: each keeps the hand of its
 * chord.
 */
function repeatedFigures(played: Played, line: readonly number[], wishes: (FingerPreference | undefined)[]): void {
  const { keys } = played
  const groupAt = (from: number, size: number): string | undefined => {
    if (from < 0 || from + size > line.length) return undefined
    const group = line.slice(from, from + size)
    if (group.some(note => wishes[note] !== undefined)) return undefined
    const own = group.map(note => keys[note]!)
    const sorted = [...new Set(own)].sort((a, b) => a - b)
    const gaps = sorted.slice(1).map((key, at) => key - sorted[at]!)
    const isChord =
      sorted.length >= 3 &&
      sorted.length <= 5 &&
      sorted.length < size + 1 &&
      sorted.at(-1)! - sorted[0]! <= (sorted.length === 3 ? FIGURE.brokenTenth : FIGURE.brokenChord) &&
      gaps.filter(gap => gap >= 3).length >= gaps.length - 1
    return isChord ? contour(own) : undefined
  }
  for (let from = 0; from < line.length;) {
    let best = { size: 0, offset: 0, count: 0 }
    for (const size of [4, 3, 6, 8]) {
      for (let offset = 0; offset < size; offset++) {
        const first = groupAt(from + offset, size)
        if (first === undefined) continue
        let count = 1
        while (groupAt(from + offset + count * size, size) === first) count++
        if (count >= 2 && count * size - offset > best.count * best.size - best.offset) best = { size, offset, count }
      }
    }
    if (best.count === 0) {
      from++
      continue
    }
    for (let group = 0; group < best.count; group++)
      holdShape(
        played,
        line.slice(from + best.offset + group * best.size, from + best.offset + (group + 1) * best.size),
        wishes,
        FIGURE.shape,
      )
    from += best.offset + best.count * best.size
  }
}

/** A broken chord that goes one way and that the hand holds whole. */
function heldChords(played: Played, line: readonly number[], wishes: (FingerPreference | undefined)[]): void {
  for (const run of runsOf(played, line, size => size >= 2 && size <= 9)) {
    const own = run.map(note => played.keys[note]!)
    const width = Math.abs(own.at(-1)! - own[0]!)
    const steps = own.slice(1).map((key, at) => Math.abs(key - own[at]!))
    const isChord =
      run.length === 3
        ? steps.every(step => step >= 3)
        : run.length >= 4 && run.length <= 5 && steps.filter(step => step >= 3).length >= 2
    if (isChord && width <= FIGURE.heldChord && run.every(note => wishes[note] === undefined))
      holdShape(played, run, wishes, FIGURE.shape)
  }
}

/** A tune that stays within five keys side by side keeps one finger for each. */
function positions(played: Played, line: readonly number[], wishes: (FingerPreference | undefined)[]): void {
  const { keys } = played
  for (let from = 0; from < line.length;) {
    let to = from
    const own = new Set<number>()
    const fits = (key: number) =>
      Math.max(...own, key) - Math.min(...own, key) <= FIGURE.fiveFingers && (own.has(key) || own.size < 5)
    while (to < line.length && wishes[line[to]!] === undefined && (own.size === 0 || fits(keys[line[to]!]!)))
      own.add(keys[line[to++]!]!)
    const group = line.slice(from, to)
    const moved = group.map(note => keys[note]!).filter((key, at, all) => at === 0 || key !== all[at - 1])
    const turns = moved.filter(
      (key, at) => at > 0 && at < moved.length - 1 && (key - moved[at - 1]!) * (moved[at + 1]! - key) < 0,
    ).length
    if (group.length >= 5 && own.size >= 4 && Math.max(...own) - Math.min(...own) >= 5 && turns > 0)
      holdShape(played, group, wishes, FIGURE.position)
    from = Math.max(from + 1, to)
  }
}

/** One finger for each key of a group, as for the chord of all its keys. */
function holdShape(
  { notes, keys }: Played,
  group: readonly number[],
  wishes: (FingerPreference | undefined)[],
  cost: number,
): void {
  const sorted = [...new Map(group.map(note => [keys[note]!, note]))].sort(([a], [b]) => a - b)
  const kept = sorted.map(([key]) =>
    group.map(note => (keys[note] === key ? notes[note]!.locked : undefined)).find(finger => finger !== undefined),
  )
  const shape = shapeOf(
    sorted.map(([key]) => key),
    sorted.map(([, note]) => notes[note]!.pitch),
    kept,
  )
  if (!shape) return
  const fingers = new Map(sorted.map(([key], at) => [key, shape.fingers[at]!]))
  for (const note of group) wishes[note] = { finger: fingers.get(keys[note]!)!, cost }
}

/**
 * Thirds that go up or down by steps: 1-3, 2-4, 3-5, and again, so that the outermost has 3-5 (one of several printed
 * ways; common practice).
 */
function thirds({ keys, moments }: Played, wishes: (FingerPreference | undefined)[]): void {
  const isThird = (struck: readonly number[]) =>
    struck.length === 2 && [3, 4].includes(keys[struck[1]!]! - keys[struck[0]!]!)
  for (let from = 0; from < moments.length;) {
    const step = (at: number) => keys[moments[at + 1]![0]!]! - keys[moments[at]![0]!]!
    let to = from
    while (
      to + 1 < moments.length &&
      isThird(moments[to]!) &&
      isThird(moments[to + 1]!) &&
      Math.abs(step(to)) <= 2 &&
      Math.sign(step(to)) === Math.sign(step(from)) &&
      step(to) !== 0
    )
      to++
    if (to - from + 1 >= FIGURE.thirdsInARow) {
      const run = moments.slice(from, to + 1)
      const outward = step(from) > 0 ? [...run].reverse() : run
      outward.forEach((struck, at) => {
        const low = 3 - (at % 3)
        wishes[struck[0]!] = { finger: low as Finger, cost: FIGURE.thirds }
        wishes[struck[1]!] = { finger: (low + 2) as Finger, cost: FIGURE.thirds }
      })
    }
    from = Math.max(from + 1, to)
  }
}

/**
 * A note on the little finger's side that alternates with chords or with keys far away has the little finger (stride,
 * waltz: common practice); one on the thumb's side the thumb.
 */
function bassNotes({ keys, moments }: Played, wishes: (FingerPreference | undefined)[]): void {
  moments.forEach((struck, at) => {
    if (struck.length !== 1) return
    const key = keys[struck[0]!]!
    const beside = [moments[at - 1], moments[at + 1]].filter(one => one !== undefined)
    const isAway = (side: 1 | -1) =>
      beside.length > 0 &&
      beside.every(other => {
        const gaps = other.map(note => side * (key - keys[note]!))
        return Math.min(...gaps) >= (other.length > 1 ? FIGURE.bassAway : FIGURE.bassFarAway)
      }) &&
      beside.some(other => other.length > 1 || beside.length > 1)
    if (isAway(1)) wishes[struck[0]!] = { finger: 5, cost: FIGURE.bass }
    else if (isAway(-1)) wishes[struck[0]!] = { finger: 1, cost: FIGURE.bass / 2 }
  })
}
