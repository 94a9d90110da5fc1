import { bisector } from 'd3-array'
import { arrangementEnd, barAt, type Arrangement } from '../music/arrangement'
import type { Stretch } from '../music/passage'
import { add, compare, equal, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'
import { phraseBoundaries, type Boundary } from './boundaries'

export interface ProposedPart extends Stretch { name: string }

interface Section extends Stretch { name?: string }

/**
 * Proposes parts of at most `mostBars` bars: sections begin at rehearsal marks (exactly where they stand, so that a
 * pickup belongs to its phrase), after double bars and at repeats; a longer section is cut into nearly even pieces where
 * phrases end.
 */
export function proposeParts(arrangement: Arrangement, mostBars = 4): ProposedPart[] {
  let unnamed = 0
  const boundaries = phraseBoundaries(arrangement)
  return sectionsOf(arrangement).flatMap((section) => {
    const pieces = cutEvenly(arrangement, section, mostBars, boundaries)
    return pieces.map((piece, index) => ({
      ...piece,
      name: section.name ? (pieces.length > 1 ? `${section.name}, ${letter(index)}` : section.name) : `Part ${++unnamed}`,
    }))
  })
}

function sectionsOf(arrangement: Arrangement): Section[] {
  const end = arrangementEnd(arrangement)
  const edges: { at: Quarters, name?: string }[] = arrangement.rehearsals.map(({ onset, name }) => ({ at: onset, name }))
  const addUnnamed = (at: Quarters) => {
    const barQuarters = toDecimal(barAt(arrangement, at).length)
    if (!edges.some(edge => Math.abs(toDecimal(subtract(edge.at, at))) < barQuarters)) edges.push({ at })
  }
  for (const bar of arrangement.bars) {
    if (bar.repeatStart) addUnnamed(bar.start)
    if (bar.sectionEnd || bar.repeatEnd) addUnnamed(add(bar.start, bar.length))
  }
  addUnnamed(ZERO)
  const inOrder = edges.filter(edge => compare(edge.at, end) < 0).sort((a, b) => compare(a.at, b.at))
  if (inOrder[0]) inOrder[0].at = ZERO
  return inOrder.map((edge, index) => ({ from: edge.at, to: inOrder[index + 1]?.at ?? end, name: edge.name }))
}

/** How a cut is chosen: own choice. Strengths are those of `phraseBoundaries`. */
const CUTS = {
  /** A cut that lies a bar off its even share of the section costs so much, a strong boundary is worth so much. */
  unequalBar: 0.35, boundary: 1,
  /** A phrase begins before its bar line where a boundary there is clear, and clearer than the one on the line by so much. */
  clear: 0.5, clearer: 0.25,
} as const

/**
 * Cuts a section into pieces of at most `mostBars` bars, nearly even, at its strongest boundaries. All pieces begin on the section's own
 * beat, but where the music clearly begins earlier, on a pickup of its own.
 */
function cutEvenly(arrangement: Arrangement, section: Section, mostBars: number, boundaries: readonly Boundary[]): Stretch[] {
  const firstBar = barAt(arrangement, section.from)
  const phase = add(firstBar.offset, subtract(section.from, firstBar.start))
  const starts = arrangement.bars
    .map(bar => add(subtract(bar.start, bar.offset), phase))
    .filter(at => compare(at, section.from) >= 0 && compare(at, section.to) < 0)
  const bars = starts.length
  const pieces = Math.max(1, Math.ceil(bars / mostBars))
  const even = bars / pieces
  const places = starts.map((at, index) => index === 0 ? { at, strength: 0 } : beginningNear(arrangement, at, boundaries))
  // The cheapest chain of cuts: for each piece the bars it may begin at, none far from its even share, with the bar before it.
  const layers: Map<number, { cost: number, from: number }>[] = [new Map([[0, { cost: 0, from: -1 }]])]
  for (let piece = 1; piece < pieces; piece++) {
    const next = new Map<number, { cost: number, from: number }>()
    for (const [from, way] of layers[piece - 1]!) {
      for (let bar = from + 1; bar <= Math.min(bars - 1, from + mostBars); bar++) {
        if (bars - bar > (pieces - piece) * mostBars || Math.abs(bar - piece * even) > mostBars) continue
        const cost = way.cost + CUTS.unequalBar * (bar - piece * even) ** 2 - CUTS.boundary * places[bar]!.strength
        if (cost < (next.get(bar)?.cost ?? Number.POSITIVE_INFINITY) - 1e-9) next.set(bar, { cost, from })
      }
    }
    layers.push(next)
  }
  const last = [...layers.at(-1)!].reduce((least, way) => way[1].cost < least[1].cost ? way : least)
  const chosen = [last[0]]
  for (let piece = pieces - 1; piece > 0; piece--) chosen.unshift(layers[piece]!.get(chosen[0]!)!.from)
  const cuts = chosen.map((bar, index) => index === 0 ? section.from : places[bar]!.at)
  return cuts.map((from, piece) => ({ from, to: cuts[piece + 1] ?? section.to }))
}

/** Where the phrase that belongs to this line begins: on it, or on its pickup of less than half a bar. */
function beginningNear(arrangement: Arrangement, line: Quarters, boundaries: readonly Boundary[]): Boundary {
  const place = boundaryBy.left(boundaries, line)
  const onLine = boundaries[place] && equal(boundaries[place].at, line) ? boundaries[place].strength : 0
  const half = toDecimal(barAt(arrangement, line).length) / 2
  let strongest: Boundary | undefined
  for (let index = place - 1; index >= 0 && toDecimal(subtract(line, boundaries[index]!.at)) < half; index--) {
    if (boundaries[index]!.strength >= (strongest?.strength ?? 0)) strongest = boundaries[index]
  }
  return strongest && strongest.strength >= CUTS.clear && strongest.strength >= onLine + CUTS.clearer ? strongest : { at: line, strength: onLine }
}

const boundaryBy = bisector((boundary: Boundary, at: Quarters) => compare(boundary.at, at))

const letter = (index: number): string => index < 26 ? String.fromCharCode(97 + index) : String(index + 1)
