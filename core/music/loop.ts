import { barAt, type Arrangement } from './arrangement'
import { barPulses, isBarSounding, PLAIN_CLICK, type ClickChoice } from './click'
import { barLength, type Meter } from './meter'
import { passageClock, swungMs, type Passage, type ScoreSpan } from './passage'
import { add, compare, earlier, equal, later, subtract, toDecimal, ZERO, type Quarters } from './quarters'

/**
 * One click of the metronome, in milliseconds from the beginning of the pass; `isFiner`: one between two beats, at
 * tempos too slow to carry.
 */
export interface Click {
  atMs: number
  downbeat: boolean
  beat: number
  isFiner?: true
}

/** How a passage is looped: its own length, the length of one round, and the clicks of a round. */
export interface LoopPlan {
  /** From the first moment of the passage to its end. */
  musicMs: number
  /** From one beginning of the passage to the next: whole bars, so that the beat continues over the seam. */
  roundMs: number
  clicks: Click[]
  /** The click of the count-in, at negative times: one whole bar, and the beats before a pickup. */
  countIn: Click[]
}

/**
 * Plans the loop of a passage at a tempo in quarter notes a minute, with `restBars` empty bars after each round. One
 * that does not fill whole bars is given the rest of the bar, so that a pickup always falls on its own beat (common
 * practice: count the empty beats). The count-in clicks every beat, whatever is chosen for the music; swung eighths are
 * clicked as the score swings them.
 */
export function loopPlan(
  arrangement: Arrangement,
  passage: Passage,
  bpm: number,
  restBars = 0,
  choice: ClickChoice = PLAIN_CLICK,
): LoopPlan {
  const clock = passageClock(arrangement, passage, bpm)
  const [{ from }, { to }] = [passage.stretches[0]!, passage.stretches.at(-1)!]
  const firstBar = barAt(arrangement, from)
  const lastBar = barEndingAt(arrangement, to)
  const startPhase = add(firstBar.offset, subtract(from, firstBar.start))
  const endPhase = add(lastBar.offset, subtract(to, lastBar.start))

  const { clicks, bars } = musicClicks(arrangement, passage, bpm, choice)
  // Time after the music belongs to its last bar, and then to bars of its own.
  let bar = bars - 1
  const countOn = (meter: Meter, from: Quarters, to: Quarters, isSameBar: boolean) => {
    if (!isSameBar) bar++
    for (const { phase, ...pulse } of barPulses(meter, bpm, choice)) {
      if (compare(phase, from) < 0 || compare(phase, to) >= 0 || !isBarSounding(choice, bar)) continue
      clicks.push({ atMs: roundMs + toDecimal(subtract(phase, from)) * clock.endQuarterMs, ...pulse })
    }
    roundMs += toDecimal(subtract(to, from)) * clock.endQuarterMs
  }
  let roundMs = clock.lengthMs
  for (const { meter, from, to } of seamGaps(lastBar.meter, endPhase, firstBar.meter, startPhase))
    countOn(meter, from, to, compare(from, ZERO) > 0)
  for (let rest = 0; rest < restBars; rest++) {
    // Where a pickup is waited for, the empty bar lasts from its beat to the same beat of the next bar.
    countOn(firstBar.meter, startPhase, barLength(firstBar.meter), compare(startPhase, ZERO) > 0)
    if (compare(startPhase, ZERO) > 0) countOn(firstBar.meter, ZERO, startPhase, false)
  }
  return { musicMs: clock.lengthMs, roundMs, clicks, countIn: countInClicks(firstBar.meter, startPhase, bpm) }
}

/**
 * The empty stretches of bars between the end of one round and the beginning of the next: none when the
 * music fills whole bars; up to the pickup in the bar where it ended; or that bar's rest and then the next
 * bar up to the pickup.
 */
function seamGaps(lastMeter: Meter, endPhase: Quarters, firstMeter: Meter, startPhase: Quarters) {
  const ended = compare(endPhase, barLength(lastMeter)) >= 0 ? ZERO : endPhase
  if (compare(ended, startPhase) <= 0) return [{ meter: firstMeter, from: ended, to: startPhase }]
  return [
    { meter: lastMeter, from: ended, to: barLength(lastMeter) },
    { meter: firstMeter, from: ZERO, to: startPhase },
  ]
}

/** The clicks of the music itself, ms from its beginning, and how many bars it has. */
export function musicClicks(
  arrangement: Arrangement,
  passage: Passage,
  bpm: number | undefined,
  choice: ClickChoice,
): { clicks: Click[]; bars: number } {
  const clock = passageClock(arrangement, passage, bpm)
  const [{ from: begin }] = passage.stretches as [ScoreSpan]
  const { start, offset } = barAt(arrangement, begin)
  // A pickup, or a bar entered in its middle, comes before the counted bars.
  let bars = equal(start, begin) && equal(offset, ZERO) ? 0 : -1
  const clicks: Click[] = []
  passage.stretches.forEach((stretch, index) => {
    for (const bar of arrangement.bars) {
      const [from, to] = [later(bar.start, stretch.from), earlier(add(bar.start, bar.length), stretch.to)]
      if (compare(from, to) >= 0) continue
      const isSounding = isBarSounding(choice, bars++)
      if (!isSounding) continue
      const quarterMs = clock.quarterMsAt(from)
      for (const { phase, ...pulse } of barPulses(bar.meter, 60_000 / quarterMs, choice)) {
        const at = add(subtract(bar.start, bar.offset), phase)
        if (compare(at, from) < 0 || compare(at, to) >= 0) continue
        clicks.push({
          atMs: clock.msAt(index, at) + (pulse.isFiner ? swungMs(arrangement, bar, at, clock.quarterMsAt(at)) : 0),
          ...pulse,
        })
      }
    }
  })
  return { clicks, bars }
}

function countInClicks(meter: Meter, startPhase: Quarters, bpm: number): Click[] {
  const quarterMs = 60_000 / bpm
  const bar = barLength(meter)
  return [subtract(ZERO, add(startPhase, bar)), subtract(ZERO, startPhase)].flatMap(barZero =>
    barPulses(meter, bpm)
      .map(({ phase, ...pulse }) => ({ ...pulse, at: add(barZero, phase) }))
      .filter(({ at }) => compare(at, ZERO) < 0)
      .map(({ at, ...pulse }) => ({ ...pulse, atMs: toDecimal(at) * quarterMs })),
  )
}

/** The bar in which a span ends: at a bar line, the bar before it. */
function barEndingAt(arrangement: Arrangement, moment: Quarters) {
  const bar = barAt(arrangement, moment)
  return equal(bar.start, moment) && bar.index > 0 ? arrangement.bars[bar.index - 1]! : bar
}
