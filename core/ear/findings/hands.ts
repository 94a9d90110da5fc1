import type { Heard } from '../heard'
import type { Pull } from '../measures/pull'
import type { leftBehind } from '../measures/timing'
import type { ChordHeard } from '../measures/together'
import { median } from '../statistics'
import { atPlaces, weigh, type WeightedFinding } from './weighed'

/**
 * Up to this share of the chords may be spread a little; one wider than this multiple of the tolerance is reported
 * anyway.
 */
const APART_SHARE = 0.1
const FAR_APART = 2.2

/** The widest chord, when more chords were spread than a clean pass may have. */
export function spreadFinding({ ear: { tolerances } }: Heard, chords: readonly ChordHeard[]): WeightedFinding[] {
  const wide = chords.filter(chord => chord.spreadMs > tolerances.chordSpreadMs).sort((a, b) => b.spreadMs - a.spreadMs)
  const [widest] = wide
  const allowed = Math.max(1, Math.ceil(APART_SHARE * chords.length))
  if (!widest || (wide.length <= allowed && widest.spreadMs <= FAR_APART * tolerances.chordSpreadMs)) return []
  return [
    {
      weight: weigh(
        5 + (4 * wide.length) / chords.length,
        median(wide.map(chord => chord.spreadMs)) / tolerances.chordSpreadMs,
        11,
      ),
      finding: {
        kind: 'chord-spread',
        ...atPlaces(wide.map(chord => chord.notes[0]!)),
        ms: Math.round(widest.spreadMs),
      },
    },
  ]
}

/** How far one hand lies behind the other where they should fall together. */
export function handsFinding(
  { ear, beatMs, alignment }: Heard,
  behind: ReturnType<typeof leftBehind>,
): WeightedFinding[] {
  const lagMs =
    alignment.loose && Math.abs(alignment.loose.lagMs) > 0.4 * beatMs
      ? alignment.loose.lagMs * (alignment.loose.hand === 'left' ? 1 : -1)
      : behind?.certain
        ? behind.ms
        : 0
  if (Math.abs(lagMs) <= ear.tolerances.handsApartMs) return []
  const ms = Math.round(Math.abs(lagMs))
  return [
    {
      weight: weigh(9, ms / ear.tolerances.handsApartMs, 15),
      finding: { kind: 'hands-apart', hand: lagMs > 0 ? 'left' : 'right', ms, beats: Number((ms / beatMs).toFixed(2)) },
    },
  ]
}

/** The hand that the other one pulls off its own grid, where they do not divide into each other. */
export function pulledFinding({ ear: { tolerances } }: Heard, pull: Pull | undefined): WeightedFinding[] {
  if (!pull || pull.ms <= tolerances.handsApartMs) return []
  return [
    {
      weight: weigh(9, pull.ms / tolerances.handsApartMs, 15),
      finding: { kind: 'hand-pulled', ...atPlaces(pull.notes), ms: Math.round(pull.ms), ...pull.against },
    },
  ]
}
