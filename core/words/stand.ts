import type { RepeatGoal, RepeatTally } from '../coach/how-often'
import type { IsolatedPassage } from '../coach/place-alone'
import type { Hands } from '../music/arrangement'
import type { Meter } from '../music/meter'
import { plural, tempoFigure, tempoText, timesText } from './amounts'
import { barText, beatText } from './places'

const HANDS: Record<Hands, string> = { left: 'left hand', right: 'right hand', both: 'both hands' }

/**
 * What is played: the bars (as `stretchText` says them), the hands, and the tempo in quarter notes a minute, which in
 * own time there is none of.
 */
export interface WhatIsPlayed {
  bars: string
  hands: Hands
  bpm: number
  meter?: Meter
  mode: 'steady' | 'own-time' | 'free'
}

const playedText = ({ bars, hands, bpm, meter, mode }: WhatIsPlayed): string =>
  `${bars}, ${HANDS[hands]}${mode === 'free' ? '' : mode === 'own-time' ? ', in your own time' : `, at ${tempoFigure(bpm, meter)}`}`

/** What is expected of the player at a moment, in words. */
export type Expected =
  | { kind: 'may-start'; what: WhatIsPlayed }
  | { kind: 'may-go-on'; what: WhatIsPlayed }
  | { kind: 'no-keyboard' }
  | { kind: 'silence' }
  | { kind: 'starting' }
  | {
      kind: 'count-in'
      what: WhatIsPlayed
      /** The beat of the first note's bar where that is not the first. */
      beginsOn?: number
    }
  | { kind: 'playing'; what: WhatIsPlayed }
  | { kind: 'waiting'; what: WhatIsPlayed }
  | { kind: 'going-on'; what: WhatIsPlayed }
  /**
   * Freely: for a first key; while it is played. `isNotThis`: what was played was nothing of it. `isFollowed`:
   * something goes with the player.
   */
  | { kind: 'may-begin'; what: WhatIsPlayed; isFollowed: boolean; isNotThis: boolean }
  | { kind: 'playing-freely'; what: WhatIsPlayed }
  /** The program plays: by itself, or before the player does. */
  | { kind: 'listening'; what: WhatIsPlayed }
  | { kind: 'shown'; what: WhatIsPlayed }
  | { kind: 'interrupted'; keyboard: string }
  | { kind: 'elsewhere'; page: string }

export function expectedText(expected: Expected): string {
  switch (expected.kind) {
    case 'may-start':
      return expected.what.mode === 'free'
        ? `Press Space, then play at a tempo of your own: ${playedText(expected.what)}. There is no click.`
        : expected.what.mode === 'own-time'
          ? `Press Space, then play when you like: ${expected.what.bars}, ${HANDS[expected.what.hands]}. There is no click; the music waits for you.`
          : `Press Space and play after the count-in: ${playedText(expected.what)}.`
    case 'may-go-on':
      return `Press Space to continue: ${playedText(expected.what)}.`
    case 'no-keyboard':
      return 'No keyboard is connected. Plug one in, or play on the keys of the screen or the computer.'
    case 'silence':
      return 'Nothing was played, so the loop has stopped. Space starts it again.'
    case 'starting':
      return 'Getting ready …'
    case 'count-in':
      return `Listen to the count, then begin${expected.beginsOn === undefined ? '' : ` on ${beatText(expected.beginsOn)}`}: ${playedText(expected.what)}.`
    case 'playing':
      return `Play ${playedText(expected.what)}.`
    case 'waiting':
      return `Play the ringed notes: ${playedText(expected.what)}. The music waits for you.`
    case 'going-on':
      return `Now ${playedText(expected.what)}.`
    case 'may-begin':
      return `${expected.isNotThis ? 'That was not heard as these bars. ' : ''}Play when you like, at any tempo: ${playedText(expected.what)}. It begins with your first key and ends when you rest.${expected.isFollowed ? ' What plays along follows you.' : ''}`
    case 'playing-freely':
      return `Play ${playedText(expected.what)}. A rest ends it.`
    case 'listening':
      return `Listen: ${playedText(expected.what)}.`
    case 'shown':
      return `Listen, then it is your turn: ${playedText(expected.what)}.`
    case 'interrupted':
      return `${expected.keyboard} was unplugged. This pass is not kept. Practice continues when the keyboard is back.`
    case 'elsewhere':
      return `Your keyboard is in use on another page: ${expected.page}.`
  }
}

/** "until you stop", "10 times", "until 5 in a row are clean". */
export function repeatGoalText(howOften: RepeatGoal): string {
  switch (howOften.until) {
    case 'stopped':
      return 'until you stop'
    case 'times':
      return howOften.count === 1 ? 'once' : timesText(howOften.count)
    case 'clean-in-a-row':
      return howOften.count === 1 ? 'until one is clean' : `until ${howOften.count} in a row are clean`
  }
}

/** How far it has come: "3 of 10 times", "2 of 5 clean in a row"; '' where nothing is counted. */
export function soFarText(howOften: RepeatGoal, { times, atEnd }: RepeatTally): string {
  switch (howOften.until) {
    case 'stopped':
      return ''
    case 'times':
      return `${Math.min(times, howOften.count)} of ${plural(howOften.count, 'time')}`
    case 'clean-in-a-row':
      return `${Math.min(atEnd, howOften.count)} of ${howOften.count} clean in a row`
  }
}

/**
 * What came of it once it was played so often: "Played 10 times: 7 clean, the last 4 in a row. Bar 13 went wrong in 3
 * of them."
 */
export function outcomeText({ times, clean, longest, atEnd, hardest }: RepeatTally): string {
  const cleanText =
    clean === 0 ? 'none clean yet' : clean === times ? (times === 1 ? 'clean' : 'all clean') : `${clean} clean`
  const run =
    clean === times || clean < 2
      ? ''
      : atEnd > 1 && atEnd === longest
        ? `, the last ${atEnd} in a row`
        : longest > 1
          ? `, best run ${longest} in a row`
          : ''
  const where = hardest
    ? ` ${hardest.bar === 0 ? 'The pickup' : barText(hardest.bar)} went wrong in ${hardest.failures} of them.`
    : ''
  return `Played ${timesText(times)}: ${cleanText}${run}.${where}`
}

/** What a button says that plays a place by itself: "Bar 3 alone at 58, until 3 in a row are clean". */
export const isolatedPassageText = ({ bpm, howOften }: IsolatedPassage, bars: string, meter?: Meter): string =>
  `${bars.charAt(0).toUpperCase()}${bars.slice(1)} alone at ${tempoText(bpm, meter)}, ${repeatGoalText(howOften)}`
