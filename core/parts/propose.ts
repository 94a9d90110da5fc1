import { bisector } from 'd3-array'
import { arrangementEnd, barAt, type Arrangement } from '../music/arrangement'
import { barsBetween } from '../music/bar-count'
import type { ScoreSpan } from '../music/passage'
import { LIMITS } from '../music/limits'
import { add, toDecimal, ZERO } from '../music/quarters'
import { bestSegmentation, type Size } from './cheapest-cuts'
import { phraseEnds, type PhraseEnd } from './phrase-ends'
import { returnsOf, type Return } from './returns'
import { sectionMarks } from './score-signs'
import { sectionNames, type Section } from './sections'

export interface ProposedPart extends ScoreSpan {
  name: string
  /** The section it lies in; absent where the song has no sections. */
  section?: string
}
/** A proposal: parts, and the sections they lie in. */
export interface Proposal {
  parts: ProposedPart[]
  sections: Section[]
}

/** Own choice. */
const FORM = {
  /**
   * Fewer returning bars (or kinds of bars) are a figure and no evidence of a section; from the second number on a
   * return counts fully.
   */
  leastBars: 3,
  sectionBars: 6,
  fullBars: 8,
  /** The weight of a return beginning, or ending, at a place; more for a section than for a part. */
  begins: 2.5,
  ends: 1.5,
  section: 4,
  /** The weight of cutting a passage as it was cut the first time. */
  alike: 12,
  copiedBars: 4,
  /** The share of a phrase's evidence that counts for a section. */
  phrase: 0.4,
} as const
/** Bars of a pickup, at most. Own choice. */
const PICKUP = 0.4
/** Bars of a section. */
const SECTION: Size = { wish: 16, least: 4, most: 40 }

/** The version of the proposal, raised when songs are divided differently, so that players are offered the new one. */
export const PROPOSAL = 2

/** Parts may turn out shorter than wished: this share of the limit is aimed at. */
const ROOM = 0.6

/** A wish may be exceeded by a quarter: a phrase of five bars stays whole where four are wished. */
export const maxCutsForWish = (wish: number): number => wish + Math.floor(wish / 4)

/** Proposes parts of about `wish` bars, at most `most`. */
export const proposeParts = (arrangement: Arrangement, wish?: number, most?: number): ProposedPart[] =>
  propose(arrangement, wish, most).parts

/**
 * Proposes sections and the parts in them, from the form first (what returns), then from all that speaks for a phrase's
 * end, weighed over the whole song at once. Parts have about `asked` bars (more where there would be too many of them),
 * at least two unless the song or the wish is shorter, at most `most`. Where the score has rehearsal marks, these are
 * the sections.
 */
export function propose(arrangement: Arrangement, asked = 4, mostAsked = maxCutsForWish(asked)): Proposal {
  const wish = Math.max(asked, Math.ceil(arrangement.bars.length / (ROOM * LIMITS.cuts)))
  const most = wish === asked ? mostAsked : maxCutsForWish(wish)
  const ends = phraseEnds(arrangement)
  const end = barsBetween(arrangement)(toDecimal(arrangementEnd(arrangement)))
  const returns = returnsOf(arrangement).filter(one => one.bars >= FORM.leastBars && one.kinds >= FORM.leastBars)
  const form = formEvidence(arrangement, ends, returns, FORM.leastBars)
  const sectionForm = formEvidence(arrangement, ends, returns, FORM.sectionBars)
  const twins = twinsOf(arrangement, ends, returns)
  const shared = pooled(
    ends.map(one => one.evidence),
    twins,
  )
  const values = ends.map((one, index) => shared[index]! + one.sign + form[index]!)
  // A part may lack a pickup that belongs to the next, or have one more than whole bars.
  const size: Size = { wish, least: wish < 2 ? wish : 2 - PICKUP, most: most + PICKUP }
  const cutBy = (extra: (index: number) => number) =>
    bestSegmentation(
      ends.map((one, index) => ({ ...one, value: values[index]! + extra(index) })),
      end,
      size,
    )
  // What returns is cut as it was the first time.
  const first = new Set(cutBy(() => 0))
  const inside = insideReturns(arrangement, ends, returns)
  const cuts = cutBy(index =>
    !inside[index] || ends[index]!.sign > 0 || twins[index]![0] === index
      ? 0
      : first.has(twins[index]![0]!)
        ? FORM.alike
        : -FORM.alike,
  )
  const marks = new Set(sectionMarks(arrangement).map(mark => toDecimal(mark.onset)))
  const marked = cuts.filter(cut => marks.has(toDecimal(ends[cut]!.at)))
  const sectionCuts =
    marked.length > 0
      ? marked
      : bestSegmentation(
          cuts.map(cut => ({
            ...ends[cut]!,
            value: ends[cut]!.sign + FORM.section * sectionForm[cut]! + FORM.phrase * shared[cut]!,
          })),
          end,
          SECTION,
        ).map(index => cuts[index]!)
  const stretches = (chosen: readonly number[]): ScoreSpan[] => {
    const edges = [ZERO, ...chosen.map(cut => ends[cut]!.at), arrangementEnd(arrangement)]
    return edges.slice(1).map((to, index) => ({ from: edges[index]!, to }))
  }
  const sections = sectionNames(arrangement, stretches(sectionCuts))
  return { sections, parts: named(stretches(cuts), sections) }
}

/** The name of a song's only section: it says nothing. */
const UNNAMED = 'A'

function named(parts: readonly ScoreSpan[], sections: readonly Section[]): ProposedPart[] {
  const only = sections.length === 1 ? sections[0]!.name : undefined
  if (only !== undefined)
    return parts.map((part, index) => ({
      ...part,
      name: only === UNNAMED ? `Part ${index + 1}` : partName(only, index, parts.length),
    }))
  const inSection = parts.map(part =>
    sections.findLastIndex(section => toDecimal(section.from) <= toDecimal(part.from) + 1e-9),
  )
  return parts.map((part, index) => {
    const section = inSection[index]!
    const first = inSection.indexOf(section)
    return {
      ...part,
      section: sections[section]!.name,
      name: partName(sections[section]!.name, index - first, inSection.lastIndexOf(section) - first + 1),
    }
  })
}

const partName = (section: string, index: number, count: number): string =>
  count > 1 ? `${section}, ${letter(index)}` : section
const letter = (index: number): string => (index < 26 ? String.fromCharCode(97 + index) : String(index + 1))

/** For each place the evidence that something begins to return there, or has ended. */
function formEvidence(
  arrangement: Arrangement,
  ends: readonly PhraseEnd[],
  returns: readonly Return[],
  leastBars: number,
): number[] {
  const found = ends.map(() => 0)
  const say = (bar: number, much: number) => {
    const place = beginningNear(arrangement, ends, bar)
    if (place !== undefined) found[place] = Math.max(found[place]!, much)
  }
  for (const { from, earlier, bars, share } of returns) {
    // What goes on repeating itself says no more than one round of it.
    const weight =
      share *
      Math.max(0, Math.min(1, (Math.min(bars, from - earlier) - leastBars + 1) / (FORM.fullBars - leastBars + 1)))
    say(from, FORM.begins * weight)
    say(earlier, FORM.begins * weight)
    say(from + bars, FORM.ends * weight)
    if (earlier + bars <= from) say(earlier + bars, FORM.ends * weight)
  }
  return found
}

/**
 * The place at which a phrase begins that belongs to a bar: on its line, or on the pickup before it where more speaks
 * for that.
 */
function beginningNear({ bars }: Arrangement, ends: readonly PhraseEnd[], index: number): number | undefined {
  const bar = bars[index]
  if (!bar) return undefined
  const line = toDecimal(bar.start)
  const earliest = line - toDecimal(bars[index - 1]?.length ?? ZERO) / 2
  let best: number | undefined
  for (
    let place = endBy.left(ends, earliest + 1e-6);
    place < ends.length && toDecimal(ends[place]!.at) <= line + 1e-9;
    place++
  ) {
    if (best === undefined || ends[place]!.evidence + ends[place]!.sign >= ends[best]!.evidence + ends[best]!.sign)
      best = place
  }
  return best
}

const endBy = bisector((end: PhraseEnd) => toDecimal(end.at))

/** For each place the places of passages that are alike, itself among them. */
function twinsOf(arrangement: Arrangement, ends: readonly PhraseEnd[], returns: readonly Return[]): number[][] {
  // The first bar that each one is like; longer returns are asked first.
  const original = arrangement.bars.map((_, index) => index)
  for (const { from, earlier, bars } of returns) {
    for (let bar = 0; bar < bars; bar++)
      if (original[from + bar] === from + bar) original[from + bar] = original[earlier + bar]!
  }
  const groups = new Map<string, number[]>()
  const keys = ends.map(({ at }, index) => {
    const bar = barAt(arrangement, at)
    const key = `${original[bar.index]} ${(toDecimal(bar.offset) + toDecimal(at) - toDecimal(bar.start)).toFixed(6)}`
    const group = groups.get(key)
    if (group) group.push(index)
    else groups.set(key, [index])
    return key
  })
  return keys.map(key => groups.get(key)!)
}

/** Whether each place lies inside a passage that returns, not at its edges. */
function insideReturns({ bars }: Arrangement, ends: readonly PhraseEnd[], returns: readonly Return[]): boolean[] {
  const inside = ends.map(() => false)
  for (const { from, bars: count } of returns) {
    if (count < FORM.copiedBars) continue
    const [begin, end] = [
      toDecimal(bars[from]!.start),
      toDecimal(add(bars[from + count - 1]!.start, bars[from + count - 1]!.length)),
    ]
    for (
      let place = endBy.left(ends, begin + 1e-6);
      place < ends.length && toDecimal(ends[place]!.at) < end - 1e-6;
      place++
    )
      inside[place] = true
  }
  return inside
}

/** Each value as the mean of all in its group. */
const pooled = (values: readonly number[], groups: readonly (readonly number[])[]): number[] =>
  groups.map(group => group.reduce((sum, index) => sum + values[index]!, 0) / group.length)
