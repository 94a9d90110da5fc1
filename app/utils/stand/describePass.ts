import type { Hands } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import { tempoText } from '#core/words/amounts'
import { HANDS_WORDS } from '#core/words/passes'
import type { PracticeMode } from '~/utils/stand/states'

/** "left hand, 72 bpm", "together, in your own time": how a pass is played. */
export const describePass = ({
  hands,
  mode,
  bpm,
  meter,
}: {
  hands: Hands
  mode: PracticeMode
  bpm: number
  meter?: Meter
}): string =>
  `${HANDS_WORDS[hands]}, ${mode === 'own-time' ? 'in your own time' : mode === 'free' ? 'freely' : tempoText(bpm, meter)}`
