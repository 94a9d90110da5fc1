import { barAt, handsIn, type Arrangement, type Hand, type Hands } from '../../music/arrangement'
import { notesWithin, type ScoreSpan } from '../../music/passage'
import { add, compare, earlier, subtract } from '../../music/quarters'
import { keysWithSignature } from './keys'
import type { DrillRecipe, Material, PassageNote } from './recipe'

/**
 * The notes of a stretch of a song, from the bar line it begins at or behind, as a drill's material. Grace notes are
 * left to the song.
 */
export function passageOf(
  arrangement: Arrangement,
  { from, to }: ScoreSpan,
  hands: Hands,
): Extract<Material, { kind: 'passage' }> {
  const bar = barAt(arrangement, from)
  const origin = subtract(bar.start, bar.offset)
  const own = notesWithin(arrangement, { from, to }).filter(note => !note.grace)
  const of = (hand: Hand): PassageNote[] =>
    handsIn(hands).includes(hand)
      ? own
          .filter(note => note.hand === hand)
          .map(({ onset, duration, pitch, spelled }) => ({
            onset: subtract(onset, origin),
            duration: subtract(earlier(add(onset, duration), to), onset),
            pitch,
            spelled,
          }))
          .filter(({ duration }) => compare(duration, { n: 0, d: 1 }) > 0)
      : []
  return { kind: 'passage', fifths: bar.fifths, length: subtract(to, origin), right: of('right'), left: of('left') }
}

/**
 * The recipe of a drill from a stretch of a song: as it is through keys, or in a rhythm in its own key. `bpm`: the
 * tempo to reach, quarter notes a minute.
 */
export function passageRecipe(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  hands: Hands,
  { rhythm, keys, bpm }: Pick<DrillRecipe, 'rhythm' | 'bpm'> & { keys: 'own' | 'chromatic' | 'fifths' },
): Omit<DrillRecipe, 'title'> {
  const material = passageOf(arrangement, stretch, hands)
  const { major } = keysWithSignature(material.fifths)
  return {
    material,
    meter: barAt(arrangement, stretch.from).meter,
    bpm,
    keys: keys === 'own' ? { order: 'one', from: major } : { order: keys, from: major },
    ...(hands === 'both' ? {} : { hands }),
    ...(rhythm && rhythm !== 'as-it-is' ? { rhythm } : {}),
  }
}
