import { programOf, type Voice } from '../music/voice'

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

/** What a voice is played on, as it is said: the score's own name for it, or the family of its MIDI program. */
export function instrumentName({
  instrument,
  percussion,
  name,
}: Pick<Voice, 'instrument' | 'percussion' | 'name'>): string {
  if (percussion) return 'drums'
  const program = programOf({ instrument })
  if (program !== undefined) return FAMILIES[Math.floor(program / 8)] ?? ''
  return instrument === name ? '' : instrument
}
