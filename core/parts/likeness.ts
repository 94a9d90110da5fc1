import { positionOf, type Arrangement, type Hand, type Note, type Position } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { add, compare, equal, subtract, type Quarters } from '../music/quarters'
import { coveredStretch, differencesOf, differingNotes, PLAINLY, type Difference, type Laid } from './differences'
import { handPart, type HandPart, type Placed } from './hand-part'

export type { Difference } from './differences'

export interface NamedPart extends ScoreSpan {
  name: string
}

/** What one hand of a part is to the most similar part before it. */
export type Relation = 'same' | 'differs' | 'transposed' | 'rhythm' | 'new'

export interface Likeness {
  relation: Relation
  /** Name of the earlier part; absent for `new`. */
  like?: string
  /** Its place in the list: names may come twice. */
  likeIndex?: number
  /** Which stretch of it this part is like, where it is not all of it; `to` no longer belongs to it. */
  covers?: { from: Position; to: Position }
  /** Half steps from the earlier part, for `transposed`; 0 otherwise. */
  transposedBy: number
  /** Moved within the key by so many scale steps, where the half steps are not all alike. */
  stepsInKey?: number
  differs: Difference[]
  /** Notes of this hand, and how many of them are to be learned here for the first time. */
  notes: number
  newNotes: number
}

/** The largest share of a part's notes that may differ in a part called the same but for these. */
const MAX_DIFFERENT = 1 / 3
/** Fewer notes than this make no recognisable rhythm. */
const MIN_RHYTHM = 4
/** The spans with the most notes in common that are compared note by note (own choice). */
const COMPARED = 6

/**
 * Compares each hand of each part with every part before it, or with a stretch of one, and keeps the closest: the same,
 * the same but for named notes, moved by an interval (exactly but for named notes, or within the key), the same rhythm,
 * or new. In the order of `parts`. `own` holds what the player says instead: the index of the part it is like, null for
 * new, undefined for what is found.
 */
export function likenessOf(
  arrangement: Arrangement,
  parts: readonly NamedPart[],
  hand: Hand,
  own: readonly (number | null | undefined)[] = [],
): Likeness[] {
  const placed = parts.map(part => handPart(arrangement, part, hand))
  const sameAs = new Map<string, number>()
  const withRhythm = new Map<string, number[]>()
  const known = new KnownNotes(arrangement, placed)
  return parts.map((_, index): Likeness => {
    const here = placed[index]!
    const fresh: Likeness = {
      relation: 'new',
      transposedBy: 0,
      differs: [],
      notes: here.notes.length,
      newNotes: here.notes.length,
    }
    const named = (found: Likeness | undefined, other: number): Likeness =>
      found ? { ...found, like: parts[other]!.name, likeIndex: other } : fresh
    const said = own[index]
    const same = sameAs.get(here.signature)
    const rhythmically = withRhythm.get(here.rhythm) ?? []
    const stretches = said === null || same !== undefined ? [] : known.likeliest(index)
    if (same === undefined) {
      sameAs.set(here.signature, index)
      known.learn(index)
    }
    withRhythm.set(here.rhythm, [...rhythmically, index])
    if (here.notes.length === 0 || said === null) return fresh
    if (said !== undefined && said !== index && placed[said]) {
      const laid =
        closest(
          here,
          stretches.filter(one => one.part === said).map(one => ({ ...one, there: placed[said]! })),
        )?.laid ?? PLAINLY
      return named(compareParts(arrangement, here, placed[said]!, laid, Number.POSITIVE_INFINITY), said)
    }
    if (same !== undefined) return named({ ...fresh, relation: 'same', newNotes: 0 }, same)
    const best = closest(
      here,
      stretches.map(one => ({ ...one, there: placed[one.part]! })),
    )
    if (best && best.count <= MAX_DIFFERENT * here.notes.length)
      return named(compareParts(arrangement, here, placed[best.part]!, best.laid, MAX_DIFFERENT), best.part)
    const moved =
      nearlyMoved(here, placed.slice(0, index), sameAs) ??
      rhythmically
        .map(part => ({ part, laid: PLAINLY }))
        .find(({ part }) => movedBy(arrangement, here.notes, placed[part]!.notes))
    const twin = moved ?? (rhythmically[0] === undefined ? undefined : { part: rhythmically[0], laid: PLAINLY })
    return twin
      ? named(compareParts(arrangement, here, placed[twin.part]!, twin.laid, MAX_DIFFERENT), twin.part)
      : fresh
  })
}

/**
 * The notes of earlier parts by key and place in the bar, so that stretches with many in common are found without
 * comparing all.
 */
class KnownNotes {
  private readonly at = new Map<string, { part: number; bar: number }[]>()
  constructor(
    private readonly arrangement: Arrangement,
    private readonly placed: readonly HandPart[],
  ) {}

  learn(part: number): void {
    for (const { note } of this.placed[part]!.notes) {
      const key = this.key(note)
      const list = this.at.get(key)
      if (list) list.push({ part, bar: note.barIndex })
      else this.at.set(key, [{ part, bar: note.barIndex }])
    }
  }

  /**
   * The stretches of earlier parts that have the most notes in common with a part, the earlier part's bars laid on its
   * own.
   */
  likeliest(part: number): { part: number; laid: Laid }[] {
    const votes = new Map<string, { part: number; bars: number; count: number }>()
    const here = this.placed[part]!
    for (const { note } of here.notes) {
      for (const { part: other, bar } of this.at.get(this.key(note)) ?? []) {
        const bars = bar - this.placed[other]!.lineBar - (note.barIndex - here.lineBar)
        const id = `${other} ${bars}`
        const vote = votes.get(id)
        if (vote) vote.count++
        else votes.set(id, { part: other, bars, count: 1 })
      }
    }
    // Laid line on line before any other way, then the earlier part.
    return [...votes.values()]
      .sort((a, b) => b.count - a.count || Math.abs(a.bars) - Math.abs(b.bars) || a.part - b.part)
      .slice(0, COMPARED)
      .flatMap(({ part: other, bars }) => {
        const shift = this.shiftOf(other, here, bars)
        return shift ? [{ part: other, laid: { shift, by: 0 } }] : []
      })
  }

  /** So many bars in quarter notes: from this part's line, or from the earlier one's. */
  private shiftOf(other: number, here: HandPart, bars: number): Quarters | undefined {
    const [from, to] =
      bars >= 0
        ? [this.placed[other]!.lineBar, this.placed[other]!.lineBar + bars]
        : [here.lineBar - bars, here.lineBar]
    const [first, last] = [this.startOf(from), this.startOf(to)]
    return first && last && subtract(last, first)
  }

  private startOf(bar: number): Quarters | undefined {
    const { bars } = this.arrangement
    const last = bars.at(-1)!
    return bar === bars.length ? add(last.start, last.length) : bars[bar] && subtract(bars[bar].start, bars[bar].offset)
  }

  private key({ barIndex, onset, pitch }: Note): string {
    const bar = this.arrangement.bars[barIndex]!
    const { n, d } = add(bar.offset, subtract(onset, bar.start))
    return `${n}/${d} ${pitch}`
  }
}

/** The stretch with the fewest differing notes. */
function closest<T extends { there: HandPart; laid: Laid }>(
  here: HandPart,
  stretches: readonly T[],
): (T & { count: number }) | undefined {
  return stretches
    .map(one => ({ ...one, count: differingNotes(here, one.there, one.laid) }))
    .reduce<(T & { count: number }) | undefined>(
      (best, one) => (best && best.count <= one.count ? best : one),
      undefined,
    )
}

/**
 * The first earlier part that this one is, moved by an interval but for at most a third of its notes. Parts that are
 * the same as an earlier one are not asked again.
 */
function nearlyMoved(
  here: HandPart,
  earlier: readonly HandPart[],
  sameAs: ReadonlyMap<string, number>,
): { part: number; laid: Laid } | undefined {
  if (here.notes.length < MIN_RHYTHM) return undefined
  let best: { part: number; laid: Laid; count: number } | undefined
  earlier.forEach((there, part) => {
    if (
      sameAs.get(there.signature) !== part ||
      there.notes.length < MIN_RHYTHM ||
      Math.abs(there.notes.length - here.notes.length) > MAX_DIFFERENT * here.notes.length
    )
      return
    const by = commonInterval(here, there)
    if (by === undefined) return
    const laid = { ...PLAINLY, by }
    const count = differingNotes(here, there, laid)
    if (count <= MAX_DIFFERENT * here.notes.length && count < (best?.count ?? Number.POSITIVE_INFINITY))
      best = { part, laid, count }
  })
  return best
}

/** The interval by which the most notes at the same places are moved, where that is most of them. */
function commonInterval(here: HandPart, there: HandPart): number | undefined {
  const counts = new Map<number, number>()
  let at = 0
  for (const { at: place, note } of here.notes) {
    while (at < there.notes.length && compare(there.notes[at]!.at, place) < 0) at++
    for (let twin = at; twin < there.notes.length && equal(there.notes[twin]!.at, place); twin++) {
      const by = note.pitch - there.notes[twin]!.note.pitch
      counts.set(by, (counts.get(by) ?? 0) + 1)
    }
  }
  const [by, count] = [...counts].reduce((most, one) => (one[1] > most[1] ? one : most), [0, 0])
  return by !== 0 && count >= (1 - MAX_DIFFERENT) * here.notes.length ? by : undefined
}

/** By hand: the id of the part that the player says it is like, or null for new; what is left out is as found. */
export type OwnLikeness = Partial<Record<Hand, string | null>>

/**
 * What the player says of a hand in each part, as places in the list. A part that is not there any more is forgotten.
 */
export const saidLikeness = (
  parts: readonly { id?: string; ownLikeness: OwnLikeness }[],
  hand: Hand,
): (number | null | undefined)[] =>
  parts.map(({ ownLikeness }) => {
    const said = ownLikeness[hand]
    if (typeof said !== 'string') return said
    const place = parts.findIndex(part => part.id === said)
    return place < 0 ? undefined : place
  })

/** The share of a hand's notes that is to be learned; the rest is known from earlier parts. */
export function newMaterialShare(likeness: readonly Likeness[]): number {
  const notes = likeness.reduce((sum, one) => sum + one.notes, 0)
  return notes === 0 ? 0 : likeness.reduce((sum, one) => sum + one.newNotes, 0) / notes
}

/** The order of parts by what they are: a part that both hands know goes by the name of the first that was so. */
export function formOf(parts: readonly NamedPart[], right: readonly Likeness[], left: readonly Likeness[]): string[] {
  const roots = [twinRoots(right), twinRoots(left)] as const
  // Hands that rest in both are like each other; a part in which both rest is only like itself.
  const isTwin = (a: number, b: number) =>
    roots.every(list => list[a] === list[b]) && roots.some(list => list[a] !== -1)
  return parts.map(({ name }, index) => parts.find((_, other) => other <= index && isTwin(other, index))?.name ?? name)
}

/**
 * For each part the first part that this hand plays the same as, all of it: its own index where there is none. Parts in
 * which the hand rests are like each other.
 */
export function twinRoots(likeness: readonly Likeness[]): number[] {
  const roots: number[] = []
  likeness.forEach((one, index) => {
    if (one.notes === 0) roots.push(-1)
    else {
      const like = one.relation === 'same' && !one.covers ? one.likeIndex! : index
      roots.push(like < index ? roots[like]! : index)
    }
  })
  return roots
}

function compareParts(
  arrangement: Arrangement,
  here: HandPart,
  there: HandPart,
  laid: Laid,
  mostDifferent: number,
): Likeness | undefined {
  if (there.notes.length === 0) return undefined
  const notes = here.notes.length
  const stretch = coveredStretch(here, there, laid)
  const covers = stretch && {
    covers: {
      from: positionOf(arrangement, add(there.line, stretch.from)),
      to: positionOf(arrangement, add(there.line, stretch.to)),
    },
  }
  const count = differingNotes(here, there, laid)
  if (laid.by !== 0 && count <= mostDifferent * notes)
    return {
      relation: 'transposed',
      transposedBy: laid.by,
      ...covers,
      differs: differencesOf(arrangement, here, there, laid),
      notes,
      newNotes: notes,
    }
  if (count === 0) return { relation: 'same', ...covers, transposedBy: 0, differs: [], notes, newNotes: 0 }
  const moved = movedBy(arrangement, here.notes, there.notes)
  if (moved) return { relation: 'transposed', ...moved, differs: [], notes, newNotes: notes }
  if (count <= mostDifferent * notes)
    return {
      relation: 'differs',
      ...covers,
      transposedBy: 0,
      differs: differencesOf(arrangement, here, there, laid),
      notes,
      newNotes: Math.min(notes, count),
    }
  if (notes >= MIN_RHYTHM && sameRhythm(here.notes, there.notes))
    return { relation: 'rhythm', transposedBy: 0, differs: [], notes, newNotes: notes }
  return undefined
}

const sameRhythm = (a: readonly Placed[], b: readonly Placed[]): boolean =>
  a.length === b.length &&
  a.every((one, index) => equal(one.at, b[index]!.at) && equal(one.note.duration, b[index]!.note.duration))

/** The interval by which all notes are moved: the same half steps for all, or the same steps of the scale. */
function movedBy(
  { bars }: Arrangement,
  here: readonly Placed[],
  there: readonly Placed[],
): Pick<Likeness, 'transposedBy' | 'stepsInKey'> | undefined {
  if (here.length < MIN_RHYTHM || !sameRhythm(here, there)) return undefined
  const semitones = here.map((one, index) => one.note.pitch - there[index]!.note.pitch)
  if (semitones.every(one => one === semitones[0]))
    return semitones[0] === 0 ? undefined : { transposedBy: semitones[0]! }
  const sameKey = here.every(
    (one, index) => bars[one.note.barIndex]!.fifths === bars[there[index]!.note.barIndex]!.fifths,
  )
  const steps = here.map((one, index) => letterStep(one.note.spelled) - letterStep(there[index]!.note.spelled))
  if (!sameKey || steps[0] === 0 || !steps.every(one => one === steps[0])) return undefined
  const middle = [...semitones].sort((a, b) => a - b)[semitones.length >> 1]!
  return { transposedBy: middle, stepsInKey: steps[0]! }
}

/** Steps of the scale from C0, by letter and octave. */
const letterStep = (spelled: string): number => 'CDEFGAB'.indexOf(spelled[0]!) + 7 * Number(/-?\d+$/.exec(spelled)![0])
