import type { ChordSpelling } from '../../music/chord-symbol'
import type { Meter } from '../../music/meter'

/**
 * A chord chart: what a player with a lead sheet has. A bar's chords stand on beats from 0, in the meter's denominator.
 */
export interface Chart {
  title: string
  composer: string
  meter: Meter
  /** Sharps of the key signature, where the chart names a key. */
  fifths?: number
  tempoBpm?: number
  sections: ChartSection[]
  /** Whether the text itself said how many beats a chord has. */
  hasBars: boolean
}
export interface ChartSection {
  name: string
  bars: ChartBar[]
}
export interface ChartBar {
  chords: ChartChord[]
}
export interface ChartChord {
  beat: number
  chord: ChordSpelling | undefined
  words?: string
}
