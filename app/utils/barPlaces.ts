import { positionOf, type Arrangement } from '#core/music/arrangement'
import { quarters } from '#core/music/quarters'

/** A place in a song, in quarter notes from its beginning, as bar and beat. */
export function placeText(arrangement: Arrangement, at: number): string {
  const { bar, beat } = positionOf(arrangement, quarters(Math.round(at * 48), 48))
  return `bar ${bar}, beat ${Math.round(beat * 100) / 100}`
}
