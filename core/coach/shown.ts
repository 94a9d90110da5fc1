import { EACH_HAND } from '#core/music/arrangement'
import { barAt, handsIn, tempoAt, type Arrangement, type Hand, type Hands } from '../music/arrangement'
import { notesWithin, type ScoreSpan } from '../music/passage'
import { add, compare, earlier, equal, subtract, toDecimal, type Quarters } from '../music/quarters'
import { keyOf } from '../parts/hand-part'
import type { PastPass } from './pass'
import { placeLoop } from './hard-spots'

/**
 * What the hands do to reach an event: from these keys to those, after this time, alone or together. The same step
 * elsewhere in the song, in another version of it or in a part with other edges has the same name, so once shown it is
 * known there too.
 */
export interface NoteStep {
  place: Quarters
  name: string
  /**
   * For one hand: the name of its keys in this bar and in the bar it comes from. Another edition with the same keys, in
   * whatever order and rhythm, shows where they are.
   */
  position?: string
}

/**
 * The fastest tempo, quarter notes a minute, at which each step was right with the click; 0 where only its keys were
 * found, in the player's own time.
 */
export type DemonstratedTempos = ReadonlyMap<string, number>

/** The steps of a span, in order. The first one has no step before it. */
export function stepsOf(arrangement: Arrangement, stretch: ScoreSpan, hands: Hands): NoteStep[] {
  const steps: NoteStep[] = []
  const before: Partial<Record<Hand, { pitches: number[]; at: Quarters }>> = {}
  const positions =
    hands === 'both' ? undefined : new Map(positionsOf(arrangement, hands).map(one => [one.bar, one.name]))
  const notes = notesWithin(arrangement, stretch).filter(
    note => !note.grace && (hands === 'both' || note.hand === hands),
  )
  for (let from = 0; from < notes.length;) {
    const at = notes[from]!.onset
    let to = from + 1
    while (to < notes.length && equal(notes[to]!.onset, at)) to++
    const moved = EACH_HAND.flatMap(hand => {
      const pitches = notes
        .slice(from, to)
        .filter(note => note.hand === hand)
        .map(note => note.pitch)
        .sort((a, b) => a - b)
      if (pitches.length === 0) return []
      const last = before[hand]
      before[hand] = { pitches, at }
      return [
        `${hand === 'right' ? 'r' : 'l'}${last ? `${last.pitches.join('.')} ${lengthText(subtract(at, last.at))}` : ''}>${pitches.join('.')}`,
      ]
    })
    const position = positions?.get(notes[from]!.barIndex)
    steps.push({
      place: at,
      name: hands === 'both' ? `b${moved.join()}` : moved[0]!,
      ...(position === undefined ? {} : { position }),
    })
    from = to
  }
  return steps
}

const lengthText = ({ n, d }: Quarters): string => (d === 1 ? String(n) : `${n}/${d}`)

/** Steps of spans, each computed once. */
export type StepsOf = (stretch: ScoreSpan, hands: Hands) => readonly NoteStep[]

/** `known`: steps computed before, by `stepsName`. */
export function rememberedSteps(arrangement: Arrangement, known = new Map<string, readonly NoteStep[]>()): StepsOf {
  return (stretch, hands) => {
    const name = stepsName(stretch, hands)
    const found = known.get(name) ?? stepsOf(arrangement, stretch, hands)
    known.set(name, found)
    return found
  }
}

export const stepsName = ({ from, to }: ScoreSpan, hands: Hands): string => `${keyOf(from)} ${keyOf(to)} ${hands}`

/**
 * The demonstrated tempos after a pass: its steps except those that failed; for both hands together also each hand's.
 * Unchanged where it showed nothing new.
 */
export function withDemonstrated(
  arrangement: Arrangement,
  steps: StepsOf,
  shown: DemonstratedTempos,
  { stretch, hands, mode, bpm, failed }: Pick<PastPass, 'stretch' | 'hands' | 'mode' | 'bpm' | 'failed'>,
): DemonstratedTempos {
  const wrong = new Set(failed.map(keyOf))
  const pace = bpm / tempoAt(arrangement, stretch.from)
  let after: Map<string, number> | undefined
  for (const { name, place } of (hands === 'both' ? (['both', 'right', 'left'] as const) : [hands]).flatMap(one =>
    steps(stretch, one),
  )) {
    const value = mode === 'own-time' ? 0 : pace * tempoAt(arrangement, place)
    if ((shown.get(name) ?? -1) >= value || wrong.has(keyOf(place))) continue
    ;(after ??= new Map(shown)).set(name, value)
  }
  return after ?? shown
}

/** Each bar's keys of a hand, with those of the bar before, under one name. */
function positionsOf({ notes }: Arrangement, hand: Hand): { bar: number; name: string }[] {
  const keys = new Map<number, Set<number>>()
  for (const note of notes)
    if (note.hand === hand && !note.grace)
      keys.set(note.barIndex, (keys.get(note.barIndex) ?? new Set()).add(note.pitch))
  const named = [...keys]
    .sort(([a], [b]) => a - b)
    .map(([bar, pitches]) => ({ bar, keys: [...pitches].sort((a, b) => a - b).join('.') }))
  return named.map(({ bar, keys: own }, index) => ({
    bar,
    name: `@${hand === 'right' ? 'r' : 'l'}${index > 0 ? named[index - 1]!.keys : ''}>${own}`,
  }))
}

/**
 * The demonstrated tempos after a pass in another edition of the song: where each hand's keys are in the bars played
 * without a wrong one, and how it gets there from the bar before. Their tempo there does not count. Unchanged where
 * nothing new was shown.
 */
export function withDemonstratedInEdition(
  edition: Arrangement,
  shown: DemonstratedTempos,
  { stretch, hands, failed }: Pick<PastPass, 'stretch' | 'hands' | 'failed'>,
): DemonstratedTempos {
  const wrong = new Set(failed.map(place => barAt(edition, place).index))
  const { bars } = edition
  let after: Map<string, number> | undefined
  for (const hand of handsIn(hands)) {
    for (const { bar: index, name } of positionsOf(edition, hand)) {
      const bar = bars[index]!
      if (
        compare(bar.start, stretch.from) < 0 ||
        compare(add(bar.start, bar.length), stretch.to) > 0 ||
        wrong.has(index) ||
        shown.has(name)
      )
        continue
      ;(after ??= new Map(shown)).set(name, 0)
    }
  }
  return after ?? shown
}

/** What of a stage has been demonstrated. */
export interface KnownShare {
  /** The slowest of its steps, quarter notes a minute; 0 where one was never played in time. */
  bpm: number
  /** Onsets whose step was never played in time. */
  fresh: Quarters[]
  /** Whether all its keys have been found. */
  keys: boolean
}

/**
 * The first step of a span comes from elsewhere wherever it was played before: it is known together with the one after
 * it.
 */
export function knownOf(shown: DemonstratedTempos, steps: readonly NoteStep[]): KnownShare {
  const counted = steps.length > 1 ? steps.slice(1) : steps
  if (counted.length === 0) return { bpm: 0, fresh: [], keys: false }
  const tempos = counted.map(
    step => shown.get(step.name) ?? (step.position !== undefined && shown.has(step.position) ? 0 : -1),
  )
  return {
    bpm: Math.max(0, Math.min(...tempos)),
    fresh: counted.filter((_, index) => tempos[index]! <= 0).map(step => step.place),
    keys: tempos.every(tempo => tempo >= 0),
  }
}

/**
 * The largest new share of a stage, by its steps and by the length of their loops, for which only the new places are
 * asked for (own choice).
 */
export const MAX_NEW_SHARE = 0.5

/**
 * The new places of a stage that is mostly known, each with a beat before and after, and from where the hand comes;
 * none where too much is new.
 */
export function newLoops(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  steps: readonly NoteStep[],
  fresh: readonly Quarters[],
): ScoreSpan[] {
  if (fresh.length > MAX_NEW_SHARE * steps.length) return []
  const comesFrom = (place: Quarters) => steps[steps.findIndex(step => equal(step.place, place)) - 1]?.place ?? place
  const loops: ScoreSpan[] = []
  for (const place of fresh) {
    const around = placeLoop(arrangement, stretch, place)
    const loop = { from: earlier(around.from, comesFrom(place)), to: around.to }
    const before = loops.at(-1)
    if (before && compare(loop.from, before.to) <= 0) loops[loops.length - 1] = { from: before.from, to: loop.to }
    else loops.push(loop)
  }
  const length = ({ from, to }: ScoreSpan) => toDecimal(subtract(to, from))
  return loops.reduce((sum, loop) => sum + length(loop), 0) > MAX_NEW_SHARE * length(stretch) ? [] : loops
}

/** The printed numbers of the bars that hold some places, each once. */
export const barNumbersOf = (arrangement: Arrangement, places: readonly Quarters[]): number[] => [
  ...new Set([...places].sort(compare).map(place => barAt(arrangement, place).number)),
]
