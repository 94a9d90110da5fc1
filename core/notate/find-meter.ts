import { sum } from 'd3-array'
import type { Meter } from '../music/meter'
import type { MidiPitch } from '../music/pitch'
import { BAR_KINDS, learn, silenceCost, strikeCost, type BarKind } from './bar-kinds'
import { groupStrokes, standingOut } from './struck-events'

/**
 * Own choice: of how many moments the meter is told; what a first bar line elsewhere than at the beginning needs said
 * for it; and what share of notes off the halves of beats lie on thirds of them in music that is counted in thirds.
 */
const MAX_MOMENTS = 2_000
const ELSEWHERE = 10
const IN_THIRDS = 0.6
const NEAR = 0.04
/**
 * What it says for a kind of bar, as a log likelihood ratio, that a note ends where a stronger place than its own
 * comes, and what against it that the note goes on over that place (common practice: a syncopation is the exception).
 */
const ENDS = 0.4
const GOES_ON = 0.7
/**
 * Whether bars have two beats or four is mostly a matter of how music is written down: music of long notes in four, of
 * short ones in two (common practice). What is struck on places finer than halves of beats: below the one share it
 * speaks against two beats, above the other for them.
 */
const FINE = { few: { share: 0.12, cost: 32 }, many: { share: 0.4, cost: -8 } }
const twoBeats = (fine: number) => (fine < FINE.few.share ? FINE.few.cost : fine > FINE.many.share ? FINE.many.cost : 0)

/** Where the bar lines are: the meter, and how far behind time 0 the first of them is, quarter notes. */
export interface FoundMeter {
  meter: Meter
  barLine: number
}

/**
 * The meter of notes whose beats are known, times in quarter notes: of several kinds of bars and first bar lines the
 * likeliest, by how often something is struck at each rank of place and how much it stands out, both learned from the
 * notes (as in `find-pulse.ts`, where the beats are not known). 4/4 for no notes.
 */
export function findMeter(notes: readonly { onset: number; end: number; pitch: MidiPitch }[]): FoundMeter {
  const sorted = [...notes].sort((a, b) => a.onset - b.onset)
  const moments = groupStrokes(sorted, NEAR).moments.slice(0, MAX_MOMENTS)
  const accents = standingOut(moments)
  const pulses = areInThirds(moments.map(moment => moment.at)) ? 3 : 4
  const at = moments.map(moment => Math.round(moment.at * pulses))
  const last = moments.at(-1)?.at ?? 0
  const spans = sorted
    .filter(note => note.onset <= last)
    .map(({ onset, end }): Span => ({ from: Math.round(onset * pulses), to: Math.round(end * pulses) }))
  let best = { cost: Number.POSITIVE_INFINITY, meter: BAR_KINDS[0]!.meter, barLine: 0 }
  for (const kind of BAR_KINDS.filter(one => one.pulses === pulses)) {
    for (let shift = 0; shift < kind.ranks.length; shift++) {
      // Bar lines fall on halves of beats, or thirds.
      if (pulses === 4 && shift % 2 === 1) continue
      const cost =
        costOf(
          kind,
          at.map(place => place + kind.ranks.length - shift),
          accents,
        ) +
        acrossCost(kind, spans, shift) +
        kind.rare +
        (shift === 0 ? 0 : ELSEWHERE)
      if (cost < best.cost) best = { cost, meter: kind.meter, barLine: shift / pulses }
    }
  }
  return { meter: best.meter, barLine: best.barLine }
}

/** The cost of these places in bars of a kind: a negative log likelihood. */
function costOf({ ranks, meter }: BarKind, places: readonly number[], accents: readonly number[]): number {
  const known = learn(ranks, places, accents)
  const silent = ranks.map(rank => silenceCost(known, rank))
  let cost = sum(places, (place, index) => strikeCost(known, ranks[place % ranks.length]!, accents[index]!))
  places.forEach((place, index) => {
    for (let between = (places[index - 1] ?? place) + 1; between < place; between++)
      cost += silent[between % ranks.length]!
  })
  return cost + (meter.beats === 2 ? twoBeats(known.struck[4]!) : 0)
}

interface Span {
  from: number
  to: number
}

/** The cost of the notes' lengths in a kind of bar. */
function acrossCost({ ranks }: BarKind, spans: readonly Span[], shift: number): number {
  const length = ranks.length
  const known = new Map<number, number>()
  return sum(spans, ({ from, to }) => {
    const place = (from + length - shift) % length
    const reach = Math.min(to - from, length)
    const key = place * (length + 1) + reach
    let cost = known.get(key)
    if (cost === undefined) {
      let next = 1
      while (next <= reach && ranks[(place + next) % length]! >= ranks[place]! && (place + next) % length !== 0) next++
      known.set(key, (cost = next > reach ? 0 : next === reach ? -ENDS : GOES_ON))
    }
    return cost
  })
}

/** Whether what lies between the halves of beats mostly lies on thirds. */
function areInThirds(moments: readonly number[]): boolean {
  const inner = moments
    .map(at => at - Math.floor(at + NEAR))
    .filter(share => Math.abs(share) > NEAR && Math.abs(share - 0.5) > NEAR)
  const thirds = inner.filter(share => [1 / 3, 2 / 3].some(third => Math.abs(share - third) < NEAR))
  return thirds.length >= IN_THIRDS * inner.length && thirds.length > moments.length / 10
}
