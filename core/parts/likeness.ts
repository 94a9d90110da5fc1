import { bisector } from 'd3-array'
import type { Arrangement, Hand, Note } from '../music/arrangement'
import { barAt, positionIn } from '../music/arrangement'
import type { Stretch } from '../music/passage'
import { add, compare, equal, subtract, ZERO, type Quarters } from '../music/quarters'

export interface NamedPart extends Stretch { name: string }

/** What one hand of a part is to the most similar part before it. */
export type Relation = 'same' | 'differs' | 'transposed' | 'rhythm' | 'new'

/**
 * One difference to the earlier part: what is struck here and there at that place, spelled; empty for nothing. `held`: the same keys, but longer or
 * shorter; `place`: at the last notes of the part, or behind them.
 */
export interface Difference { bar: number, beat: number, here: string[], there: string[], held?: 'longer' | 'shorter', place?: 'last' | 'behind' }

export interface Likeness {
  relation: Relation
  /** Name of the earlier part; absent for `new`. */
  like?: string
  /** Its place in the list: names may come twice. */
  likeIndex?: number
  /** Half steps from the earlier part, for `transposed`; 0 otherwise. */
  transposedBy: number
  /** Moved within the key by so many scale steps, where the half steps are not all alike. */
  stepsInKey?: number
  differs: Difference[]
  /** Notes of this hand, and how many of them are to be learned here for the first time. */
  notes: number
  newNotes: number
}

/** At most this share of a part's notes may differ for it to be called the same but for these. */
const MOST_DIFFERENT = 1 / 3
/** Fewer notes than this make no rhythm to recognise. */
const LEAST_RHYTHM = 4

/** One hand of a part. */
interface HandPart {
  /** The first bar line at or behind the beginning: places are counted from it, so that a pickup lies before it. */
  line: Quarters
  /** Notes by their place. */
  notes: Placed[]
  /** Each note as one text, place, key and length; all of them; and the rhythm alone. What is looked up instead of compared. */
  keys: Set<string>
  signature: string
  rhythm: string
}
interface Placed { at: Quarters, note: Note }

/**
 * Compares each hand of each part with every part before it and keeps the closest: the same, the same but for named notes, moved by
 * an interval (exactly, or within the key), the same rhythm, or new. In the order of `parts`. `own` holds what the player says instead:
 * the index of the part it is like, null for new, undefined for what is found.
 */
export function likenessOf(arrangement: Arrangement, parts: readonly NamedPart[], hand: Hand, own: readonly (number | null | undefined)[] = []): Likeness[] {
  const placed = parts.map(part => placedNotes(arrangement, part, hand))
  const sameAs = new Map<string, number>()
  const withRhythm = new Map<string, number[]>()
  return parts.map((_, index): Likeness => {
    const here = placed[index]!
    const fresh: Likeness = { relation: 'new', transposedBy: 0, differs: [], notes: here.notes.length, newNotes: here.notes.length }
    const named = (found: Likeness | undefined, other: number): Likeness => found ? { ...found, like: parts[other]!.name, likeIndex: other } : fresh
    const said = own[index]
    const same = sameAs.get(here.signature)
    const rhythmically = withRhythm.get(here.rhythm) ?? []
    if (same === undefined) sameAs.set(here.signature, index)
    withRhythm.set(here.rhythm, [...rhythmically, index])
    if (here.notes.length === 0 || said === null) return fresh
    if (said !== undefined && said !== index && placed[said]) return named(compareParts(arrangement, here, placed[said]!, Number.POSITIVE_INFINITY), said)
    if (same !== undefined) return named({ ...fresh, relation: 'same', newNotes: 0 }, same)
    const closest = closestOf(here, placed.slice(0, index))
    if (closest !== undefined) return named(compareParts(arrangement, here, placed[closest]!, MOST_DIFFERENT), closest)
    const moved = rhythmically.find(other => movedBy(arrangement, here.notes, placed[other]!.notes))
    const twin = moved ?? rhythmically[0]
    return twin === undefined ? fresh : named(compareParts(arrangement, here, placed[twin]!, MOST_DIFFERENT), twin)
  })
}

/** The earlier part with the fewest differences, of those that are the same but for a third. */
function closestOf(here: HandPart, earlier: readonly HandPart[]): number | undefined {
  const most = Math.floor(MOST_DIFFERENT * here.notes.length)
  let best: { index: number, count: number } | undefined
  earlier.forEach((there, index) => {
    if (Math.abs(there.notes.length - here.notes.length) > most || there.notes.length === 0) return
    let common = 0
    for (const key of here.keys) if (there.keys.has(key)) common++
    // At least so many notes differ; how many exactly is counted only where it can matter.
    if (Math.max(here.notes.length, there.notes.length) - common > Math.min(most, (best?.count ?? most + 1) - 1)) return
    const count = differingNotes(here, there)
    if (count <= most && count < (best?.count ?? Number.POSITIVE_INFINITY)) best = { index, count }
  })
  return best?.index
}

const differingNotes = (here: HandPart, there: HandPart): number =>
  differingPlaces(here, there).reduce((sum, one) => sum + Math.max(one.onlyHere.length, one.onlyThere.length), 0)

/** By hand: the id of the part that the player says it is like, or null for new; what is left out is as found. */
export type OwnLikeness = Partial<Record<Hand, string | null>>

/** What the player says of a hand in each part, as places in the list. A part that is not there any more is forgotten. */
export const saidLikeness = (parts: readonly { id?: string, ownLikeness: OwnLikeness }[], hand: Hand): (number | null | undefined)[] =>
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
  const isTwin = (a: number, b: number) => roots.every(list => list[a] === list[b]) && roots.some(list => list[a] !== -1)
  return parts.map(({ name }, index) => parts.find((_, other) => other <= index && isTwin(other, index))?.name ?? name)
}

/** For each part the first part that this hand plays the same as: its own index where there is none. Parts in which the hand rests are like each other. */
export function twinRoots(likeness: readonly Likeness[]): number[] {
  const roots: number[] = []
  likeness.forEach((one, index) => {
    if (one.notes === 0) roots.push(-1)
    else {
      const like = one.relation === 'same' ? one.likeIndex! : index
      roots.push(like < index ? roots[like]! : index)
    }
  })
  return roots
}

function placedNotes(arrangement: Arrangement, { from, to }: Stretch, hand: Hand): HandPart {
  const bar = barAt(arrangement, from)
  const line = equal(bar.start, from) && equal(bar.offset, ZERO) ? bar.start : add(bar.start, bar.length)
  const notes: Placed[] = []
  for (let at = noteBy.left(arrangement.notes, from); at < arrangement.notes.length; at++) {
    const note = arrangement.notes[at]!
    if (compare(note.onset, to) >= 0) break
    if (note.hand === hand && !note.grace) notes.push({ at: subtract(note.onset, line), note })
  }
  const keys = notes.map(({ at, note }) => `${keyOf(at)} ${note.pitch} ${keyOf(note.duration)}`)
  return { line, notes, keys: new Set(keys), signature: keys.join(), rhythm: notes.map(({ at, note }) => `${keyOf(at)} ${keyOf(note.duration)}`).join() }
}

/** What a hand plays in a stretch as one text: equal for stretches, also of other arrangements, in which it plays the same. Empty where it rests. */
export const handSignature = (arrangement: Arrangement, stretch: Stretch, hand: Hand): string => placedNotes(arrangement, stretch, hand).signature

/** Notes are sorted by onset. */
const noteBy = bisector((note: Note, at: Quarters) => compare(note.onset, at))

function compareParts(arrangement: Arrangement, here: HandPart, there: HandPart, mostDifferent: number): Likeness | undefined {
  if (there.notes.length === 0) return undefined
  const notes = here.notes.length
  const count = differingNotes(here, there)
  if (count === 0) return { relation: 'same', transposedBy: 0, differs: [], notes, newNotes: 0 }
  const moved = movedBy(arrangement, here.notes, there.notes)
  if (moved) return { relation: 'transposed', ...moved, differs: [], notes, newNotes: notes }
  if (count <= mostDifferent * notes) return { relation: 'differs', transposedBy: 0, differs: differencesOf(arrangement, here, there), notes, newNotes: Math.min(notes, count) }
  if (notes >= LEAST_RHYTHM && sameRhythm(here.notes, there.notes)) return { relation: 'rhythm', transposedBy: 0, differs: [], notes, newNotes: notes }
  return undefined
}

const sameRhythm = (a: readonly Placed[], b: readonly Placed[]): boolean =>
  a.length === b.length && a.every((one, index) => equal(one.at, b[index]!.at) && equal(one.note.duration, b[index]!.note.duration))

/** The interval by which all notes are moved: the same half steps for all, or the same steps of the scale. */
function movedBy({ bars }: Arrangement, here: readonly Placed[], there: readonly Placed[]): Pick<Likeness, 'transposedBy' | 'stepsInKey'> | undefined {
  if (here.length < LEAST_RHYTHM || !sameRhythm(here, there)) return undefined
  const semitones = here.map((one, index) => one.note.pitch - there[index]!.note.pitch)
  if (semitones.every(one => one === semitones[0])) return semitones[0] === 0 ? undefined : { transposedBy: semitones[0]! }
  const sameKey = here.every((one, index) => bars[one.note.barIndex]!.fifths === bars[there[index]!.note.barIndex]!.fifths)
  const steps = here.map((one, index) => letterStep(one.note.spelled) - letterStep(there[index]!.note.spelled))
  if (!sameKey || steps[0] === 0 || !steps.every(one => one === steps[0])) return undefined
  const middle = [...semitones].sort((a, b) => a - b)[semitones.length >> 1]!
  return { transposedBy: middle, stepsInKey: steps[0]! }
}

/** Steps of the scale from C0, by letter and octave. */
const letterStep = (spelled: string): number => 'CDEFGAB'.indexOf(spelled[0]!) + 7 * Number(/-?\d+$/.exec(spelled)![0])

/** Places at which the two parts do not have the same notes, with what is only here and only there. */
function differingPlaces(here: HandPart, there: HandPart): { place: Quarters, onlyHere: Note[], onlyThere: Note[] }[] {
  const [own, other] = [byPlace(here.notes), byPlace(there.notes)]
  const places = [...new Map([...here.notes, ...there.notes].map(one => [keyOf(one.at), one.at])).values()].sort(compare)
  return places.flatMap((place) => {
    const [now, then] = [own.get(keyOf(place)) ?? [], other.get(keyOf(place)) ?? []]
    const isIn = (list: readonly Note[], note: Note) => list.some(twin => twin.pitch === note.pitch && equal(twin.duration, note.duration))
    const onlyHere = now.filter(note => !isIn(then, note))
    const onlyThere = then.filter(note => !isIn(now, note))
    return onlyHere.length + onlyThere.length === 0 ? [] : [{ place, onlyHere, onlyThere }]
  })
}

function differencesOf(arrangement: Arrangement, here: HandPart, there: HandPart): Difference[] {
  const last = here.notes.at(-1)!.at
  return differingPlaces(here, there).map(({ place, onlyHere, onlyThere }): Difference => {
    const onset = add(here.line, place)
    const { bar, beat } = positionIn(barAt(arrangement, onset), onset)
    const position = { bar, beat: Math.round(beat * 1e4) / 1e4 }
    const [held, order] = [lengthOnly(onlyHere, onlyThere), compare(place, last)]
    return { ...position, here: onlyHere.map(note => note.spelled), there: onlyThere.map(note => note.spelled), ...held && { held }, ...order >= 0 && { place: order === 0 ? 'last' : 'behind' } }
  })
}

const keyOf = ({ n, d }: Quarters): string => `${n}/${d}`

function byPlace(notes: readonly Placed[]): Map<string, Note[]> {
  const places = new Map<string, Note[]>()
  for (const { at, note } of notes) {
    const group = places.get(keyOf(at))
    if (group) group.push(note)
    else places.set(keyOf(at), [note])
  }
  return places
}

/** The same keys on both sides, held longer or shorter here. */
function lengthOnly(here: readonly Note[], there: readonly Note[]): 'longer' | 'shorter' | undefined {
  if (here.length === 0 || here.length !== there.length || here.some((note, index) => note.pitch !== there[index]!.pitch)) return undefined
  return compare(here[0]!.duration, there[0]!.duration) > 0 ? 'longer' : 'shorter'
}
