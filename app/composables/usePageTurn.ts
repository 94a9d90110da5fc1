import { rowAt, type Row } from '#core/music/rows'

/** The row left behind turns when this share of the next one is played: its last notes have been judged by then. */
const TURN_SHARE = 0.1

/**
 * Which two rows stand on the page, upper and lower. While one is played the other turns to what comes next, round and round; while nothing is played
 * (`atMs` undefined, else ms from the passage's beginning) they are leafed through.
 */
export function usePageTurn(rows: () => readonly Row[], atMs: () => number | undefined) {
  const slots = ref<[number, number]>([0, 1])
  const playing = computed(() => { const at = atMs(); return at === undefined ? undefined : rowAt(rows(), at) })
  const after = (row: number) => (row + 1) % rows().length

  function turnTo(row: number) {
    slots.value = slots.value[1] === row ? [after(row), row] : [row, after(row)]
  }
  watch(rows, () => { slots.value = [0, 1] })
  watch(atMs, (at) => {
    const now = playing.value
    if (at === undefined || now === undefined) slots.value = [0, 1]
    else if (at < 0) turnTo(0)
    else {
      const { fromMs, toMs } = rows()[now]!
      if (at >= fromMs + TURN_SHARE * (toMs - fromMs) || !slots.value.includes(now)) turnTo(now)
    }
  })

  /** Goes on or back by so many rows. */
  function leaf(by: number) {
    const first = Math.max(0, Math.min(rows().length - 2, Math.min(...slots.value) + by))
    slots.value = [first, first + 1]
  }

  return { slots, playing, leaf }
}
