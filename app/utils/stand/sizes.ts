import type { Drawn } from '#core/formats/musicxml/excerpt'
import type { NotationSize } from '#core/music/page'
import type { StandLook } from '#shared/utils/settings'

/**
 * The height of a notehead (a staff space) for each size, CSS pixels. Piano music is engraved with staves of about 7 mm
 * (common practice) and read at about 65 cm; at a metre the same angle is a staff of 11 mm, a space of 2.7 mm: 10 px
 * where a pixel is a ninety-sixth of an inch.
 */
const AT_A_METRE: Record<StandLook['size'], NotationSize> = {
  small: { leastPx: 8, mostPx: 13 },
  medium: { leastPx: 10, mostPx: 18 },
  large: { leastPx: 13, mostPx: 26 },
}
/** A screen this narrow lies in the hand or on the keys, not a metre away. */
const NARROW_PX = 700
const NEARER = 0.62

/** The size of notation on a screen so wide. */
export function notationSize(size: StandLook['size'], screenWidthPx: number): NotationSize {
  const { leastPx, mostPx } = AT_A_METRE[size]
  return screenWidthPx < NARROW_PX ? { leastPx: NEARER * leastPx, mostPx: NEARER * mostPx } : { leastPx, mostPx }
}

/** How the parts of other players are drawn, by id, as the player wishes. */
export const otherStaves = (
  roleParts: readonly string[],
  { otherStaves: drawn }: Pick<StandLook, 'otherStaves'>,
): Record<string, Drawn> => Object.fromEntries(roleParts.map(id => [id, drawn]))
