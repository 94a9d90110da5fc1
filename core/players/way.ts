import type { ExpectedNote } from '../music/passage'
import { difficulties } from './difficulty'
import type { PlayerHabits } from './habits'
import type { Chance } from './randomness'
import type { Strike } from './strikes'

/**
 * One visit to a strike: its time, the take ms for one score ms there, and whether it belongs to an abandoned attempt
 * or to a repeat played once too often.
 */
export interface Visit {
  strike: number
  atMs: number
  abandoned: boolean
  again: boolean
  tempoRatio: number
}

/** The most of a step that a late player can save. */
const MAX_HURRY = 0.4
/** However a beat is cut short, the next key comes no sooner than this, ms. */
const SOONEST_MS = 60

/**
 * The times of all visits to strikes: tempo, hurry, hesitations, lost beats, restarts, gaps and repeats; everything
 * except the hand's own unsteadiness.
 */
export function performedRoute(
  expected: readonly ExpectedNote[],
  strikes: readonly Strike[],
  habits: PlayerHabits,
  chance: Chance,
): Visit[] {
  const hardness = difficulties(expected, strikes)
  const isAt = (strike: number, { bar, beat }: { bar: number; beat: number }) =>
    strikes[strike]!.notes.some(note => expected[note]!.bar === bar && Math.abs(expected[note]!.beat - beat) < 0.01)
  const lastMs = strikes.at(-1)?.atMs || 1
  const [first, last] = habits.stretch
  const wander = tempoWander(strikes.length, habits.tempoWanderPercent, chance)
  const longest = longestSteps(strikes)
  const stepMs = (from: number, to: number): number => {
    const written = swung(strikes, to, expected, habits) - swung(strikes, from, expected, habits)
    const about = (strikes[from]!.atMs + strikes[to]!.atMs) / 2 / lastMs
    const hurry = ((hardness[to]! < 0 ? habits.rushEasyPercent : habits.slowHardPercent) * hardness[to]!) / 100
    const { bar } = strikes[from]!
    const section = habits.sections.find(one => bar >= one.fromBar && bar <= one.toBar)
    const played =
      (written * (first + (last - first) * about) * (1 - habits.rushPercent / 100) * (1 + hurry) * wander[to]!) /
      (section?.tempoRatio ?? 1)
    const counted = habits.miscounts.find(one => bar >= one.fromBar && bar <= one.toBar)
    if (!counted || longest.get(strikes[from]!.barIndex) !== from) return played
    const lost = counted.quarters * expected[strikes[from]!.notes[0]!]!.quarterMs * (first + (last - first) * about)
    return Math.max(SOONEST_MS, played + lost)
  }
  const route = routeOf(expected, strikes, habits, isAt)
  const visits: Visit[] = []
  let delayMs = 0
  let catchUp = 0.5
  const quarterMs = expected[0]?.quarterMs ?? 0
  let atMs = strikes.length > 0 ? swung(strikes, 0, expected, habits) * first + habits.lateEntryQuarters * quarterMs : 0
  route.forEach(({ strike, abandoned, again, pauseMs }, index) => {
    // Back at the very beginning, it follows the last note after the time that note's successor would have waited.
    const goneMs =
      index === 0 ? 0 : strike > 0 ? stepMs(strike - 1, strike) : stepMs(0, Math.min(1, strikes.length - 1))
    atMs += pauseMs ?? goneMs
    const pause =
      pauseMs === undefined
        ? [...habits.noodles.map(one => ({ ...one, catchUp: 0 })), ...habits.hesitations].find(one => isAt(strike, one))
        : undefined
    if (pause) catchUp = pause.catchUp ?? 0.5
    // A second is not recovered within one eighth note.
    delayMs = pause ? pause.ms : Math.max(delayMs * (1 - catchUp), delayMs - MAX_HURRY * (pauseMs ?? goneMs))
    const { bar, atMs: writtenMs } = strikes[strike]!
    const tempoRatio =
      (first + ((last - first) * writtenMs) / lastMs) /
      (habits.sections.find(one => bar >= one.fromBar && bar <= one.toBar)?.tempoRatio ?? 1)
    visits.push({ strike, atMs: atMs + habits.offsetMs + delayMs, abandoned, again, tempoRatio })
  })
  return visits
}

interface Stop {
  strike: number
  abandoned: boolean
  again: boolean
  pauseMs?: number
}

/** The order in which strikes are visited: bars left out, restarts, repeats left out or taken once more. */
function routeOf(
  expected: readonly ExpectedNote[],
  strikes: readonly Strike[],
  habits: PlayerHabits,
  isAt: (strike: number, place: { bar: number; beat: number }) => boolean,
): Stop[] {
  const route: Stop[] = []
  const restarted = new Set<number>()
  const timeOf = (strike: number) => expected[strikes[strike]!.notes[0]!]!.time
  const { repeatNotTaken, repeatAgain } = habits
  let wasAgain = false
  for (let strike = 0; strike < strikes.length; strike++) {
    const { bar } = strikes[strike]!
    if (habits.skips.some(skip => bar >= skip.fromBar && bar <= skip.toBar)) continue
    if (repeatNotTaken && timeOf(strike) > 1 && bar >= repeatNotTaken.fromBar && bar <= repeatNotTaken.toBar) continue
    route.push({ strike, abandoned: false, again: false })
    const restart = habits.restarts.findIndex((one, index) => !restarted.has(index) && isAt(strike, one))
    if (restart >= 0) {
      const { eventsBack, pauseMs } = habits.restarts[restart]!
      restarted.add(restart)
      const target = Math.max(0, strike - eventsBack)
      for (const stop of route) if (stop.strike >= target) stop.abandoned = true
      route.push({ strike: target, abandoned: false, again: false, pauseMs })
      strike = target
      continue
    }
    const next = strikes[strike + 1]
    const isEnd =
      repeatAgain &&
      !wasAgain &&
      bar === repeatAgain.toBar &&
      (!next || next.bar !== bar) &&
      timeOf(strike) === repeatAgain.afterTime
    if (!isEnd) continue
    wasAgain = true
    const begin = strikes.findIndex(
      (one, index) => one.bar === repeatAgain.fromBar && timeOf(index) === repeatAgain.afterTime,
    )
    for (const stop of route) if (stop.strike >= begin) stop.again = true
    strike = begin - 1
  }
  return route
}

/** For each bar the strike after its longest step starts: a beat is lost or gained there. */
function longestSteps(strikes: readonly Strike[]): Map<number, number> {
  const longest = new Map<number, number>()
  strikes.forEach((strike, index) => {
    const known = longest.get(strike.barIndex)
    const step = (at: number) => (strikes[at + 1]?.atMs ?? -Infinity) - strikes[at]!.atMs
    if (index + 1 < strikes.length && (known === undefined || step(index) >= step(known) - 1))
      longest.set(strike.barIndex, index)
  })
  return longest
}

/** A wandering tempo: neighbouring steps are correlated, the whole stays within a few percent. */
function tempoWander(count: number, percent: number, chance: Chance): number[] {
  let at = 0
  return Array.from({ length: count }, () => {
    if (percent === 0) return 1
    at = 0.97 * at + Math.sqrt(1 - 0.97 ** 2) * chance.normal()
    return 1 + (at * percent) / 100
  })
}

/**
 * A strike's time with the eighths swung as the player likes: the second of two in a beat later or earlier than
 * written.
 */
function swung(
  strikes: readonly Strike[],
  index: number,
  expected: readonly ExpectedNote[],
  { swingRatio }: PlayerHabits,
): number {
  const strike = strikes[index]!
  if (swingRatio === undefined) return strike.atMs
  const share = strike.beat % 1
  const isOffbeat = Math.abs(share - 0.5) < 0.01 || Math.abs(share - 2 / 3) < 0.01
  if (!isOffbeat) return strike.atMs
  const around = strikes.slice(Math.max(0, index - 3), index)
  const onBeat = around.findLast(one => Math.abs(one.beat % 1) < 0.01)
  const next = strikes.slice(index + 1, index + 4).find(one => Math.abs(one.beat % 1) < 0.01)
  if (!onBeat) return strike.atMs
  const { quarterMs } = expected[onBeat.notes[0]!]!
  const beatMs =
    next && next.atMs - onBeat.atMs < 1.5 * quarterMs && next.atMs - onBeat.atMs > 0.5 * quarterMs
      ? next.atMs - onBeat.atMs
      : quarterMs
  // Only where the beat is divided in two.
  const inThree = around.some(one => one.atMs > onBeat.atMs + 1)
  return inThree ? strike.atMs : onBeat.atMs + (beatMs * swingRatio) / (1 + swingRatio)
}
