import type { Hands } from '../music/arrangement'
import { timesText } from './amounts'
import type { Style } from '../patterns/styles'
import type { Replay } from '../sound/of-take'

/** How the styles of the rhythm section are called. */
export const STYLE_NAMES: Readonly<Record<Style, string>> = {
  ballad: 'Slow ballad',
  eighths: 'Driving eighths',
  shuffle: 'Shuffle',
  swing: 'Swing',
  waltz: 'Waltz',
  bossa: 'Bossa nova',
  'half-time': 'Half-time',
}

/** "an octave higher", "two octaves lower", "as written". */
export function octavesText(octaves: number): string {
  if (octaves === 0) return 'as written'
  return `${Math.abs(octaves) === 1 ? 'an octave' : `${Math.abs(octaves) === 2 ? 'two' : Math.abs(octaves)} octaves`} ${octaves > 0 ? 'higher' : 'lower'}`
}

/** How a pass is heard again. */
export const REPLAY_NAMES: Readonly<Record<Replay, string>> = {
  'as-played': 'As you played it',
  exaggerated: 'With your timing exaggerated, twice as early and late',
  'as-written': 'As it is written',
  'in-turn': 'All three, one after the other',
}

/** "4 bars with the click, 2 without". */
export const dropOutText = ({ sounding, silent }: { sounding: number; silent: number }): string =>
  `${sounding} ${sounding === 1 ? 'bar' : 'bars'} with the click, ${silent} without`

/** "You played bars 9 to 16 of The Lantern Ferry twice, right hand, at about 68." */
export function heardText({
  bars,
  title,
  times,
  hands,
  bpm,
}: {
  bars: string
  title: string
  times: number
  hands: Hands
  bpm: number
}): string {
  return `You played ${bars} of ${title}${times === 1 ? '' : ` ${timesText(times)}`}, ${hands === 'both' ? 'both hands' : `${hands} hand`}, at about ${Math.round(bpm)}.`
}

/** "Your keys come 34 ms after the click, the middle half of them within 18 ms of each other." */
export const delayText = ({ delayMs, spreadMs }: { delayMs: number; spreadMs: number }): string =>
  `Your keys come ${Math.abs(delayMs) < 1 ? 'exactly with' : `${Math.abs(Math.round(delayMs))} ms ${delayMs > 0 ? 'after' : 'before'}`} the click; the middle half of them lie within ${Math.round(spreadMs)} ms of each other.`
