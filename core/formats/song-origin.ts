import type { HandsPatterns } from './chart/chart-arrangement'
import type { Hand } from '../music/arrangement'
import type { DrillRecipe } from '../patterns/drills/recipe'
import type { Level } from '../patterns/editions'
import type { HandPattern } from '../patterns/hand-pattern'

/**
 * Where a song's notes come from, with what they were made from: a file, a chart, playing; a copy of another edition,
 * with a hand's pattern, at a level, in another key; or a drill's recipe.
 */
export type SongOrigin =
  | { kind: 'file' | 'played' }
  | { kind: 'chart'; patterns?: HandsPatterns }
  | { kind: 'copy'; of: string }
  | { kind: 'pattern'; of: string; hand: Hand; pattern: HandPattern }
  | { kind: 'level'; of: string; level: Level; pattern?: HandPattern }
  | { kind: 'key'; of: string; halfSteps: number }
  | { kind: 'drill'; recipe: DrillRecipe }
