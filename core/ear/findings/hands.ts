import type { Heard } from '../heard'
import type { leftBehind } from '../measures/timing'
import type { ChordHeard } from '../measures/together'
import { middle } from '../statistics'
import { plural, placeOf, placeText } from './words'
import { weigh, type Weighed } from './weighed'

/** The widest chord, when its notes meant together were not struck together. */
export function spreadFinding({ ear }: Heard, chords: readonly ChordHeard[]): Weighed[] {
  const wide = chords.filter(chord => chord.spreadMs > ear.tolerances.chordSpreadMs)
  const widest = wide.reduce<ChordHeard | undefined>((most, one) => !most || one.spreadMs > most.spreadMs ? one : most, undefined)
  if (!widest) return []
  const { written } = widest.notes[0]!
  const others = wide.length > 1 ? ` (and ${plural(wide.length - 1, 'other chord')})` : ''
  return [{
    weight: weigh(4 + 3 * wide.length / chords.length, middle(wide.map(chord => chord.spreadMs)) / ear.tolerances.chordSpreadMs, 10),
    finding: { kind: 'chord-spread', ...placeOf(written), ms: Math.round(widest.spreadMs), count: wide.length, text: `${placeText(written)}: the chord's notes are ${Math.round(widest.spreadMs)} ms apart${others}. Shape the hand over all its keys first, then drop it.` },
  }]
}

/** How far one hand lies behind the other where they should fall together. */
export function handsFinding({ ear, beatMs, alignment }: Heard, behind: ReturnType<typeof leftBehind>): Weighed[] {
  const lagMs = alignment.loose && Math.abs(alignment.loose.lagMs) > 0.4 * beatMs
    ? alignment.loose.lagMs * (alignment.loose.hand === 'left' ? 1 : -1)
    : behind?.certain ? behind.ms : 0
  if (Math.abs(lagMs) <= ear.tolerances.handsApartMs) return []
  const hand = lagMs > 0 ? 'left' : 'right'
  const ms = Math.round(Math.abs(lagMs))
  const beats = ms / beatMs
  const text = beats > 0.4
    ? `The ${hand} hand comes ${Math.abs(beats - 1) < 0.15 ? 'a whole beat' : `${beats.toFixed(1)} beats`} (${ms} ms) after the other. Play only the first beat of each bar, both hands dropping together.`
    : `Where the hands should meet, the ${hand} hand comes ${ms} ms after the other. Play only the meeting points, both hands dropping together.`
  return [{ weight: weigh(8, ms / ear.tolerances.handsApartMs, 15), finding: { kind: 'hands-apart', hand, ms, text } }]
}
