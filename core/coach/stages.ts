import { arrangementEnd, barAt, type Arrangement, type Hand, type Hands } from '../music/arrangement'
import { barLength } from '../music/meter'
import { isSameStretch, notesWithin, type Stretch } from '../music/passage'
import { add, compare, earlier, equal, later, subtract, ZERO } from '../music/quarters'
import type { CoachSettings } from './settings'

export interface CoachPart extends Stretch { id: string, name: string }

/** The part that a stretch begins in: where its passes are kept. */
export const partAt = (parts: readonly CoachPart[], { from }: Stretch): CoachPart | undefined =>
  parts.findLast(part => compare(part.from, from) <= 0 && compare(from, part.to) < 0)

/** What is practised: a part; the seam of two parts; two parts back to back; several; the whole song. */
export type UnitKind = 'part' | 'seam' | 'pair' | 'chain' | 'song'

export interface Unit {
  kind: UnitKind
  /** The name of the part, or of the first and the last of those joined; none for the whole song. */
  names: readonly string[]
  stretch: Stretch
  /** The first and the last of the parts it lies in, by place. */
  first: number
  last: number
}

/** One thing to reach: this unit with these hands at this share of the target tempo. */
export interface Stage { unit: Unit, hands: Hands, share: number }

/** How far each stage goes before the next one begins (own choice, tried with the simulated learners: docs/coach.md). */
export const STAGES = {
  aloneShare: 0.65, togetherShare: 0.8, joinShare: 0.9, songShare: 1,
  /** Joins ask for fewer clean passes: their notes are known. */
  gate: { seam: 3, pair: 2, chain: 1, song: 2 },
  /** Steps of tempo for joins, and where they begin. */
  joinSteps: 3, joinStartShare: 0.75,
  /** So many parts are chained before the next chain begins a longer one. */
  chainOf: 4,
} as const

/** Everything there is to reach in a song, in the order in which the player wants to reach it. */
export function stagesOf(arrangement: Arrangement, parts: readonly CoachPart[], settings: CoachSettings): Stage[] {
  const order = parts.map((_, place) => settings.joining === 'backward' ? parts.length - 1 - place : place)
  const stages: Stage[] = []
  const join = (kind: UnitKind, first: number, last: number) => {
    const unit = joinOf(arrangement, parts, kind, first, last)
    if (unit) stages.push({ unit, hands: handsOf(arrangement, unit.stretch).length === 2 ? 'both' : handsOf(arrangement, unit.stretch)[0] ?? 'right', share: STAGES.joinShare })
  }
  order.forEach((place, count) => {
    stages.push(...partStages(arrangement, parts[place]!, place, settings))
    const done = count + 1
    const [low, high] = settings.joining === 'backward' ? [place, place + 1] : [place - 1, place]
    if (settings.joining === 'pairs') {
      if (place % 2 === 1) join('seam', low, high)
      if (place % 2 === 1) join('pair', low, high)
      for (let size = STAGES.chainOf; size <= done; size *= 2) {
        if (done % size === 0) join('seam', done - size / 2 - 1, done - size / 2)
        if (done % size === 0) join('chain', done - size, done - 1)
      }
      return
    }
    if (low < 0 || high >= parts.length) return
    join('seam', low, high)
    join('pair', low, high)
    if (done % STAGES.chainOf === 0 && done < parts.length) join('chain', settings.joining === 'backward' ? place : 0, settings.joining === 'backward' ? parts.length - 1 : place)
  })
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }
  const isOnePart = parts.length === 1 && isSameStretch(parts[0]!, whole)
  const hands = handsOf(arrangement, whole)
  if (parts.length > 0 && hands.length > 0 && !isOnePart) stages.push({ unit: { kind: 'song', names: [], stretch: whole, first: 0, last: parts.length - 1 }, hands: hands.length === 2 ? 'both' : hands[0]!, share: STAGES.songShare })
  return stages.filter((stage, index) => stages.findIndex(other => other.unit.kind === stage.unit.kind && other.hands === stage.hands && other.unit.first === stage.unit.first && other.unit.last === stage.unit.last) === index)
}

function partStages(arrangement: Arrangement, part: CoachPart, place: number, settings: CoachSettings): Stage[] {
  const unit: Unit = { kind: 'part', names: [part.name], stretch: { from: part.from, to: part.to }, first: place, last: place }
  const hands = handsOf(arrangement, part)
  if (hands.length < 2) return hands.map(only => ({ unit, hands: only, share: STAGES.togetherShare }))
  const first = firstHand(arrangement, part, settings)
  const other: Hand = first === 'right' ? 'left' : 'right'
  return [
    { unit, hands: first, share: STAGES.aloneShare }, { unit, hands: other, share: STAGES.aloneShare },
    { unit, hands: 'both', share: STAGES.togetherShare },
  ]
}

/** The hands that have something to play in a stretch. */
function handsOf(arrangement: Arrangement, stretch: Stretch): Hand[] {
  const notes = notesWithin(arrangement, stretch)
  return (['right', 'left'] as const).filter(hand => notes.some(note => note.hand === hand))
}

/** Which hand begins. More keys to find make a hand harder; the tune is where fewer keys fall together (common practice). */
function firstHand(arrangement: Arrangement, part: Stretch, { firstHand: wish }: CoachSettings): Hand {
  if (wish === 'right' || wish === 'left') return wish
  const notes = notesWithin(arrangement, part)
  const of = (hand: Hand) => {
    const own = notes.filter(note => note.hand === hand)
    const moments = new Set(own.map(note => `${note.onset.n}/${note.onset.d}`)).size
    return { keys: own.length, together: own.length / Math.max(1, moments) }
  }
  const [right, left] = [of('right'), of('left')]
  if (wish === 'harder') return left.keys > right.keys ? 'left' : 'right'
  const melody: Hand = left.together < right.together ? 'left' : 'right'
  return wish === 'melody' ? melody : melody === 'right' ? 'left' : 'right'
}

/** Parts that follow each other as one unit; undefined where something lies between them. */
function joinOf(arrangement: Arrangement, parts: readonly CoachPart[], kind: UnitKind, first: number, last: number): Unit | undefined {
  const chained = parts.slice(first, last + 1)
  if (first < 0 || chained.length < 2 || last >= parts.length) return undefined
  for (let index = 1; index < chained.length; index++) if (!equal(chained[index - 1]!.to, chained[index]!.from)) return undefined
  const names = [chained[0]!.name, chained.at(-1)!.name]
  const stretch = kind === 'seam' ? seamOf(arrangement, chained[0]!, chained.at(-1)!) : { from: chained[0]!.from, to: chained.at(-1)!.to }
  return { kind, names, stretch, first, last }
}

/** The last bar of one part and the first bar of the next, on bar lines where the parts reach so far. */
function seamOf(arrangement: Arrangement, before: Stretch, after: Stretch): Stretch {
  const bar = barLength(barAt(arrangement, after.from).meter)
  const back = barAt(arrangement, subtract(before.to, bar))
  const end = add(after.from, bar)
  const there = barAt(arrangement, end)
  return { from: later(before.from, back.start), to: earlier(after.to, equal(there.start, end) ? end : add(there.start, there.length)) }
}
