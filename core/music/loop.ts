import { barAt, type Arrangement } from './arrangement'
import { barLength, beatLength, isCompound, isCountedFiner, pulses, type Meter } from './meter'
import { passageClock, type Passage } from './passage'
import { add, compare, earlier, equal, later, multiply, quarters, subtract, toDecimal, ZERO, type Quarters } from './quarters'

/** One click of the metronome, in milliseconds from the beginning of the pass; `isFiner`: one between two beats, at tempos too slow to carry. */
export interface Click { atMs: number, downbeat: boolean, beat: number, isFiner?: true }

/** How a passage is looped: its own length, the length of one round, and the clicks of a round. */
export interface LoopPlan {
  /** From the first moment of the passage to its end. */
  musicMs: number
  /** From one beginning of the passage to the next: whole bars, so that the beat goes on over the seam. */
  roundMs: number
  clicks: Click[]
  /** The click of the count-in, at negative times: one whole bar, and the beats before a pickup. */
  countIn: Click[]
}

/**
 * Plans the loop of a passage at a tempo in quarter notes a minute, with `restBars` empty bars after each round. One that does not fill whole bars
 * is given the rest of the bar, so that a pickup always falls on its own beat (common practice: count the
 * empty beats).
 */
export function loopPlan(arrangement: Arrangement, passage: Passage, bpm: number, restBars = 0): LoopPlan {
  const clock = passageClock(arrangement, passage, bpm)
  const [{ from }, { to }] = [passage.stretches[0]!, passage.stretches.at(-1)!]
  const firstBar = barAt(arrangement, from)
  const lastBar = barEndingAt(arrangement, to)
  const isFiner = isCountedFiner(bpm, firstBar.meter)
  const startPhase = add(firstBar.offset, subtract(from, firstBar.start))
  const endPhase = add(lastBar.offset, subtract(to, lastBar.start))

  const clicks = passage.stretches.flatMap((stretch, index) => arrangement.bars.flatMap(bar => barPulses(bar.meter, isFiner)
    .map(pulse => ({ ...pulse, at: add(subtract(bar.start, bar.offset), pulse.phase) }))
    .filter(({ at }) => compare(at, later(bar.start, stretch.from)) >= 0
      && compare(at, earlier(add(bar.start, bar.length), stretch.to)) < 0)
    .map(({ at, phase: _phase, ...pulse }) => ({ atMs: clock.msAt(index, at), ...pulse }))))

  let roundMs = clock.lengthMs
  for (const gap of seamGaps(lastBar.meter, endPhase, firstBar.meter, startPhase)) {
    for (const { phase, ...pulse } of barPulses(gap.meter, isFiner)) {
      if (compare(phase, gap.from) < 0 || compare(phase, gap.to) >= 0) continue
      clicks.push({ atMs: roundMs + toDecimal(subtract(phase, gap.from)) * clock.endQuarterMs, ...pulse })
    }
    roundMs += toDecimal(subtract(gap.to, gap.from)) * clock.endQuarterMs
  }
  for (let rest = 0; rest < restBars; rest++) {
    // Where a pickup is waited for, the empty bar goes from its beat to the same beat of the next bar.
    for (const { from, to } of [{ from: startPhase, to: barLength(firstBar.meter) }, { from: ZERO, to: startPhase }]) {
      for (const { phase, ...pulse } of barPulses(firstBar.meter, isFiner)) {
        if (compare(phase, from) < 0 || compare(phase, to) >= 0) continue
        clicks.push({ atMs: roundMs + toDecimal(subtract(phase, from)) * clock.endQuarterMs, ...pulse })
      }
      roundMs += toDecimal(subtract(to, from)) * clock.endQuarterMs
    }
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

interface Pulse { phase: Quarters, downbeat: boolean, beat: number, isFiner?: true }

/** The clicks of a bar: its pulses, and between them, where it is that slow, the halves of the beat, in compound meters the thirds. */
function barPulses(meter: Meter, isFiner: boolean): Pulse[] {
  const beat = beatLength(meter)
  const within = isCompound(meter) ? [1, 2].map(third => multiply(beat, quarters(third))) : [multiply(beat, quarters(1, 2))]
  return pulses(meter).flatMap((pulse, index): Pulse[] => {
    const phase = multiply(quarters(pulse), beat)
    return [{ phase, downbeat: index === 0, beat: index + 1 }, ...(isFiner ? within.map((after): Pulse => ({ phase: add(phase, after), downbeat: false, beat: index + 1, isFiner: true })) : [])]
  })
}

function countInClicks(meter: Meter, startPhase: Quarters, bpm: number): Click[] {
  const quarterMs = 60_000 / bpm
  const bar = barLength(meter)
  return [subtract(ZERO, add(startPhase, bar)), subtract(ZERO, startPhase)].flatMap(barZero => barPulses(meter, isCountedFiner(bpm, meter))
    .map(({ phase, ...pulse }) => ({ ...pulse, at: add(barZero, phase) }))
    .filter(({ at }) => compare(at, ZERO) < 0)
    .map(({ at, ...pulse }) => ({ ...pulse, atMs: toDecimal(at) * quarterMs })))
}

/** The bar in which a stretch that ends at this moment ends: the one before, when that is a bar line. */
function barEndingAt(arrangement: Arrangement, moment: Quarters) {
  const bar = barAt(arrangement, moment)
  return equal(bar.start, moment) && bar.index > 0 ? arrangement.bars[bar.index - 1]! : bar
}
