import { arrangementEnd, barAt, type Arrangement } from '../music/arrangement'
import type { Stretch } from '../music/passage'
import { add, compare, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'

export interface ProposedPart extends Stretch { name: string }

interface Section extends Stretch { name?: string }

/**
 * Proposes parts of at most `mostBars` bars: sections begin at rehearsal marks (exactly where they stand, so that a
 * pickup belongs to its phrase), after double bars and at repeats; a longer section is cut into even pieces that all
 * begin on the section's own beat.
 */
export function proposeParts(arrangement: Arrangement, mostBars = 4): ProposedPart[] {
  let unnamed = 0
  return sectionsOf(arrangement).flatMap((section) => {
    const pieces = cutEvenly(arrangement, section, mostBars)
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

function cutEvenly(arrangement: Arrangement, section: Section, mostBars: number): Stretch[] {
  const firstBar = barAt(arrangement, section.from)
  const phase = add(firstBar.offset, subtract(section.from, firstBar.start))
  const starts = arrangement.bars
    .map(bar => add(subtract(bar.start, bar.offset), phase))
    .filter(at => compare(at, section.from) >= 0 && compare(at, section.to) < 0)
  const bars = starts.length
  const pieces = Math.max(1, Math.ceil(bars / mostBars))
  const cuts = Array.from({ length: pieces }, (_, piece) => piece === 0 ? section.from : starts[Math.round(piece * bars / pieces)]!)
  return cuts.map((from, piece) => ({ from, to: cuts[piece + 1] ?? section.to }))
}

const letter = (index: number): string => index < 26 ? String.fromCharCode(97 + index) : String(index + 1)
