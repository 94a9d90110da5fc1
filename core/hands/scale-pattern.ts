import type { Hand } from '../music/arrangement'
import type { Finger } from './ergonomics'
import { isBlack } from './ergonomics'

/** The steps of the major scale and of the three minor ones in half steps from the tonic. */
export const SCALES = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 11],
  melodic: [0, 2, 3, 5, 7, 9, 11],
  natural: [0, 2, 3, 5, 7, 8, 10],
} as const
/** The same in the order in which a run is taken for one where several fit as well. */
export const SCALE_KINDS = [SCALES.major, SCALES.minor, SCALES.natural, SCALES.melodic] as const

/**
 * The finger that each key of a scale has in the hand's usual fingering, by pitch class; worked out from the teaching
 * rules (common practice): a group of three and a group of four fingers, thumbs on white keys only, a thumb on the
 * tonic where it is white (the group of three beginning there for the right hand, the group of four ending there for
 * the left), otherwise the fourth finger on a black key. `scale` has seven pitch classes from the tonic upward; `kept`:
 * fingers that some of them have whatever the rules say.
 */
export function scaleFingers(
  scale: readonly number[],
  hand: Hand,
  kept: ReadonlyMap<number, Finger> = new Map(),
): Map<number, Finger> {
  let best: { cost: number; fingers: Finger[] } | undefined
  for (let first = 0; first < 7; first++) {
    const fingers = groupsFrom(first, hand)
    const thumbs = fingers.flatMap((finger, step) => (finger === 1 ? [step] : []))
    const four = fingers.indexOf(4)
    const blackThumbs = thumbs.filter(step => isBlack(scale[step]!)).length
    const tonicIsWhite = !isBlack(scale[0]!)
    const broken = scale.filter((pitchClass, step) => (kept.get(pitchClass) ?? fingers[step]) !== fingers[step]).length
    const cost =
      blackThumbs * 100 +
      broken * 1000 +
      (tonicIsWhite && !thumbs.includes(0) ? 10 : 0) +
      // The other thumb: on the fourth for the right hand, on the fifth for the left.
      (tonicIsWhite && !thumbs.includes(hand === 'right' ? 3 : 4) ? 3 : 0) +
      (isBlack(scale[four]!) ? 0 : 1)
    if (!best || cost < best.cost) best = { cost, fingers }
  }
  return new Map(scale.map((pitchClass, step) => [((pitchClass % 12) + 12) % 12, best!.fingers[step]!]))
}

/** Fingers of the seven steps when the group of three begins (right hand) or ends (left hand) at a step. */
function groupsFrom(step: number, hand: Hand): Finger[] {
  const upward: Finger[] = hand === 'right' ? [1, 2, 3, 1, 2, 3, 4] : [1, 4, 3, 2, 1, 3, 2]
  return Array.from({ length: 7 }, (_, index) => upward[(index - step + 14) % 7]!)
}
