import type { ExpectedNote } from '../music/passage'
import type { EarParameters } from './parameters'
import { lineThrough, slopeOf } from './statistics'
import type { TakeNote } from './take'

/** Where the beats of a take without a click lie: a clock from expected to played milliseconds. */
export interface FreeTempo {
  /** The moment in the take at which an expected moment is due at the local tempo. */
  dueMs: (expectedMs: number) => number
  /** Overall tempo: played milliseconds for one expected millisecond (2 = twice as slow). */
  stretch: number
}

interface Anchor { expectedMs: number, playedMs: number }

const GAP = -0.45
const MISMATCH = -0.6

/**
 * Finds start and tempo of a take from its notes alone: written and played chords are aligned in order by the
 * keys they share (Needleman and Wunsch's global alignment, within a band around the diagonal), and lines are
 * laid through the neighbouring pairs. `undefined` when fewer than two places agree.
 */
export function findFreeTempo(expected: readonly ExpectedNote[], played: readonly TakeNote[], ear: EarParameters): FreeTempo | undefined {
  const anchors = anchorsOf(expected.filter(note => !note.grace), played, ear)
  if (anchors.length < 2) return undefined
  const stretch = slopeOf(anchors.map(({ expectedMs, playedMs }) => [expectedMs, playedMs]))
  if (!(stretch > 0)) return undefined
  return { stretch, dueMs: expectedMs => localDue(anchors, expectedMs, stretch, ear.localTempoEvents) }
}

/** The line through the nearest anchors, read at one expected moment. */
function localDue(anchors: readonly Anchor[], expectedMs: number, stretch: number, events: number): number {
  let low = 0
  let high = anchors.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (anchors[middle]!.expectedMs < expectedMs) low = middle + 1
    else high = middle
  }
  const from = Math.max(0, Math.min(low - Math.ceil(events / 2), anchors.length - events))
  const near = anchors.slice(from, from + events)
  const points = near.map(({ expectedMs: x, playedMs: y }): [number, number] => [x, y])
  if (points.length < 3) return near[0]!.playedMs + stretch * (expectedMs - near[0]!.expectedMs)
  const { slope, intercept } = lineThrough(points)
  return intercept + slope * expectedMs
}

function anchorsOf(expected: readonly ExpectedNote[], played: readonly TakeNote[], ear: EarParameters): Anchor[] {
  const written = gather(expected, 1)
  const struck = gather(played, ear.chordClusterMs)
  const rows = written.length
  const columns = struck.length
  if (rows === 0 || columns === 0) return []
  const half = Math.max(60, Math.abs(rows - columns) + 40, Math.ceil(0.1 * Math.max(rows, columns)))
  const centre = (row: number) => Math.round(row * columns / rows)
  const width = 2 * half + 1
  const score = new Float32Array((rows + 1) * width).fill(-Infinity)
  const from = new Uint8Array((rows + 1) * width)
  const at = (row: number, column: number) => {
    const inBand = column - centre(row) + half
    return inBand < 0 || inBand >= width || column < 0 || column > columns ? -1 : row * width + inBand
  }
  for (let row = 0; row <= rows; row++) {
    for (let column = Math.max(0, centre(row) - half); column <= Math.min(columns, centre(row) + half); column++) {
      const here = at(row, column)
      let best = row === 0 && column === 0 ? 0 : -Infinity
      let way = 0
      const consider = (before: number, gain: number, step: number) => {
        if (before >= 0 && score[before]! + gain > best) { best = score[before]! + gain; way = step }
      }
      if (row > 0 && column > 0) consider(at(row - 1, column - 1), similarity(written[row - 1]!.pitches, struck[column - 1]!.pitches), 1)
      if (row > 0) consider(at(row - 1, column), GAP, 2)
      if (column > 0) consider(at(row, column - 1), row === 0 || row === rows ? GAP / 3 : GAP, 3)
      score[here] = best
      from[here] = way
    }
  }
  const anchors: Anchor[] = []
  let row = rows
  let column = columns
  while (row > 0 || column > 0) {
    const way = from[at(row, column)]
    if (way === 1) {
      row--
      column--
      if (similarity(written[row]!.pitches, struck[column]!.pitches) > 0) anchors.push({ expectedMs: written[row]!.atMs, playedMs: struck[column]!.atMs })
    }
    else if (way === 2) row--
    else if (way === 3) column--
    else break
  }
  return anchors.reverse()
}

/** Notes struck (nearly) together, with the moment of the middle one. */
function gather(notes: readonly { onsetMs: number, pitch: number }[], gapMs: number): { atMs: number, pitches: number[] }[] {
  const groups: { onsets: number[], pitches: number[] }[] = []
  for (const { onsetMs, pitch } of notes) {
    const group = groups.at(-1)
    if (group && onsetMs - group.onsets.at(-1)! < gapMs) {
      group.onsets.push(onsetMs)
      group.pitches.push(pitch)
    }
    else groups.push({ onsets: [onsetMs], pitches: [pitch] })
  }
  return groups.map(({ onsets, pitches }) => ({ atMs: onsets[onsets.length >> 1]!, pitches }))
}

/** From MISMATCH (no key shared) to 1 (the same keys). */
function similarity(a: readonly number[], b: readonly number[]): number {
  const shared = a.filter(pitch => b.includes(pitch)).length
  return shared === 0 ? MISMATCH : 2 * shared / (a.length + b.length)
}
