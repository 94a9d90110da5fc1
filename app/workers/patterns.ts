import { expose } from 'comlink'
import { drillOf } from '#core/formats/arranged'
import { UnusableInput } from '#core/formats/unusable'
import { pieceDifficulty, type HandDifficulty, type PieceDifficulty } from '#core/hands/difficulty'
import type { Arrangement } from '#core/music/arrangement'
import { makeDrill } from '#core/patterns/drills/drill'
import { NoDrill, type DrillRecipe } from '#core/patterns/drills/recipe'
import { editionAt, LEVELS, type Edition, type EditionChoices } from '#core/patterns/editions'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { patternDifficulty, type PatternMeasured } from '#core/patterns/pattern-difficulty'
import { NoPattern, withPattern, type Exchange } from '#core/patterns/with-pattern'

/** What was made, or why it cannot be. */
export type Made<T> = { made: T } | { reason: string }

function attempt<T>(make: () => T): Made<T> {
  try {
    return { made: make() }
  } catch (error) {
    if (error instanceof NoPattern || error instanceof NoDrill || error instanceof UnusableInput)
      return { reason: error.message }
    throw error
  }
}

const patterns = {
  /** How hard each pattern is, in the order they came. */
  difficulties: (all: readonly HandPattern[], measured: PatternMeasured): HandDifficulty[] =>
    all.map(pattern => patternDifficulty(pattern, measured)),
  /** A song with one hand's notes from a pattern. */
  exchange: (arrangement: Arrangement, exchange: Exchange): Made<Arrangement> =>
    attempt(() => withPattern(arrangement, exchange)),
  /** All levels of a song, with how hard each is. */
  editions: (arrangement: Arrangement, choices: EditionChoices): (Edition & { difficulty: PieceDifficulty })[] =>
    LEVELS.map(level => editionAt(arrangement, level, choices)).map(edition => ({
      ...edition,
      difficulty: pieceDifficulty(edition.arrangement, { reach: choices.reach }),
    })),
  /** A drill, to be heard. */
  drill: (recipe: DrillRecipe, reach: number): Made<Arrangement> =>
    attempt(() => makeDrill(recipe, { reach }).arrangement),
  /** A drill with its page. */
  drillPage: (recipe: DrillRecipe, reach: number): Made<{ musicXml: string; bars: number }> =>
    attempt(() => {
      const { musicXml, arrangement } = drillOf(recipe, { reach })
      return { musicXml, bars: arrangement.bars.length }
    }),
}
export type PatternsWorker = typeof patterns

expose(patterns)
