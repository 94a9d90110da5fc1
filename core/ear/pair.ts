import { bisector } from 'd3-array'
import type { PairingParameters } from './parameters'

/** A note or stroke to be paired: only those of one run may be. */
export interface DueNote {
  pitch: number
  run: number
  fromMs: number
  toMs: number
  looseness: number
  missed: number
}
export interface Stroke {
  pitch: number
  run: number
  onsetMs: number
  extra: number
}

export interface PairingRequest {
  due: readonly DueNote[]
  /** Sorted by onset. */
  strokes: readonly Stroke[]
  /** When the other strokes of the note's chord came, without this one. */
  companions: (due: number, stroke: number) => number | undefined
  unsteadinessMs: number
  beatMs: number
  pairing: PairingParameters
}

interface Edge {
  due: number
  stroke: number
  cost: number
}

/**
 * Pairs strokes with notes so that the total cost is lowest: a right key costs by its distance in time from where its
 * neighbours put it, a wrong key by that and its distance on the keyboard, an unmatched note or stroke a fixed amount.
 * Gives the stroke of each note or null, and the total cost. Certain pairs are assigned at once; the rest falls into
 * small groups solved as assignment problems by shortest augmenting paths. Linear in the length of the take.
 */
export function pairNotes(request: PairingRequest): { standsFor: (number | null)[]; cost: number } {
  const standsFor = new Array<number | null>(request.due.length).fill(null)
  const edges = edgesOf(request)
  const settled = assignCertain(request, edges, standsFor)
  for (const group of groupsOf(
    edges.filter(({ due, stroke }) => !settled.due[due] && !settled.stroke[stroke]),
    request.due.length,
  )) {
    assign(group, request, standsFor)
  }
  const cost = edges.reduce((sum, edge) => (standsFor[edge.due] === edge.stroke ? sum + edge.cost : sum), 0)
  uncrossPairs(request, standsFor)
  return { standsFor, cost }
}

/** Distance of a stroke from the note's window, ms. */
const offBy = (atMs: number, { fromMs, toMs }: DueNote): number => Math.max(0, fromMs - atMs, atMs - toMs)

/**
 * −log of a Student density with 3 degrees of freedom, up to a constant: bell-shaped in the middle, tolerant far out.
 */
const timeCost = (offMs: number, spreadMs: number): number => 2 * Math.log1p((offMs / spreadMs) ** 2 / 3)

function spreadOf({ unsteadinessMs, pairing }: PairingRequest, due: DueNote): number {
  return due.looseness * Math.min(pairing.maxSpreadMs, Math.max(pairing.minSpreadMs, unsteadinessMs))
}

/** Strokes that are considered for one note. */
const MAX_RIVALS = 24

function edgesOf(request: PairingRequest): Edge[] {
  const { due, strokes, pairing, beatMs, companions } = request
  const edges: Edge[] = []
  const strokeBy = bisector((stroke: number) => strokes[stroke]!.onsetMs)
  const byRun = new Map<number, number[]>()
  strokes.forEach(({ run }, stroke) => {
    if (run < 0) return
    const list = byRun.get(run)
    if (list) list.push(stroke)
    else byRun.set(run, [stroke])
  })
  due.forEach((note, index) => {
    const own = byRun.get(note.run)
    if (!own) return
    const spreadMs = spreadOf(request, note)
    const reachMs = Math.min(
      pairing.maxReachMs,
      Math.max(pairing.minReachMs, pairing.reachBeats * beatMs, 4 * spreadMs),
    )
    let rivals: Edge[] = []
    for (let at = strokeBy.left(own, note.fromMs - reachMs); at < own.length; at++) {
      const stroke = own[at]!
      const { onsetMs, pitch, extra } = strokes[stroke]!
      if (onsetMs > note.toMs + reachMs) break
      let offMs = offBy(onsetMs, note)
      // Only a stroke outside the window needs the support of its chord.
      const companionsMs = offMs > 0 ? companions(index, stroke) : undefined
      if (companionsMs !== undefined) offMs = Math.min(offMs, Math.abs(onsetMs - companionsMs))
      // A right key may come at any time; another key is meant for the note only near its due time.
      const cost =
        pitch === note.pitch
          ? Math.min(timeCost(offMs, spreadMs), pairing.maxTimePenalty)
          : 0.5 * (offMs / Math.max(spreadMs, pairing.wrongSpreadMs)) ** 2 + wrongCost(pitch - note.pitch, pairing)
      if (cost < note.missed + extra) rivals.push({ due: index, stroke, cost })
    }
    // A fist on the keyboard produces hundreds; the cheapest are enough.
    if (rivals.length > MAX_RIVALS) rivals = rivals.sort((a, b) => a.cost - b.cost).slice(0, MAX_RIVALS)
    edges.push(...rivals)
  })
  return edges
}

/** The cost of taking a key for a note this many half steps away. */
function wrongCost(semitones: number, pairing: PairingParameters): number {
  const far = Math.abs(semitones)
  return (
    pairing.wrong +
    (far <= 2
      ? pairing.beside
      : far % 12 === 0
        ? pairing.octave
        : far <= 7
          ? pairing.near
          : far <= 12
            ? pairing.far
            : pairing.elsewhere)
  )
}

/** Right keys near their time with no nearer note of that key. */
function assignCertain({ due, strokes, pairing }: PairingRequest, edges: readonly Edge[], result: (number | null)[]) {
  const right = edges.filter(edge => due[edge.due]!.pitch === strokes[edge.stroke]!.pitch)
  const bestOfDue = cheapest(right, edge => edge.due, due.length)
  const bestOfStroke = cheapest(right, edge => edge.stroke, strokes.length)
  const settled = { due: new Uint8Array(due.length), stroke: new Uint8Array(strokes.length) }
  for (const edge of right) {
    if (edge.cost > pairing.certain || bestOfDue[edge.due] !== edge || bestOfStroke[edge.stroke] !== edge) continue
    settled.due[edge.due] = 1
    settled.stroke[edge.stroke] = 1
    result[edge.due] = edge.stroke
  }
  return settled
}

function cheapest(edges: readonly Edge[], of: (edge: Edge) => number, count: number): (Edge | undefined)[] {
  const best = new Array<Edge | undefined>(count).fill(undefined)
  for (const edge of edges) {
    const known = best[of(edge)]
    if (!known || edge.cost < known.cost) best[of(edge)] = edge
  }
  return best
}

/** Connected components: edges that share a note or a stroke. */
function groupsOf(edges: readonly Edge[], notes: number): Edge[][] {
  const parent = new Map<number, number>()
  const find = (node: number): number => {
    let root = node
    while ((parent.get(root) ?? root) !== root) root = parent.get(root)!
    for (let at = node; at !== root;) {
      const up = parent.get(at) ?? at
      parent.set(at, root)
      at = up
    }
    return root
  }
  for (const { due, stroke } of edges) parent.set(find(due), find(notes + stroke))
  const groups = new Map<number, Edge[]>()
  for (const edge of edges) {
    const root = find(edge.due)
    const group = groups.get(root)
    if (group) group.push(edge)
    else groups.set(root, [edge])
  }
  return [...groups.values()]
}

/**
 * The cheapest assignment within a group. Every note may also stay alone (a column of its own at the cost of a missed
 * note); a stroke left over has its own cost, which is subtracted from the edges that use it.
 */
function assign(group: readonly Edge[], { due, strokes }: PairingRequest, result: (number | null)[]) {
  const rows = [...new Set(group.map(edge => edge.due))]
  const columns = [...new Set(group.map(edge => edge.stroke))]
  const rowOf = new Map(rows.map((note, row) => [note, row]))
  const columnOf = new Map(columns.map((stroke, column) => [stroke, column]))
  const ways: { column: number; cost: number }[][] = rows.map((note, row) => [
    { column: columns.length + row, cost: due[note]!.missed },
  ])
  for (const edge of group) {
    ways[rowOf.get(edge.due)!]!.push({
      column: columnOf.get(edge.stroke)!,
      cost: edge.cost - strokes[edge.stroke]!.extra,
    })
  }
  const taken = shortestAugmentingPaths(ways, columns.length + rows.length)
  taken.forEach((column, row) => {
    if (column < columns.length) result[rows[row]!] = columns[column]!
  })
}

/** The column of each row at the lowest total cost. Every row has a column that only it can use. */
function shortestAugmentingPaths(ways: readonly { column: number; cost: number }[][], columns: number): Int32Array {
  const columnOf = new Int32Array(ways.length).fill(-1)
  const rowOf = new Int32Array(columns).fill(-1)
  const rowPrice = new Float64Array(ways.length)
  const columnPrice = new Float64Array(columns)
  const distance = new Float64Array(columns).fill(Infinity)
  const cameFrom = new Int32Array(columns)
  const done = new Uint8Array(columns)
  for (let start = 0; start < ways.length; start++) {
    const reached: number[] = []
    let row = start
    let walked = 0
    let end = -1
    // Costs may be negative: the reduced cost of the first row is measured from its cheapest edge.
    rowPrice[start] = Math.min(...ways[start]!.map(({ column, cost }) => cost - columnPrice[column]!))
    while (end < 0) {
      for (const { column, cost } of ways[row]!) {
        if (done[column]) continue
        const length = walked + cost - rowPrice[row]! - columnPrice[column]!
        if (length >= distance[column]!) continue
        if (distance[column] === Infinity) reached.push(column)
        distance[column] = length
        cameFrom[column] = row
      }
      let nearest = -1
      for (const column of reached)
        if (!done[column] && (nearest < 0 || distance[column]! < distance[nearest]!)) nearest = column
      done[nearest] = 1
      walked = distance[nearest]!
      if (rowOf[nearest]! < 0) end = nearest
      else row = rowOf[nearest]!
    }
    for (const column of reached) {
      if (!done[column] || column === end) continue
      const slack = walked - distance[column]!
      columnPrice[column]! -= slack
      rowPrice[rowOf[column]!]! += slack
    }
    rowPrice[start]! += walked
    for (let column = end; ;) {
      const from = cameFrom[column]!
      const before = columnOf[from]!
      columnOf[from] = column
      rowOf[column] = from
      if (from === start) break
      column = before
    }
    for (const column of reached) {
      distance[column] = Infinity
      done[column] = 0
    }
  }
  return columnOf
}

/** Of two notes on one key, the earlier one has the earlier stroke. */
function uncrossPairs({ due, strokes }: PairingRequest, result: (number | null)[]) {
  const last = new Map<number, number>()
  result.forEach((stroke, index) => {
    if (stroke === null || strokes[stroke]!.pitch !== due[index]!.pitch) return
    const key = 128 * due[index]!.run + due[index]!.pitch
    const before = last.get(key)
    if (before !== undefined && result[before]! > stroke && due[before]!.fromMs <= due[index]!.fromMs) {
      result[index] = result[before]!
      result[before] = stroke
    }
    last.set(key, index)
  })
}
