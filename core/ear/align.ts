import type { ExpectedNote } from '../music/passage'
import { matchWindowMs, wrongWindowMs, type EarParameters } from './parameters'
import type { TakeNote } from './take'

export type Outcome = 'right' | 'wrong' | 'missed'

/** What became of each expected note, in the order of the expected notes, and the played notes that stand for none. */
export interface Alignment {
  outcomes: { outcome: Outcome, played: number | null }[]
  /** Indices of played notes, ascending. */
  extras: number[]
}

/**
 * Decides which played note is which expected note when it is known when each is due. Each key by itself is
 * first aligned in order of time so that the sum of distances is least; what is then left over is paired, nearest
 * first, as wrong notes. Both lists are sorted by time; times are in ms on the same clock.
 */
export function alignToTimes(expected: readonly ExpectedNote[], played: readonly TakeNote[], beatMs: number, ear: EarParameters): Alignment {
  const standsFor = new Array<number | null>(expected.length).fill(null)
  const used = new Array<boolean>(played.length).fill(false)
  const playedByPitch = groupByPitch(played)
  for (const [pitch, due] of groupByPitch(expected)) {
    for (const [expectedIndex, playedIndex] of matchInOrder(due, playedByPitch.get(pitch) ?? [], expected, played, matchWindowMs(ear, beatMs))) {
      standsFor[expectedIndex] = playedIndex
      used[playedIndex] = true
    }
  }
  const outcomes = standsFor.map((match): Alignment['outcomes'][number] =>
    ({ outcome: match === null ? 'missed' : 'right', played: match }))
  for (const { expectedIndex, playedIndex } of wrongPairs(expected, played, standsFor, used, wrongWindowMs(ear, beatMs))) {
    outcomes[expectedIndex] = { outcome: 'wrong', played: playedIndex }
    used[playedIndex] = true
  }
  return { outcomes, extras: used.flatMap((isUsed, index) => isUsed ? [] : [index]) }
}

function groupByPitch(notes: readonly { pitch: number }[]): Map<number, number[]> {
  const groups = new Map<number, number[]>()
  notes.forEach(({ pitch }, index) => {
    const group = groups.get(pitch)
    if (group) group.push(index)
    else groups.set(pitch, [index])
  })
  return groups
}

/**
 * The monotone matching of one key's due times and strokes that leaves out as little and moves as little as
 * possible: a pair costs its distance, a note left out half the window. Stretches between which nothing can
 * match are solved one by one, so the work grows with the length of the take.
 */
function matchInOrder(due: number[], strokes: number[], expected: readonly ExpectedNote[], played: readonly TakeNote[], windowMs: number): [number, number][] {
  const pairs: [number, number][] = []
  const dueAt = (i: number) => expected[due[i]!]!.onsetMs
  const strokeAt = (j: number) => played[strokes[j]!]!.onsetMs
  let i = 0
  let j = 0
  while (i < due.length && j < strokes.length) {
    if (strokeAt(j) < dueAt(i) - windowMs) { j++; continue }
    if (strokeAt(j) > dueAt(i) + windowMs) { i++; continue }
    let iEnd = i + 1
    let jEnd = j + 1
    let grown = true
    while (grown) {
      grown = false
      const reach = Math.max(dueAt(iEnd - 1), strokeAt(jEnd - 1)) + windowMs
      while (iEnd < due.length && dueAt(iEnd) <= reach) { iEnd++; grown = true }
      while (jEnd < strokes.length && strokeAt(jEnd) <= reach) { jEnd++; grown = true }
      if ((iEnd - i) * (jEnd - j) > 250_000) break
    }
    for (const [a, b] of cheapestMatching(iEnd - i, jEnd - j, (a, b) => Math.abs(dueAt(i + a) - strokeAt(j + b)), windowMs)) {
      pairs.push([due[i + a]!, strokes[j + b]!])
    }
    i = iEnd
    j = jEnd
  }
  return pairs
}

function cheapestMatching(rows: number, columns: number, distance: (row: number, column: number) => number, windowMs: number): [number, number][] {
  const width = columns + 1
  const cost = new Float64Array((rows + 1) * width)
  const skip = windowMs / 2
  for (let row = 0; row <= rows; row++) {
    for (let column = 0; column <= columns; column++) {
      if (row === 0 || column === 0) {
        cost[row * width + column] = skip * (row + column)
        continue
      }
      cost[row * width + column] = Math.min(
        cost[(row - 1) * width + column]! + skip,
        cost[row * width + column - 1]! + skip,
        cost[(row - 1) * width + column - 1]! + distance(row - 1, column - 1),
      )
    }
  }
  const pairs: [number, number][] = []
  let row = rows
  let column = columns
  while (row > 0 && column > 0) {
    const here = cost[row * width + column]!
    if (here === cost[(row - 1) * width + column]! + skip) row--
    else if (here === cost[row * width + column - 1]! + skip) column--
    else pairs.push([--row, --column])
  }
  return pairs.reverse()
}

function wrongPairs(expected: readonly ExpectedNote[], played: readonly TakeNote[], standsFor: readonly (number | null)[], used: readonly boolean[], windowMs: number) {
  const left = used.flatMap((isUsed, index) => isUsed ? [] : [index])
  const candidates: { expectedIndex: number, playedIndex: number, cost: number }[] = []
  let from = 0
  standsFor.forEach((match, expectedIndex) => {
    if (match !== null) return
    const note = expected[expectedIndex]!
    while (from < left.length && played[left[from]!]!.onsetMs < note.onsetMs - windowMs) from++
    for (let at = from; at < left.length; at++) {
      const stroke = played[left[at]!]!
      if (stroke.onsetMs > note.onsetMs + windowMs) break
      candidates.push({ expectedIndex, playedIndex: left[at]!, cost: wrongCost(note, stroke, windowMs) })
    }
  })
  candidates.sort((a, b) => a.cost - b.cost)
  const takenExpected = new Set<number>()
  const takenPlayed = new Set<number>()
  return candidates.filter(({ expectedIndex, playedIndex }) => {
    if (takenExpected.has(expectedIndex) || takenPlayed.has(playedIndex)) return false
    takenExpected.add(expectedIndex)
    takenPlayed.add(playedIndex)
    return true
  })
}

/** How unlikely it is that a key was meant for a note: by time, and by distance on the keyboard; an octave is a near miss. */
export function wrongCost(note: { pitch: number, onsetMs: number }, stroke: { pitch: number, onsetMs: number }, windowMs: number): number {
  const semitones = Math.abs(note.pitch - stroke.pitch)
  const reach = semitones > 0 && semitones % 12 === 0 ? 2 : Math.min(12, semitones)
  return Math.abs(note.onsetMs - stroke.onsetMs) / windowMs + reach / 12
}
