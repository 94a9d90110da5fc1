import type { Experience } from '#core/coach/starting-tempo'
import type { Level } from '#core/patterns/editions'

/**
 * The level of an edition that goes with what a player can play already; undefined where songs are learned as they are.
 */
export const LEVEL_FOR: Readonly<Record<Experience, Level | undefined>> = { new: 1, some: 2, fluent: undefined }
