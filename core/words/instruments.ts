import type { Voice } from '../music/voice'

/** The sixteen families of eight programs each (General MIDI 1, sound set). */
const FAMILIES = [
  'piano',
  'tuned percussion',
  'organ',
  'guitar',
  'bass',
  'strings',
  'ensemble',
  'brass',
  'reed',
  'pipe',
  'synthesizer lead',
  'synthesizer pad',
  'synthesizer effect',
  'plucked strings',
  'percussion',
  'sound effect',
]

/** The name of a voice's instrument: the score's own, or the family of its MIDI program. */
export function instrumentName({
  instrument,
  program,
  percussion,
  name,
}: Pick<Voice, 'instrument' | 'program' | 'percussion' | 'name'>): string {
  if (percussion) return 'drums'
  if (program !== undefined) return FAMILIES[Math.floor(program / 8)] ?? ''
  return instrument === name ? '' : instrument
}
