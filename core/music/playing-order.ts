import type { Bar } from './arrangement'

/** Bounds what a hostile file may unfold to. */
const MAX_BARS_PLAYED = 20_000

/**
 * The order in which written bars are played: repeats taken, endings chosen by the pass they are for, then the jump.
 * Returns indices into `bars`. A repeat without a start goes back to the bar after the last repeat, or to
 * the beginning. After a D.C. or D.S. repeats are not taken, last endings are, and the playing ends at the Fine or
 * leaves for the coda (common practice).
 */
export function playingOrder(bars: readonly Bar[]): number[] {
  const order: number[] = []
  let sectionStart = 0
  let time = 1
  let index = 0
  let jumped = false
  while (index < bars.length && order.length < MAX_BARS_PLAYED) {
    const bar = bars[index]!
    if (bar.repeatStart && index !== sectionStart) {
      sectionStart = index
      time = 1
    }
    const isLastTime = jumped ? lastEnding(bars, sectionStart) : time
    if (bar.endings && !bar.endings.includes(isLastTime)) {
      index++
      continue
    }
    order.push(index)
    if (jumped && bar.fine) return order
    const coda = jumped && bar.toCoda ? bars.findIndex(one => one.coda) : -1
    if (coda >= 0) {
      index = coda
      continue
    }
    const times = bar.repeatEnd && !jumped ? Math.max(bar.repeatEnd, lastEnding(bars, sectionStart)) : 1
    if (bar.repeatEnd && time < times) {
      time++
      index = sectionStart
      continue
    }
    if (bar.jump && !jumped) {
      jumped = true
      index =
        bar.jump === 'da capo'
          ? 0
          : Math.max(
              0,
              bars.findIndex(one => one.segno),
            )
      sectionStart = Math.max(
        0,
        bars.findLastIndex((one, place) => place <= index && one.repeatStart === true),
      )
      time = 1
      continue
    }
    index++
    if (bar.repeatEnd && !bars[index]?.endings) {
      sectionStart = index
      time = 1
    }
  }
  return order
}

/** The highest ending number of the repeated section that starts here, 0 when it has none. */
function lastEnding(bars: readonly Bar[], sectionStart: number): number {
  let highest = 0
  let endingsBegan = false
  for (let index = sectionStart; index < bars.length; index++) {
    const bar = bars[index]!
    if (index > sectionStart && bar.repeatStart) break
    if (bar.endings) {
      endingsBegan = true
      highest = Math.max(highest, ...bar.endings)
    } else if (endingsBegan || bar.repeatEnd) break
  }
  return highest
}
