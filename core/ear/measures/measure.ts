import type { AssessmentSummary, Measure, MeasureName, MeasureUnit, ToleranceSource } from '../assessment'
import type { Heard } from '../heard'
import { median } from '../statistics'
import { dynamics, type Dynamics } from './dynamics'
import { hesitations, type HesitationHeard } from './hesitation'
import { pedalChanges, type PedalChange } from './pedal'
import { pullOf, type Pull } from './pull'
import { divisions, isCertain, ratioOf, type Division } from './rhythm'
import { FREE_DRIFT, leftBehind, timing, type Timing } from './timing'
import { chords, type ChordHeard } from './together'
import { touches, type Touch } from './touch'

/** Everything measured in a pass, each quantity separately. */
export interface Measured {
  timing: Timing
  hesitations: HesitationHeard[]
  divisions: Division[]
  chords: ChordHeard[]
  behind: ReturnType<typeof leftBehind>
  pull: Pull | undefined
  touches: Touch[]
  dynamics: Dynamics | null
  pedal: PedalChange[]
}

export function measure(heard: Heard): Measured {
  const behind = leftBehind(heard)
  const divided = divisions(heard)
  return {
    behind,
    timing: timing(heard, behind?.ms ?? null, swungOtherwise(divided)),
    hesitations: hesitations(heard),
    divisions: divided,
    chords: chords(heard.events),
    pull: pullOf(heard),
    touches: touches(heard),
    dynamics: dynamics(heard),
    pedal: pedalChanges(heard),
  }
}

/** How much each swung note is late or early because all of them are, ms, by index: swing is a quantity of its own. */
const swungOtherwise = (divided: readonly Division[]): Map<number, number> =>
  new Map(
    divided.flatMap(one =>
      one.kind === 'pairs' && isCertain(one)
        ? one.inner.map(({ note, lateMs }): [number, number] => [note, lateMs])
        : [],
    ),
  )

type Figures = Pick<
  AssessmentSummary,
  | 'onTimeShare'
  | 'onTimeMs'
  | 'offsetMs'
  | 'driftPercent'
  | 'unsteadinessMs'
  | 'swingRatio'
  | 'swingAsked'
  | 'chordSpreadMs'
  | 'leftBehindMs'
  | 'articulation'
  | 'balanceSteps'
  | 'pedalMs'
>

/** Pairs of eighths needed to speak of a swing ratio. */
const MIN_PAIRS = 3

/** The figures of the summary, unrounded. */
export function figuresOf({
  timing: time,
  divisions: all,
  chords: heardChords,
  behind,
  touches: hands,
  dynamics: loud,
  pedal,
}: Measured): Figures {
  const pairs = all.find(one => one.kind === 'pairs' && one.count >= MIN_PAIRS)
  const held = hands.reduce((sum, hand) => sum + hand.count, 0)
  return {
    onTimeShare: time.onTimeShare,
    onTimeMs: time.onTimeMs,
    offsetMs: time.offsetMs,
    driftPercent: time.driftPercent,
    unsteadinessMs: time.unsteadinessMs,
    swingRatio: pairs ? ratioOf(pairs.played) : null,
    swingAsked: pairs ? ratioOf(pairs.asked) : null,
    chordSpreadMs: heardChords.length > 0 ? median(heardChords.map(chord => chord.spreadMs)) : null,
    leftBehindMs: behind?.ms ?? null,
    articulation: held > 0 ? hands.reduce((sum, hand) => sum + hand.articulation * hand.count, 0) / held : null,
    balanceSteps: loud?.balance?.steps ?? null,
    pedalMs: pedal.length > 0 ? median(pedal.map(change => change.ms)) : null,
  }
}

/** Each figure with its unit, its tolerance and where that comes from, for the review. */
export function measuresOf(
  { ear, beatMs, steady }: Heard,
  { hesitations: pauses, pedal }: Measured,
  figures: Figures,
): Measure[] {
  const { tolerances } = ear
  const { onTimeMs } = figures
  const one = (
    name: MeasureName,
    value: number | null,
    unit: MeasureUnit,
    range: { least?: number; most?: number },
    source: ToleranceSource,
    more: Partial<Measure> = {},
  ): Measure => ({
    name,
    value,
    unit,
    ...range,
    source,
    ...more,
    within:
      value === null ||
      ((range.least === undefined || value >= range.least) && (range.most === undefined || value <= range.most)),
  })
  const swing = figures.swingAsked
  const drift = tolerances.driftPercent * (steady ? 1 : FREE_DRIFT)
  const offset = tolerances.offsetShare * onTimeMs
  return [
    one(
      'onTimeShare',
      figures.onTimeShare * 100,
      '%',
      { least: tolerances.cleanOnTimeShare * 100 },
      'noticed-displacement',
      { toleranceMs: Math.round(onTimeMs * 10) / 10, beatShare: onTimeMs / beatMs },
    ),
    ...(steady ? [one('offsetMs', figures.offsetMs, 'ms', { least: -offset, most: offset }, 'common-practice')] : []),
    one('driftPercent', figures.driftPercent, '%', { least: -drift, most: drift }, 'noticed-displacement', {
      withClick: steady,
    }),
    one('unsteadinessMs', figures.unsteadinessMs, 'ms', { most: tolerances.unevenShare * onTimeMs }, 'common-practice'),
    one('hesitations', pauses.length, '', { most: 0 }, 'common-practice', {
      toleranceMs: Math.round(tolerances.hesitationMinMs),
      beatShare: tolerances.hesitationShare,
    }),
    one(
      'swingRatio',
      figures.swingRatio,
      ': 1',
      swing === null ? {} : { least: swing / tolerances.swingFactor, most: swing * tolerances.swingFactor },
      'swing-research',
    ),
    one('chordSpreadMs', figures.chordSpreadMs, 'ms', { most: tolerances.chordSpreadMs }, 'melody-lead'),
    one(
      'leftBehindMs',
      figures.leftBehindMs,
      'ms',
      { least: -tolerances.handsApartMs, most: tolerances.handsApartMs },
      'melody-lead',
    ),
    one(
      'articulation',
      figures.articulation === null ? null : 100 * figures.articulation,
      '% of the written length',
      { least: 100 * tolerances.releasedShare },
      'detached',
    ),
    one('balanceSteps', figures.balanceSteps, 'steps of 127', { least: -tolerances.balanceSteps }, 'melody-above'),
    ...(pedal.length > 0
      ? [
          one(
            'pedalMs',
            figures.pedalMs,
            'ms',
            { least: -tolerances.pedalEarlyMs, most: tolerances.pedalLateMs },
            'syncopated-pedal',
          ),
        ]
      : []),
  ]
}
