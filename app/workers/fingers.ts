import { expose } from 'comlink'
import type { Fingering } from '#core/hands/fingering'
import { fingerPart } from '#core/hands/part-fingering'
import type { Arrangement, Hand } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'

const fingers = {
  /** Fingers for both hands of a stretch. The work grows with its notes: thousands take a good part of a second. */
  fingers(arrangement: Arrangement, stretch: ScoreSpan, reach: number): Record<Hand, Fingering> {
    return {
      right: fingerPart(arrangement, stretch, 'right', { reach }),
      left: fingerPart(arrangement, stretch, 'left', { reach }),
    }
  },
}
export type FingersWorker = typeof fingers

expose(fingers)
