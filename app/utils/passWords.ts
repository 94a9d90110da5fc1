import type { Hands } from '#core/music/arrangement'

export const HANDS_WORDS: Record<Hands, string> = { left: 'left hand', right: 'right hand', both: 'together' }

/** "left hand, 72 bpm", "together, in your own time": how a pass is played. */
export const howWords = ({ hands, mode, bpm }: { hands: Hands, mode: 'own-time' | 'steady', bpm: number }): string =>
  `${HANDS_WORDS[hands]}, ${mode === 'own-time' ? 'in your own time' : `${Math.round(bpm)} bpm`}`
