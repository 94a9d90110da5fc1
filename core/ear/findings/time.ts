import { placeOf, type Heard } from '../heard'
import type { HesitationHeard } from '../measures/hesitation'
import { isCertain, ratioOf, type Division } from '../measures/rhythm'
import { FREE_DRIFT, type Timing } from '../measures/timing'
import { MAX_DELAY_MS } from '../tempo-heard'
import type { TempoFound } from './tempo'
import { weigh, type WeightedFinding } from './weighed'

export function hesitationFindings({ ear }: Heard, pauses: readonly HesitationHeard[]): WeightedFinding[] {
  return pauses.map(({ ms, written, because, isChord }) => ({
    weight: Math.min(20, 6 + 3 * (ms / ear.tolerances.hesitationMaxMs - 0.7)),
    finding: {
      kind: 'hesitation',
      ...placeOf(written),
      ms: Math.round(ms),
      because,
      isChord,
      written: written.spelled,
    },
  }))
}

/** Right notes needed before timing is judged. */
const MIN_NOTES = 4

/** Rushing, dragging, constant lateness, unevenness: one quantity each, unless a tempo finding covers it. */
export function timingFindings(
  { ear, steady, notes, beatMs }: Heard,
  { offsetMs, driftPercent, unsteadinessMs, onTimeMs, onTimeShare, tooManyStrays }: Timing,
  { explainsDrift, explainsOffset }: TempoFound,
): WeightedFinding[] {
  const { tolerances } = ear
  const found: WeightedFinding[] = []
  if (notes.filter(note => note.outcome === 'right').length < MIN_NOTES) return found
  const drift = Math.abs(driftPercent)
  // Without a click the tempo is the player's own; only a large change says anything.
  const driftTolerance = tolerances.driftPercent * (steady ? 1 : FREE_DRIFT)
  if (drift > driftTolerance && !explainsDrift) {
    found.push({
      weight: weigh(8, drift / driftTolerance, 14),
      finding: {
        kind: driftPercent < 0 ? 'rushing' : 'dragging',
        percent: Number(drift.toFixed(1)),
        withClick: steady,
      },
    })
  }
  const offset = Math.abs(offsetMs)
  const offsetTolerance = tolerances.offsetShare * onTimeMs
  if (offset > offsetTolerance && !explainsOffset) {
    const ms = Math.round(offset)
    found.push({
      weight: weigh(7, offset / offsetTolerance, 12),
      finding:
        offsetMs > 0
          ? { kind: 'late', ms, maybeKeyboard: ms < Math.min(MAX_DELAY_MS, 0.5 * beatMs) }
          : { kind: 'early', ms },
    })
  }
  const uneven = unsteadinessMs / (tolerances.unevenShare * onTimeMs)
  if (uneven > 1)
    found.push({
      weight: Math.min(9, 4 + 1.5 * (uneven - 1) + 3 * (1 - onTimeShare)),
      finding: {
        kind: 'uneven',
        ms: Math.round(unsteadinessMs),
        onTimeShare: Number(onTimeShare.toFixed(3)),
        outOfTime: tooManyStrays,
      },
    })
  return found
}

/** Only single notes off their time, more than a clean pass may have. */
export function straysFinding({ strays, tooManyStrays, onTimeShare }: Timing): WeightedFinding[] {
  const [stray] = strays
  if (!stray || !tooManyStrays) return []
  const { written } = stray.note
  return [
    {
      weight: 5,
      finding: {
        kind: 'uneven',
        ms: Math.round(stray.ms),
        onTimeShare: Number(onTimeShare.toFixed(3)),
        outOfTime: true,
        place: placeOf(written),
        written: written.spelled,
        count: strays.length,
      },
    },
  ]
}

/** Dotted rhythms and triplets against what is written. */
export function rhythmFindings({ ear }: Heard, divisions: readonly Division[]): WeightedFinding[] {
  return divisions.flatMap((division): WeightedFinding[] => {
    const { kind, asked, played, count, worst } = division
    if (kind === 'pairs' || !isCertain(division)) return []
    const off = Math.abs(played - asked) / ear.tolerances.divisionShare
    return off < 1
      ? []
      : [
          {
            weight: weigh(7, off, 12),
            finding: {
              kind: 'rhythm',
              division: kind,
              ...worst,
              asked: Number(asked.toFixed(3)),
              played: Number(played.toFixed(3)),
              count,
            },
          },
        ]
  })
}

/** Long to short where beats are in two, against what is asked. */
export function swingFindings({ ear }: Heard, divisions: readonly Division[]): WeightedFinding[] {
  const { swingFactor } = ear.tolerances
  return divisions.flatMap((division): WeightedFinding[] => {
    if (division.kind !== 'pairs' || !isCertain(division)) return []
    const [ratio, asked] = [ratioOf(division.played), ratioOf(division.asked)]
    const factor = Math.max(ratio / asked, asked / ratio)
    return factor < swingFactor
      ? []
      : [
          {
            weight: weigh(7, Math.log(factor) / Math.log(swingFactor), 12),
            finding: {
              kind: 'swing',
              ...division.worst,
              ratio: Number(ratio.toFixed(2)),
              asked: Number(asked.toFixed(2)),
              count: division.count,
            },
          },
        ]
  })
}
