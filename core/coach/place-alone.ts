import type { Finding } from '../ear/finding'
import type { Arrangement, Bar, Hands } from '../music/arrangement'
import { beatLength } from '../music/meter'
import type { ScoreSpan } from '../music/passage'
import { add, compare, earlier, later, multiply, quarters, subtract } from '../music/quarters'
import { placeLoop } from './hard-spots'
import type { RepeatGoal } from './how-often'

/** A passage to be played by itself, at a tempo in quarter notes a minute. */
export interface IsolatedPassage {
  stretch: ScoreSpan
  hands: Hands
  bpm: number
  howOften: RepeatGoal
}

/** Tempo factor for a bar with several mistakes, and how often it is to be right (as its sentence says). */
const SLOWER = 0.8
const THREE_TIMES: RepeatGoal = { until: 'times', count: 3 }
const THREE_CLEAN: RepeatGoal = { until: 'clean-in-a-row', count: 3 }

/**
 * The passage a finding asks to play by itself: a bar with several mistakes slower, a single one with a beat before and
 * after it, a hand pulled by the other alone; never faster than the current tempo (`nowBpm`). Undefined where a finding
 * asks for nothing.
 */
export function isolatedPassage(
  arrangement: Arrangement,
  finding: Finding,
  pass: { stretch: ScoreSpan; hands: Hands; bpm: number },
  nowBpm = Infinity,
): IsolatedPassage | undefined {
  const found = passageAskedBy(arrangement, finding, pass)
  return found && { ...found, bpm: Math.min(found.bpm, nowBpm) }
}

function passageAskedBy(
  arrangement: Arrangement,
  finding: Finding,
  pass: { stretch: ScoreSpan; hands: Hands; bpm: number },
): IsolatedPassage | undefined {
  const { stretch, hands, bpm } = pass
  const slower = Math.round(SLOWER * bpm)
  const barsFrom = (fromBar: number, toBar = fromBar): ScoreSpan | undefined => {
    const meant = barsIn(arrangement, stretch).filter(bar => bar.number >= fromBar && bar.number <= toBar)
    const last = meant.at(-1)
    return last && { from: later(meant[0]!.start, stretch.from), to: earlier(add(last.start, last.length), stretch.to) }
  }
  const at = (place: ScoreSpan | undefined, atBpm: number, howOften: RepeatGoal): IsolatedPassage | undefined =>
    place && { stretch: place, hands, bpm: atBpm, howOften }
  const around = ({ bar, beat }: { bar: number; beat: number }): ScoreSpan | undefined => {
    const found = barsIn(arrangement, stretch).find(one => one.number === bar)
    if (!found) return undefined
    const moment = add(
      subtract(found.start, found.offset),
      multiply(beatLength(found.meter), quarters(Math.round((beat - 1) * 12), 12)),
    )
    return compare(moment, stretch.to) < 0 ? placeLoop(arrangement, stretch, later(moment, stretch.from)) : undefined
  }
  switch (finding.kind) {
    case 'wrong-note':
    case 'missed-note':
      return finding.count > 1 ? at(barsFrom(finding.bar), slower, THREE_CLEAN) : at(around(finding), bpm, THREE_TIMES)
    case 'extra-note':
      return finding.count > 1 ? at(barsFrom(finding.bar), bpm, THREE_TIMES) : at(around(finding), bpm, THREE_TIMES)
    case 'hesitation':
      return finding.waited ? undefined : at(around(finding), bpm, THREE_TIMES)
    case 'skipped':
      return at(barsFrom(finding.fromBar - 1, finding.toBar), slower, THREE_CLEAN)
    case 'rhythm':
      return at(barsFrom(finding.bar), slower, THREE_CLEAN)
    case 'uneven':
      return finding.place ? at(barsFrom(finding.place.bar), bpm, THREE_TIMES) : at(stretch, slower, THREE_TIMES)
    // The pulled hand by itself.
    case 'hand-pulled':
      return finding.hand ? { stretch, hands: finding.hand, bpm: slower, howOften: THREE_CLEAN } : undefined
    case 'dynamics':
      return at(barsFrom(finding.bar - 1, finding.bar), bpm, THREE_TIMES)
    case 'wrong-tempo':
      return finding.because === 'slower' || finding.because === 'half'
        ? at(stretch, Math.round(finding.bpm), THREE_TIMES)
        : undefined
    default:
      return undefined
  }
}

const barsIn = ({ bars }: Arrangement, { from, to }: ScoreSpan): Bar[] =>
  bars.filter(bar => compare(add(bar.start, bar.length), from) > 0 && compare(bar.start, to) < 0)
