import type { DrillRecipe } from './drills/recipe'
import type { HandPattern } from './hand-pattern'

/** A pattern as a file of its own (docs/formats.md). */
export interface PatternDocument extends HandPattern {
  readonly format: 'half-step/pattern'
  readonly version: 1
}
/** A drill's recipe as a file of its own. */
export interface RecipeDocument extends DrillRecipe {
  readonly format: 'half-step/drill'
  readonly version: 1
}

export const patternDocument = (pattern: HandPattern): PatternDocument => ({
  format: 'half-step/pattern',
  version: 1,
  ...pattern,
})
export const recipeDocument = (recipe: DrillRecipe): RecipeDocument => ({
  format: 'half-step/drill',
  version: 1,
  ...recipe,
})
