import { EACH_HAND } from '#core/music/arrangement'
import { arrangementEnd, barAt, type Arrangement, type Hand, type Hands } from '../music/arrangement'
import { barLength } from '../music/meter'
import { isSameSpan, notesWithin, type ScoreSpan } from '../music/passage'
import { add, compare, earlier, equal, later, subtract, ZERO } from '../music/quarters'
import { isSlowFirst, type CoachSettings } from './settings'

export interface CoachPart extends ScoreSpan {
  id: string
  name: string
  section?: string
}

/** The part that a span begins in: its passes are stored there. */
export const partAt = (parts: readonly CoachPart[], { from }: ScoreSpan): CoachPart | undefined =>
  parts.findLast(part => compare(part.from, from) <= 0 && compare(from, part.to) < 0)

/** A unit of practice: a part; the seam of two parts; two parts back to back; several; the whole song. */
export type UnitKind = 'part' | 'seam' | 'pair' | 'chain' | 'song'

export interface Unit {
  kind: UnitKind
  /** The name of the part, or of the first and the last of those joined; none for the whole song. */
  names: readonly string[]
  stretch: ScoreSpan
  /** The first and last of its parts, by index. */
  first: number
  last: number
}

/** One goal: this unit with these hands at this share of the target tempo. */
export interface Stage {
  unit: Unit
  hands: Hands
  share: number
}

/**
 * How far each stage goes before the next one begins (own choice, tried with the simulated learners: docs/coach.md).
 */
export const STAGES = {
  aloneShare: 0.65,
  togetherShare: 0.8,
  joinShare: 0.9,
  songShare: 1,
  /** Joins ask for fewer clean passes: their notes are known. */
  gate: { seam: 3, pair: 2, chain: 1, song: 2 },
  /** Steps of tempo for joins, and where they begin. */
  joinSteps: 3,
  joinStartShare: 0.75,
  /** Parts chained before the next chain begins a longer one. */
  chainOf: 4,
  /**
   * Slow first: how much faster than the common slow tempo a hand alone is tried (common practice: together is slower).
   */
  aloneFaster: 1.2,
  /** Share of the slow tempo that is enough to move on: the tempo comes last. */
  slowEnough: 0.72,
  /** A song longer than this, minutes at its tempo, is brought up to tempo section by section. */
  sectionMinutes: 3,
} as const

/** The tempos a song is played through at, as shares of its tempo and in minutes: where slow-first practice begins. */
export interface SongPace {
  slowShare: number
  minutes: number
}

/**
 * Everything there is to reach in a song, in the chosen order of practice. The same stage may come twice, slowly and at
 * tempo.
 */
export function stagesOf(
  arrangement: Arrangement,
  parts: readonly CoachPart[],
  settings: CoachSettings,
  pace: SongPace,
): Stage[] {
  const stages = isSlowFirst(settings)
    ? slowFirst(arrangement, parts, settings, pace)
    : partByPart(arrangement, parts, settings)
  const furthest = new Map<string, number>()
  return stages.filter(stage => {
    const name = stageName(stage)
    if ((furthest.get(name) ?? 0) >= stage.share) return false
    furthest.set(name, stage.share)
    return true
  })
}

/** The identity of a stage, whatever tempo it asks for. */
export const stageName = ({ unit, hands }: Pick<Stage, 'unit' | 'hands'>): string =>
  `${unit.kind} ${unit.first} ${unit.last} ${hands}`

/** Each part, then its joins; every stage to its final tempo before the next. */
function partByPart(arrangement: Arrangement, parts: readonly CoachPart[], settings: CoachSettings): Stage[] {
  const shares = {
    alone: STAGES.aloneShare,
    together: settings.school === 'tempo-first' ? 1 : STAGES.togetherShare,
    join: STAGES.joinShare,
  }
  const stages: Stage[] = []
  const join = (kind: UnitKind, first: number, last: number) =>
    stages.push(...joinStage(arrangement, parts, kind, first, last, shares.join))
  parts.forEach((part, place) => {
    stages.push(...partStages(arrangement, part, place, settings, shares))
    const done = place + 1
    if (settings.joining === 'none') return
    if (settings.joining === 'pairs') return joinPairs(done, join)
    join('seam', place - 1, place)
    join('pair', place - 1, place)
    if (done % STAGES.chainOf === 0 && done < parts.length) join('chain', 0, place)
  })
  return settings.joining === 'none' ? stages : [...stages, ...songStage(arrangement, parts, STAGES.songShare)]
}

function joinPairs(done: number, join: (kind: UnitKind, first: number, last: number) => void): void {
  if (done % 2 === 0) {
    join('seam', done - 2, done - 1)
    join('pair', done - 2, done - 1)
  }
  for (let size = STAGES.chainOf; size <= done; size *= 2) {
    if (done % size !== 0) continue
    join('seam', done - size / 2 - 1, done - size / 2)
    join('chain', done - size, done - 1)
  }
}

/**
 * Section by section, part by part, all at one slow tempo: each hand, both, the seam to the part beside it, the two
 * back to back; the section in one go; the whole song slowly; and then the tempo. From the end backward if the player
 * likes.
 */
function slowFirst(
  arrangement: Arrangement,
  parts: readonly CoachPart[],
  settings: CoachSettings,
  { slowShare, minutes }: SongPace,
): Stage[] {
  const isBackward = settings.school === 'backward'
  const inOrder = <Item>(items: readonly Item[]): Item[] => (isBackward ? [...items].reverse() : [...items])
  const enough = STAGES.slowEnough * slowShare
  const shares = { alone: enough, together: enough, join: enough }
  const sections = runsOf(parts)
  const stages: Stage[] = []
  const join = (kind: UnitKind, first: number, last: number, share: number = shares.join) =>
    stages.push(...joinStage(arrangement, parts, kind, first, last, share))
  for (const { first, last } of inOrder(sections)) {
    for (const place of inOrder(Array.from({ length: last - first + 1 }, (_, index) => first + index))) {
      stages.push(...partStages(arrangement, parts[place]!, place, settings, shares))
      const low = isBackward ? place : place - 1
      if (settings.joining === 'pairs' && (low - first) % 2 !== 0) continue
      if (low < first || low >= last) continue
      join('seam', low, low + 1)
      join('pair', low, low + 1)
    }
    if (settings.joining === 'pairs') for (let low = first + 1; low < last; low += 2) join('seam', low, low + 1)
    if (last - first >= 2) join('chain', first, last)
    if (isBackward) join('seam', last, last + 1)
    else join('seam', first - 1, first)
  }
  const whole = songStage(arrangement, parts, enough)
  stages.push(...whole)
  if (minutes > STAGES.sectionMinutes && sections.length > 1)
    for (const { first, last } of inOrder(sections))
      join(last - first >= 2 ? 'chain' : 'pair', first, last, STAGES.songShare)
  // A song of one part has no run of its own: its hands are brought up to tempo together.
  const atTempo = whole.length > 0 ? whole : stages.slice(-1)
  return [...stages, ...atTempo.map(stage => ({ ...stage, share: STAGES.songShare }))]
}

/** The parts of each section; in a song without sections, a few at a time. */
function runsOf(parts: readonly CoachPart[]): { first: number; last: number }[] {
  const runs: { first: number; last: number }[] = []
  parts.forEach((part, place) => {
    const run = runs.at(-1)
    const isSame =
      run !== undefined &&
      parts[run.first]!.section === part.section &&
      (part.section !== undefined || place - run.first < STAGES.chainOf)
    if (isSame) run.last = place
    else runs.push({ first: place, last: place })
  })
  return runs
}

function joinStage(
  arrangement: Arrangement,
  parts: readonly CoachPart[],
  kind: UnitKind,
  first: number,
  last: number,
  share: number,
): Stage[] {
  const unit = joinOf(arrangement, parts, kind, first, last)
  if (!unit) return []
  const hands = handsOf(arrangement, unit.stretch)
  return hands.length === 0 ? [] : [{ unit, hands: hands.length === 2 ? 'both' : hands[0]!, share }]
}

function songStage(arrangement: Arrangement, parts: readonly CoachPart[], share: number): Stage[] {
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }
  const isOnePart = parts.length === 1 && isSameSpan(parts[0]!, whole)
  const hands = handsOf(arrangement, whole)
  if (parts.length === 0 || hands.length === 0 || isOnePart) return []
  return [
    {
      unit: { kind: 'song', names: [], stretch: whole, first: 0, last: parts.length - 1 },
      hands: hands.length === 2 ? 'both' : hands[0]!,
      share,
    },
  ]
}

function partStages(
  arrangement: Arrangement,
  part: CoachPart,
  place: number,
  settings: CoachSettings,
  shares: { alone: number; together: number },
): Stage[] {
  const unit: Unit = {
    kind: 'part',
    names: [part.name],
    stretch: { from: part.from, to: part.to },
    first: place,
    last: place,
  }
  const hands = handsOf(arrangement, part)
  if (hands.length < 2) return hands.map(only => ({ unit, hands: only, share: shares.together }))
  const first = firstHand(arrangement, part, settings)
  const other: Hand = first === 'right' ? 'left' : 'right'
  return [
    { unit, hands: first, share: shares.alone },
    { unit, hands: other, share: shares.alone },
    { unit, hands: 'both', share: shares.together },
  ]
}

/** The hands that play in a span. */
function handsOf(arrangement: Arrangement, stretch: ScoreSpan): Hand[] {
  const notes = notesWithin(arrangement, stretch)
  return EACH_HAND.filter(hand => notes.some(note => note.hand === hand))
}

/**
 * Which hand begins. More keys to find make a hand harder; the tune is where fewer keys fall together (common
 * practice).
 */
function firstHand(arrangement: Arrangement, part: ScoreSpan, { firstHand: wish }: CoachSettings): Hand {
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

/** Consecutive parts as one unit; undefined where something lies between them. */
function joinOf(
  arrangement: Arrangement,
  parts: readonly CoachPart[],
  kind: UnitKind,
  first: number,
  last: number,
): Unit | undefined {
  const chained = parts.slice(first, last + 1)
  if (first < 0 || chained.length < 2 || last >= parts.length) return undefined
  for (let index = 1; index < chained.length; index++)
    if (!equal(chained[index - 1]!.to, chained[index]!.from)) return undefined
  const names = [chained[0]!.name, chained.at(-1)!.name]
  const stretch =
    kind === 'seam'
      ? seamOf(arrangement, chained[0]!, chained.at(-1)!)
      : { from: chained[0]!.from, to: chained.at(-1)!.to }
  return { kind, names, stretch, first, last }
}

/** The last bar of one part and the first bar of the next, on bar lines where the parts reach that far. */
function seamOf(arrangement: Arrangement, before: ScoreSpan, after: ScoreSpan): ScoreSpan {
  const bar = barLength(barAt(arrangement, after.from).meter)
  const back = barAt(arrangement, subtract(before.to, bar))
  const end = add(after.from, bar)
  const there = barAt(arrangement, end)
  return {
    from: later(before.from, back.start),
    to: earlier(after.to, equal(there.start, end) ? end : add(there.start, there.length)),
  }
}
