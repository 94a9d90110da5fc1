import { computed, ref, watch } from 'vue'
import { rowAt, type Row } from '#core/music/rows'

/** The rows left behind turn when this share of the next one is played: their last notes have been judged by then. */
const TURN_SHARE = 0.1

/**
 * Which rows stand in the places of a page, from the top. While one is played, those before it turn to what comes next,
 * round and round: the eye goes down and up again, and what comes next always stands there before it is needed. While
 * nothing is played (`atMs` undefined, else ms from the passage's beginning) they are leafed through.
 */
export function usePageTurn(rows: () => readonly Row[], rowsAtOnce: () => number, atMs: () => number | undefined) {
  const places = computed(() => Math.max(1, Math.min(rowsAtOnce(), rows().length)))
  const fromTop = (first: number) => Array.from({ length: places.value }, (_, place) => first + place)
  const slots = ref<number[]>(fromTop(0))
  const playing = computed(() => {
    const at = atMs()
    return at === undefined ? undefined : rowAt(rows(), at)
  })

  /**
   * Leaves a row where it stands, and lets those that come after it stand after it, from the top again behind the last
   * place.
   */
  function turnTo(row: number) {
    const at = Math.max(0, slots.value.indexOf(row))
    const next = [...slots.value]
    for (let on = 0; on < places.value; on++) next[(at + on) % places.value] = (row + on) % rows().length
    slots.value = next
  }
  watch([rows, places], () => {
    slots.value = fromTop(0)
  })
  watch(atMs, at => {
    const now = playing.value
    if (at === undefined || now === undefined) slots.value = fromTop(0)
    else if (rows().length <= places.value) return
    else if (at < 0) turnTo(0)
    else {
      const { fromMs, toMs } = rows()[now]!
      if (at >= fromMs + TURN_SHARE * (toMs - fromMs) || !slots.value.includes(now)) turnTo(now)
    }
  })

  /** Turns forward or back by a number of rows. */
  function leaf(by: number) {
    slots.value = fromTop(Math.max(0, Math.min(rows().length - places.value, Math.min(...slots.value) + by)))
  }

  return { slots, playing, leaf }
}
