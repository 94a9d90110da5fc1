import type { HandsPatterns } from '#core/formats/chart/chart-arrangement'
import type { Hand } from '#core/music/arrangement'
import type { DrillRecipe } from '#core/patterns/drills/recipe'
import type { Level } from '#core/patterns/editions'
import type { HandPattern } from '#core/patterns/hand-pattern'

/** Where a song's notes come from, with what they were made from: a file, a chart, playing; a copy of another edition, with a hand's pattern, at a level, in another key; or a drill's recipe. */
export type SongOrigin
  = | { kind: 'file' | 'played' }
    | { kind: 'chart', patterns?: HandsPatterns }
    | { kind: 'copy', of: string }
    | { kind: 'pattern', of: string, hand: Hand, pattern: HandPattern }
    | { kind: 'level', of: string, level: Level, pattern?: HandPattern }
    | { kind: 'key', of: string, halfSteps: number }
    | { kind: 'drill', recipe: DrillRecipe }
