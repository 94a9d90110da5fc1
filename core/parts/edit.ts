import { LIMITS } from '../music/limits'
import { arrangementEnd, barAt, type Arrangement } from '../music/arrangement'
import { beatLength } from '../music/meter'
import { isSameSpan, type ScoreSpan } from '../music/passage'
import { add, compare, multiply, quarters, ratio, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'

/** A part as the player arranges it; without an id it is new. */
export interface PartDraft extends ScoreSpan {
  id?: string
  name: string
  section?: string
}

/** More parts than any song is practised in. */
export const MAX_PARTS = LIMITS.cuts

/** What is wrong with a list of parts, in words; undefined for nothing. */
export function faultOf(arrangement: Arrangement, parts: readonly PartDraft[]): string | undefined {
  if (parts.length === 0) return 'a song needs at least one part'
  if (parts.length > MAX_PARTS) return `${parts.length} parts; at most ${MAX_PARTS} are kept`
  const end = arrangementEnd(arrangement)
  for (const { name, from, to } of parts) {
    if (name.trim() === '') return 'a part needs a name'
    if (compare(from, ZERO) < 0 || compare(to, end) > 0) return `"${name}" reaches beyond the song`
    if (compare(from, to) >= 0) return `"${name}" ends before it begins`
  }
  return undefined
}

/**
 * Moves an edge of a part to a moment. The neighbour that met it there moves along; an edge stops a beat before the
 * part (or the neighbour) would be empty, and at the song's ends.
 */
export function moveEdge(
  arrangement: Arrangement,
  parts: readonly PartDraft[],
  index: number,
  edge: 'from' | 'to',
  at: Quarters,
): PartDraft[] {
  const part = parts[index]!
  const old = part[edge]
  const meets = parts.findIndex(
    (other, place) => place !== index && compare(other[edge === 'from' ? 'to' : 'from'], old) === 0,
  )
  const least = beatLength(barAt(arrangement, old).meter)
  const low = edge === 'to' ? add(part.from, least) : meets >= 0 ? add(parts[meets]!.from, least) : ZERO
  const high =
    edge === 'from'
      ? subtract(part.to, least)
      : meets >= 0
        ? subtract(parts[meets]!.to, least)
        : arrangementEnd(arrangement)
  if (compare(low, high) > 0) return [...parts]
  const kept = compare(at, low) < 0 ? low : compare(at, high) > 0 ? high : at
  return parts.map((one, place) =>
    place === index
      ? { ...one, [edge]: kept }
      : place === meets
        ? { ...one, [edge === 'from' ? 'to' : 'from']: kept }
        : one,
  )
}

/** The beat nearest to a moment, or so many beats away from it. */
export function beatNear(arrangement: Arrangement, at: Quarters, steps = 0): Quarters {
  const bar = barAt(arrangement, at)
  const beat = beatLength(bar.meter)
  const inBar = add(bar.offset, subtract(at, bar.start))
  const place = Math.round(toDecimal(ratio(inBar, beat))) + steps
  const moment = add(subtract(bar.start, bar.offset), multiply(beat, quarters(place)))
  const end = arrangementEnd(arrangement)
  return compare(moment, ZERO) < 0 ? ZERO : compare(moment, end) > 0 ? end : moment
}

/**
 * Parts of which one is a stretch of its own under a name: those it lies in give way, are cut in two or go where
 * nothing of them is left. What is left of a part keeps its id at its beginning, or where that is taken, at its end.
 */
export function withOwnPart(parts: readonly PartDraft[], { from, to }: ScoreSpan, name: string): PartDraft[] {
  const pieces = parts.flatMap((part): PartDraft[] => {
    if (compare(part.to, from) <= 0 || compare(part.from, to) >= 0) return [part]
    const { id, ...draft } = part
    const known = id === undefined ? {} : { id }
    const head = compare(part.from, from) < 0 ? [{ ...draft, ...known, to: from }] : []
    const tail =
      compare(to, part.to) < 0
        ? [{ ...draft, ...(head.length > 0 ? { name: `${part.name} (2)` } : known), from: to }]
        : []
    return [...head, ...tail]
  })
  const before = pieces.filter(part => compare(part.from, from) < 0)
  const section = parts.find(part => compare(part.from, from) <= 0 && compare(from, part.to) < 0)?.section
  return [...before, { name, ...(section === undefined ? {} : { section }), from, to }, ...pieces.slice(before.length)]
}

/**
 * Cuts a part in two at a moment inside it; the pieces are named after it. Left as it is when the moment is not inside.
 */
export function cutPart(parts: readonly PartDraft[], index: number, at: Quarters): PartDraft[] {
  const part = parts[index]!
  if (compare(at, part.from) <= 0 || compare(at, part.to) >= 0) return [...parts]
  return [
    ...parts.slice(0, index),
    { ...part, name: `${part.name}, 1`, to: at },
    { ...withoutId(part), name: `${part.name}, 2`, from: at },
    ...parts.slice(index + 1),
  ]
}

/** The bar line nearest to the middle of a stretch; the nearest beat where no bar line lies within it. */
export function middleOf(arrangement: Arrangement, { from, to }: ScoreSpan): Quarters {
  const middle = multiply(add(from, to), quarters(1, 2))
  const away = (at: Quarters) => Math.abs(toDecimal(at) - toDecimal(middle))
  const lines = arrangement.bars.map(bar => bar.start).filter(at => compare(at, from) > 0 && compare(at, to) < 0)
  return lines.length > 0
    ? lines.reduce((nearest, at) => (away(at) < away(nearest) ? at : nearest))
    : beatNear(arrangement, middle)
}

/**
 * The first stretch of the song, from a moment on or before it, that lies in no part; undefined where parts cover all
 * of it.
 */
export function uncovered(
  arrangement: Arrangement,
  parts: readonly PartDraft[],
  near: Quarters,
): ScoreSpan | undefined {
  const sorted = [...parts].sort((a, b) => compare(a.from, b.from))
  const gaps: ScoreSpan[] = []
  let covered = ZERO
  for (const { from, to } of [...sorted, { from: arrangementEnd(arrangement), to: arrangementEnd(arrangement) }]) {
    if (compare(covered, from) < 0) gaps.push({ from: covered, to: from })
    if (compare(covered, to) < 0) covered = to
  }
  return gaps.find(gap => compare(gap.from, near) >= 0) ?? gaps[0]
}

/** Joins a part with the one after it in the list; it reaches over both. */
export function mergeWithNext(parts: readonly PartDraft[], index: number): PartDraft[] {
  const [part, next] = [parts[index]!, parts[index + 1]]
  if (!next) return [...parts]
  const from = compare(part.from, next.from) <= 0 ? part.from : next.from
  const to = compare(part.to, next.to) >= 0 ? part.to : next.to
  return [...parts.slice(0, index), { ...part, from, to }, ...parts.slice(index + 2)]
}

/** A default name by number. */
const NUMBERED = /^Part \d+$/

/**
 * Newly proposed parts; one with the same edges as a part that is there keeps its id, and so its passes, and the name
 * that the player gave it.
 */
export const keepKnown = (parts: readonly PartDraft[], proposed: readonly PartDraft[]): PartDraft[] =>
  proposed.map(part => {
    const { section: _section, ...known } = parts.find(one => isSameSpan(one, part)) ?? part
    return {
      ...known,
      name: NUMBERED.test(known.name) ? part.name : known.name,
      ...(part.section === undefined ? {} : { section: part.section }),
    }
  })

/** Moves a part to another place in the order. */
export function reorder(parts: readonly PartDraft[], from: number, to: number): PartDraft[] {
  const moved = [...parts]
  moved.splice(Math.max(0, Math.min(parts.length - 1, to)), 0, ...moved.splice(from, 1))
  return moved
}

const withoutId = ({ id: _id, ...part }: PartDraft): PartDraft => part

/** Parts in a row that lie in one section, by their places in the list; `name` is undefined where they lie in none. */
export interface SectionRun {
  name?: string
  first: number
  count: number
}

/** The sections of a list of parts, in its order. */
export function sectionRuns(parts: readonly Pick<PartDraft, 'section'>[]): SectionRun[] {
  const runs: SectionRun[] = []
  parts.forEach(({ section }, index) => {
    const last = runs.at(-1)
    if (last && last.name === section) last.count++
    else runs.push({ ...(section === undefined ? {} : { name: section }), first: index, count: 1 })
  })
  return runs
}

/** Calls the section that a part lies in otherwise; an empty name takes its parts out of any section. */
export function renameSection(parts: readonly PartDraft[], index: number, name: string): PartDraft[] {
  const run = sectionRuns(parts).findLast(one => one.first <= index)!
  return parts.map((part, place) =>
    place >= run.first && place < run.first + run.count ? inSection(part, name) : part,
  )
}

/** Begins a section at a part: it and what follows of its section lie in one of this name. */
export function beginSection(parts: readonly PartDraft[], index: number, name: string): PartDraft[] {
  const run = sectionRuns(parts).findLast(one => one.first <= index)!
  return parts.map((part, place) => (place >= index && place < run.first + run.count ? inSection(part, name) : part))
}

function inSection({ section: _before, ...part }: PartDraft, name: string): PartDraft {
  return name.trim() === '' ? part : { ...part, section: name.trim() }
}
