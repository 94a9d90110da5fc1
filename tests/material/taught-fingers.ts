/**
 * Fingerings on which scale manuals and teachers agree (common practice, unchecked; where manuals print several, each
 * of them). Fingers are written from the lowest key to the highest, one octave; a second octave goes on in the same
 * groups.
 */
import type { Hand } from '#core/music/arrangement'

export const KEY_NAMES = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'] as const
export const STEPS = {
  major: [0, 2, 4, 5, 7, 9, 11],
  harmonic: [0, 2, 3, 5, 7, 8, 11],
  melodic: [0, 2, 3, 5, 7, 9, 11],
  natural: [0, 2, 3, 5, 7, 8, 10],
} as const
export type ScaleKind = keyof typeof STEPS

/**
 * By tonic from C upward: the seven fingers of a group of seven keys; ends are free where a manual lets the hand begin
 * or end otherwise.
 */
const RIGHT: Record<ScaleKind, string[][]> = {
  major: [
    ['1231234'],
    ['2312341'],
    ['1231234'],
    ['3123412'],
    ['1231234'],
    ['1234123'],
    ['2341231'],
    ['1231234'],
    ['3412312'],
    ['1231234'],
    ['4123123', '2123123'],
    ['1231234'],
  ],
  harmonic: [
    ['1231234'],
    ['3412312'],
    ['1231234'],
    ['3123412'],
    ['1231234'],
    ['1234123'],
    ['3412312', '2312341'],
    ['1231234'],
    ['3412312'],
    ['1231234'],
    ['4123123', '2123123'],
    ['1231234'],
  ],
  melodic: [
    ['1231234'],
    ['2312341', '3412341', '3412312'],
    ['1231234'],
    ['3123412'],
    ['1231234'],
    ['1234123'],
    ['2312341', '3412341', '3412312'],
    ['1231234'],
    ['3412312'],
    ['1231234'],
    ['4123123', '2123123'],
    ['1231234'],
  ],
  natural: [
    ['1231234'],
    ['3412312'],
    ['1231234'],
    ['3123412'],
    ['1231234'],
    ['1234123'],
    ['3412312'],
    ['1231234'],
    ['3412312'],
    ['1231234'],
    ['4123123', '2123123'],
    ['1231234'],
  ],
}
const LEFT: Record<ScaleKind, string[][]> = {
  major: [
    ['1432132'],
    ['3214321'],
    ['1432132'],
    ['3214321'],
    ['1432132'],
    ['1432132'],
    ['4321321'],
    ['1432132'],
    ['3214321'],
    ['1432132'],
    ['3214321'],
    ['1321432'],
  ],
  harmonic: [
    ['1432132'],
    ['3214321'],
    ['1432132'],
    ['2143213'],
    ['1432132'],
    ['1432132'],
    ['4321321'],
    ['1432132'],
    ['3214321', '3213214'],
    ['1432132'],
    ['2132143'],
    ['1321432'],
  ],
  melodic: [
    ['1432132'],
    ['3214321'],
    ['1432132'],
    ['2143213'],
    ['1432132'],
    ['1432132'],
    ['4321321'],
    ['1432132'],
    ['3214321', '3213214'],
    ['1432132'],
    ['2132143'],
    ['1321432'],
  ],
  natural: [
    ['1432132'],
    ['3214321'],
    ['1432132'],
    ['2143213'],
    ['1432132'],
    ['1432132'],
    ['4321321'],
    ['1432132'],
    ['3214321', '3213214'],
    ['1432132'],
    ['2132143', '2143213'],
    ['1321432'],
  ],
}

/** The keys of a scale from a tonic (0 for C) upward, so many octaves and the tonic above. */
export const scaleKeys = (tonic: number, kind: ScaleKind, base: number, octaves: number): number[] => [
  ...Array.from(
    { length: 7 * octaves },
    (_, index) => base + tonic + 12 * Math.floor(index / 7) + STEPS[kind][index % 7]!,
  ),
  base + tonic + 12 * octaves,
]

/**
 * Whether fingers from the lowest key upward are a taught way through so many octaves. The outer keys may have the
 * finger that the hand has left over there.
 */
export function isTaughtScale(fingers: readonly number[], tonic: number, kind: ScaleKind, hand: Hand): boolean {
  return (hand === 'right' ? RIGHT : LEFT)[kind][tonic]!.some(way => {
    const own = Number(way[0])
    const [thumbSide, itsNeighbour, littleSide, its] =
      hand === 'right'
        ? [fingers[0]!, fingers[1]!, fingers.at(-1)!, fingers.at(-2)!]
        : [fingers.at(-1)!, fingers.at(-2)!, fingers[0]!, fingers[1]!]
    return (
      fingers.slice(1, -1).every((finger, index) => finger === Number(way[(index + 1) % 7])) &&
      // Beyond the last group the hand goes on outward; before a thumb it begins with any finger that the thumb can
      // pass under.
      (littleSide === own || littleSide > its) &&
      (thumbSide === own ||
        (itsNeighbour === 1 && thumbSide > 1 && thumbSide < 5) ||
        (thumbSide < itsNeighbour && own !== 1))
    )
  })
}
