import type { ExpectedNote } from './passage'

/** How loud a note is played by the program: the melody above the accompaniment (common practice), accents above both. MIDI velocities. */
export const LOUDNESS = { right: 78, left: 62, accent: 14 } as const

export const velocityAt = ({ hand, articulations }: Pick<ExpectedNote, 'hand' | 'articulations'>): number =>
  LOUDNESS[hand] + (articulations?.some(one => one === 'accent' || one === 'strong-accent') ? LOUDNESS.accent : 0)
