import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { useElementSize } from '@vueuse/core'
import type { Drawn } from '#core/formats/musicxml/excerpt'
import type { Arrangement } from '#core/music/arrangement'
import { layOutPage, type BarSize, type NotationSize, type PageLayout } from '#core/music/page'
import type { Passage } from '#core/music/passage'
import type { Quarters } from '#core/music/quarters'
import { barGroups, rowsOf, type Row } from '#core/music/rows'
import { lanesPx } from '~/utils/notation/lanes'
import { messageOf } from '~/utils/ui/messageOf'
import { useEngraver, type ScoreToEngrave } from './useEngraver'

/** A row with its place on the page: which bars are drawn, how, and how high it stands. */
export interface NotationRow extends Row {
  firstBar: number
  lastBar: number
  heightPx: number
  drawn: { widthPx: number; spacePx: number; mostHeightPx: number }
}

export interface NotationShown extends ScoreToEngrave {
  arrangement: Arrangement
  passage: Passage
  bpm: number
  breaks: readonly Quarters[]
  size: NotationSize
  parts?: Readonly<Record<string, Drawn>>
  /** Fingers are written over and under the notes. */
  hasFingers?: boolean
}

/** Room left and right of the rows for what stands a little outside, such as the number of the first bar. */
const BESIDE_PX = 26
/** Room for the fingers of both hands, staff spaces. */
const FINGER_SPACES = 2.4
/** Notes of this share of the least size are no smaller than it. */
const NEARLY = 0.97
/** Smaller than this nothing can be drawn. */
const MIN_ROOM_PX = 60

/** Lays out the bars of a passage on an element, again whenever its size or content changes. */
export function useNotationLayout(
  page: Ref<HTMLElement | null>,
  shown: Readonly<NotationShown>,
  lanes: () => number,
  engraver: Pick<ReturnType<typeof useEngraver>, 'sizes'> = useEngraver(),
) {
  const { width, height } = useElementSize(page)
  const sizes = shallowRef<ReadonlyMap<number, BarSize>>(new Map())
  const problem = shallowRef('')
  /** Where the music does not fit at its least size, what is not needed gives way, one step after the other. */
  const givenWay = ref(0)
  const ways = computed(() => waysToDraw(shown.parts ?? {}, shown.hasFingers ?? false))
  const way = computed(() => ways.value[Math.min(givenWay.value, ways.value.length - 1)]!)
  const parts = computed(() => way.value.parts)
  const groups = computed(() => barGroups(shown.arrangement, shown.passage, shown.breaks))
  const bars = computed(() =>
    [...new Set(groups.value.flatMap(group => group.bars.map(bar => bar.index)))].sort((a, b) => a - b),
  )
  let asked = 0

  async function measure() {
    if (bars.value.length === 0 || shown.musicXml === '') return
    const request = ++asked
    const [firstBar, lastBar] = [bars.value[0]!, bars.value.at(-1)!]
    try {
      const found = await engraver.sizes(shown, { firstBar, lastBar, drawn: parts.value })
      if (request !== asked) return
      sizes.value = new Map(found.map((size, place) => [firstBar + place, size]))
      problem.value = ''
    } catch (error) {
      if (request === asked) problem.value = `The notation could not be drawn (${messageOf(error)}).`
    }
  }
  watch([() => shown.parts, width, height], () => {
    givenWay.value = 0
  })
  watch(
    () => [shown.scoreId, shown.musicXml, parts.value, bars.value[0], bars.value.at(-1)],
    () => void measure(),
    { immediate: import.meta.client },
  )

  const layout = computed((): PageLayout | undefined => {
    const [widthPx, heightPx, besides] = [Math.floor(width.value) - 2 * BESIDE_PX, Math.floor(height.value), lanes()]
    if (widthPx < MIN_ROOM_PX || heightPx < MIN_ROOM_PX || !bars.value.every(bar => sizes.value.has(bar)))
      return undefined
    const all: BarSize[] = []
    for (const bar of bars.value) all[bar] = sizes.value.get(bar)!
    return layOutPage(
      all,
      groups.value.map(group => group.bars.map(bar => bar.index)),
      {
        widthPx,
        heightPx,
        besideRowPx: spacePx => lanesPx(besides, spacePx) + (way.value.hasFingers ? FINGER_SPACES * spacePx : 0),
      },
      shown.size,
    )
  })

  /** Separate from the rows' times: another tempo does not redraw. */
  const drawn = computed(() => {
    if (!layout.value) return []
    const { rows: placed, widthPx, rowsAtOnce } = layout.value
    const besides = lanes()
    return placed.map(({ bars: own, heightPx, spacePx }, place) => {
      // Where one row stands alone, the bar that comes next can be seen in it.
      const ahead = rowsAtOnce === 1 && placed[place + 1]?.bars[0] === own.at(-1)! + 1 ? 1 : 0
      return {
        count: own.length,
        firstBar: own[0]!,
        lastBar: own.at(-1)! + ahead,
        heightPx,
        drawn: {
          widthPx: Math.floor(widthPx),
          spacePx,
          mostHeightPx: Math.floor(heightPx - lanesPx(besides, spacePx)),
        },
      }
    })
  })
  const rows = computed((): NotationRow[] =>
    drawn.value.length === 0
      ? []
      : rowsOf(
          shown.arrangement,
          shown.passage,
          shown.bpm,
          groups.value,
          drawn.value.map(row => row.count),
        ).map((row, place) => ({ ...row, ...drawn.value[place]! })),
  )

  watch(layout, found => {
    const isTooSmall = found?.rowsAtOnce === 1 && found.rows.some(row => row.spacePx < NEARLY * shown.size.leastPx)
    if (isTooSmall && givenWay.value < ways.value.length - 1) givenWay.value++
  })

  return { layout, rows, drawn, parts, hasFingers: computed(() => way.value.hasFingers), problem }
}

/**
 * How the parts of other players may be drawn, with less and less of them (as wished, only the words, only those of the
 * first, not at all), and at last without fingers.
 */
function waysToDraw(
  wished: Readonly<Record<string, Drawn>>,
  hasFingers: boolean,
): { parts: Readonly<Record<string, Drawn>>; hasFingers: boolean }[] {
  const ids = Object.keys(wished)
  const every = (how: (place: number) => Drawn) => Object.fromEntries(ids.map((id, place) => [id, how(place)]))
  const ways =
    ids.length === 0
      ? [wished]
      : [wished, every(() => 'words'), every(place => (place === 0 ? 'words' : 'none')), every(() => 'none')]
  return [
    ...ways.map(parts => ({ parts, hasFingers })),
    ...(hasFingers ? [{ parts: ways.at(-1)!, hasFingers: false }] : []),
  ]
}
