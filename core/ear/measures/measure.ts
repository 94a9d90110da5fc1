import type { AssessmentSummary, Measure } from '../assessment'
import type { Heard } from '../heard'
import { middle } from '../statistics'
import { dynamics, type Dynamics } from './dynamics'
import { hesitations, type HesitationHeard } from './hesitation'
import { pedalChanges, type PedalChange } from './pedal'
import { divisions, ratioOf, type Division } from './rhythm'
import { leftBehind, timing, type Timing } from './timing'
import { chords, type ChordHeard } from './together'
import { touches, type Touch } from './touch'

/** Everything measured in a pass, each quantity by itself. */
export interface Measured {
  timing: Timing
  hesitations: HesitationHeard[]
  divisions: Division[]
  chords: ChordHeard[]
  behind: ReturnType<typeof leftBehind>
  touches: Touch[]
  dynamics: Dynamics | null
  pedal: PedalChange[]
}

export function measure(heard: Heard): Measured {
  const behind = leftBehind(heard.moments)
  return {
    behind,
    timing: timing(heard, behind?.ms ?? null),
    hesitations: hesitations(heard),
    divisions: divisions(heard),
    chords: chords(heard.moments),
    touches: touches(heard),
    dynamics: dynamics(heard),
    pedal: pedalChanges(heard),
  }
}

type Figures = Pick<AssessmentSummary, 'onTimeShare' | 'onTimeMs' | 'offsetMs' | 'driftPercent' | 'unsteadinessMs' | 'swingRatio' | 'swingAsked'
  | 'chordSpreadMs' | 'leftBehindMs' | 'articulation' | 'balanceSteps' | 'pedalMs'>

/** Pairs of eighths are called a swing ratio from so many beats on. */
const LEAST_PAIRS = 3

/** The figures of the summary, unrounded. */
export function figuresOf({ timing: time, divisions: all, chords: heardChords, behind, touches: hands, dynamics: loud, pedal }: Measured): Figures {
  const pairs = all.find(one => one.kind === 'pairs' && one.count >= LEAST_PAIRS)
  const held = hands.reduce((sum, hand) => sum + hand.count, 0)
  return {
    onTimeShare: time.onTimeShare, onTimeMs: time.onTimeMs, offsetMs: time.offsetMs, driftPercent: time.driftPercent, unsteadinessMs: time.unsteadinessMs,
    swingRatio: pairs ? ratioOf(pairs.played) : null, swingAsked: pairs ? ratioOf(pairs.asked) : null,
    chordSpreadMs: heardChords.length > 0 ? middle(heardChords.map(chord => chord.spreadMs)) : null,
    leftBehindMs: behind?.ms ?? null,
    articulation: held > 0 ? hands.reduce((sum, hand) => sum + hand.articulation * hand.count, 0) / held : null,
    balanceSteps: loud?.balance?.steps ?? null,
    pedalMs: pedal.length > 0 ? middle(pedal.map(change => change.ms)) : null,
  }
}

/** Each figure with its unit, its tolerance and where that comes from, for the review. */
export function measuresOf({ ear, beatMs, steady }: Heard, { hesitations: pauses, pedal }: Measured, figures: Figures): Measure[] {
  const { tolerances } = ear
  const { onTimeMs } = figures
  const one = (name: string, label: string, value: number | null, unit: string, range: { least?: number, most?: number }, source: string): Measure => ({
    name, label, value, unit, ...range, source,
    within: value === null || ((range.least === undefined || value >= range.least) && (range.most === undefined || value <= range.most)),
  })
  const swing = figures.swingAsked
  return [
    one('onTimeShare', 'Right notes in time', figures.onTimeShare * 100, '%', { least: tolerances.cleanOnTimeShare * 100 },
      `Within ${Math.round(Math.round(10 * onTimeMs) / 10)} ms: ${Math.round(100 * onTimeMs / beatMs)} % of a beat; a listener notices about 2.5 % (Friberg & Sundberg 1995, from memory)`),
    ...(steady ? [one('offsetMs', 'Constant offset from the click', figures.offsetMs, 'ms', { least: -tolerances.offsetShare * onTimeMs, most: tolerances.offsetShare * onTimeMs }, 'Own choice: a share of the tolerance for single notes')] : []),
    one('driftPercent', steady ? 'Drift against the click' : 'Change of tempo from beginning to end', figures.driftPercent, '%',
      { least: -tolerances.driftPercent * (steady ? 1 : 4), most: tolerances.driftPercent * (steady ? 1 : 4) }, 'A listener notices about 2.5 % (Friberg & Sundberg 1995, from memory)'),
    one('unsteadinessMs', 'Unsteadiness', figures.unsteadinessMs, 'ms', { most: tolerances.unevenShare * onTimeMs }, 'Own choice: a share of the tolerance for single notes'),
    one('hesitations', 'Hesitations', pauses.length, '', { most: 0 }, `Longer than ${Math.round(100 * tolerances.hesitationShare)} % of the step, at least ${Math.round(tolerances.hesitationMinMs)} and at most ${Math.round(tolerances.hesitationMaxMs)} ms (own choice)`),
    one('swingRatio', 'Long to short where beats are in two', figures.swingRatio, ': 1', swing === null ? {} : { least: swing / tolerances.swingFactor, most: swing * tolerances.swingFactor }, 'As written; swing falls with tempo (Friberg & Sundström 2002, from memory)'),
    one('chordSpreadMs', 'Spread of chord notes', figures.chordSpreadMs, 'ms', { most: tolerances.chordSpreadMs }, 'Experts’ melody lead is about 30 ms (Goebl 2001, from memory)'),
    one('leftBehindMs', 'Left hand behind the right', figures.leftBehindMs, 'ms', { least: -tolerances.handsApartMs, most: tolerances.handsApartMs }, 'Experts’ melody lead is about 30 ms (Goebl 2001, from memory)'),
    one('articulation', 'Held for', figures.articulation === null ? null : 100 * figures.articulation, '% of the written length', { least: 100 * tolerances.releasedShare }, 'Detached playing holds about half (common practice)'),
    one('balanceSteps', 'Melody above accompaniment', figures.balanceSteps, 'steps of 127', { least: -tolerances.balanceSteps }, 'The melody is not softer than what accompanies it (common practice)'),
    ...(pedal.length > 0 ? [one('pedalMs', 'Pedal behind the harmony', figures.pedalMs, 'ms', { least: -tolerances.pedalEarlyMs, most: tolerances.pedalLateMs }, 'Syncopated pedalling: up as the new chord goes down (common practice)')] : []),
  ]
}
