import type { Bar } from './arrangement'

/** A hostile file must not unfold without end. */
const MOST_BARS_PLAYED = 20_000

/**
 * The order in which written bars are played: repeats taken, endings chosen by the pass they are for.
 * Returns indices into `bars`. A repeat without a start goes back to the bar after the last repeat, or to
 * the beginning (common practice).
 */
export function playingOrder(bars: readonly Bar[]): number[] {
  const order: number[] = []
  let sectionStart = 0
  let time = 1
  let index = 0
  while (index < bars.length && order.length < MOST_BARS_PLAYED) {
    const bar = bars[index]!
    if (bar.repeatStart && index !== sectionStart) {
      sectionStart = index
      time = 1
    }
    if (bar.endings && !bar.endings.includes(time)) {
      index++
      continue
    }
    order.push(index)
    const times = bar.repeatEnd ? Math.max(bar.repeatEnd, lastEnding(bars, sectionStart)) : 1
    if (bar.repeatEnd && time < times) {
      time++
      index = sectionStart
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
    }
    else if (endingsBegan || bar.repeatEnd) break
  }
  return highest
}
