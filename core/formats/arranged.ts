import { arrangementEnd, type Arrangement } from '../music/arrangement'
import { NotExact } from '../music/quarters'
import { transposed } from '../music/transpose'
import { makeDrill, type DrillChoices, type DrillPart } from '../patterns/drills/drill'
import { NoDrill, type DrillRecipe } from '../patterns/drills/recipe'
import { editionAt, type Edition, type EditionChoices, type Level } from '../patterns/editions'
import { NoPattern, withPattern, type Exchange } from '../patterns/with-pattern'
import { arrangeChart } from './chart/chart-arrangement'
import { readChart } from './chart/read-chart'
import { ScoreDocument } from './musicxml/document'
import type { ReadScore } from './musicxml/read'
import { writeMusicXml } from './musicxml/write'
import { UnusableInput } from './unusable'

/**
 * A song made into another one, with its document: what is not changed stays on the page as it was. What cannot be done
 * is said as UnusableInput.
 */
function made(score: ReadScore, make: (arrangement: Arrangement) => Arrangement): ReadScore {
  try {
    return new ScoreDocument(score).revised(make(score.arrangement))
  } catch (error) {
    if (error instanceof NoPattern) throw new UnusableInput('', error.message)
    throw error
  }
}

/** A song whose one hand plays a pattern to its chords, in all of it or a stretch. Throws UnusableInput. */
export const withHandExchanged = (score: ReadScore, exchange: Exchange): ReadScore =>
  made(score, arrangement => withPattern(arrangement, exchange))

/** A song so many half steps higher. Throws UnusableInput when notes would leave the keyboard. */
export const moved = (score: ReadScore, halfSteps: number): ReadScore =>
  made(score, arrangement => {
    try {
      return transposed(arrangement, halfSteps)
    } catch (error) {
      if (error instanceof RangeError) throw new UnusableInput('', error.message)
      throw error
    }
  })

/**
 * An edition of a song at a level, with what it leaves out. Where there are only two hands the page stays theirs; of
 * more voices it is written anew.
 */
export function editionOf(
  score: ReadScore,
  level: Level,
  choices: EditionChoices = {},
): ReadScore & Omit<Edition, 'arrangement'> {
  const { arrangement, ...about } = editionAt(score.arrangement, level, choices)
  return {
    ...(score.arrangement.others.length === 0
      ? new ScoreDocument(score).revised(arrangement)
      : writeMusicXml(arrangement)),
    ...about,
  }
}

/**
 * A drill with its page, and the stretches that are practised one by one. Throws UnusableInput for a recipe that cannot
 * be followed.
 */
export function drillOf(recipe: DrillRecipe, choices: DrillChoices = {}): ReadScore & { parts: readonly DrillPart[] } {
  try {
    const { arrangement, parts } = makeDrill(withChartRead(recipe), choices)
    return { ...writeMusicXml(arrangement), parts }
  } catch (error) {
    if (error instanceof NoDrill || error instanceof NotExact) throw new UnusableInput('', error.message)
    throw error
  }
}

/** A recipe whose chart, if it is one, is read: its chords in its own meter and key. */
function withChartRead(recipe: DrillRecipe): DrillRecipe {
  const { material } = recipe
  if (material.kind !== 'chart') return recipe
  const { arrangement } = arrangeChart(readChart(material.text, recipe.meter), recipe.title)
  const length = arrangementEnd(arrangement)
  const chords = arrangement.chords.map(({ symbol, onset }, index) => ({
    symbol,
    onset,
    end: arrangement.chords[index + 1]?.onset ?? length,
  }))
  return {
    ...recipe,
    meter: arrangement.bars[0]!.meter,
    material: { kind: 'chords', fifths: arrangement.bars[0]!.fifths, chords, length },
  }
}
