import type { Arrangement } from '../music/arrangement'
import { transposed } from '../music/transpose'
import { editionAt, type Edition, type EditionChoices, type Level } from '../patterns/editions'
import { NoPattern, withPattern, type Exchange } from '../patterns/with-pattern'
import { ScoreDocument } from './musicxml/document'
import type { ReadScore } from './musicxml/read'
import { writeMusicXml } from './musicxml/write'
import { UnusableInput } from './unusable'

/** A song made into another one, with its document: what is not changed stays on the page as it was. What cannot be done is said as UnusableInput. */
function made(score: ReadScore, make: (arrangement: Arrangement) => Arrangement): ReadScore {
  try {
    return new ScoreDocument(score).revised(make(score.arrangement))
  }
  catch (error) {
    if (error instanceof NoPattern) throw new UnusableInput('', error.message)
    throw error
  }
}

/** A song whose one hand plays a pattern to its chords, in all of it or a stretch. Throws UnusableInput. */
export const withHandExchanged = (score: ReadScore, exchange: Exchange): ReadScore => made(score, arrangement => withPattern(arrangement, exchange))

/** A song so many half steps higher. Throws UnusableInput when notes would leave the keyboard. */
export const moved = (score: ReadScore, halfSteps: number): ReadScore => made(score, (arrangement) => {
  try {
    return transposed(arrangement, halfSteps)
  }
  catch (error) {
    if (error instanceof RangeError) throw new UnusableInput('', error.message)
    throw error
  }
})

/** An edition of a song at a level, with what it leaves out. Where there are only two hands the page stays theirs; of more voices it is written anew. */
export function editionOf(score: ReadScore, level: Level, choices: EditionChoices = {}): ReadScore & Omit<Edition, 'arrangement'> {
  const { arrangement, ...about } = editionAt(score.arrangement, level, choices)
  return { ...(score.arrangement.others.length === 0 ? new ScoreDocument(score).revised(arrangement) : writeMusicXml(arrangement)), ...about }
}
