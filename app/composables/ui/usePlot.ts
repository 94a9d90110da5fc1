import type { Data, Layout, PlotlyHTMLElement } from 'plotly.js'
import { nextTick, watch, type ShallowRef, type WatchSource } from 'vue'
import { useIntersectionObserver } from '@vueuse/core'
import type { Hands } from '#core/music/arrangement'

/** A colour of the page by its name in docs/design.md, in the scheme now shown. */
export type Token = (name: `--${string}`) => string

/** How each hand, and both, are drawn. */
const HAND_MARKS = [
  { hands: 'left', name: 'left hand', color: '--left-hand', symbol: 'square' },
  { hands: 'right', name: 'right hand', color: '--right-hand', symbol: 'circle' },
  { hands: 'both', name: 'together', color: '--together', symbol: 'diamond' },
] as const

/** What there is of each hand and of both, with how it is drawn; hands without anything left out. */
export const byHands = <Value>(values: readonly Value[], handsOf: (value: Value) => Hands) =>
  HAND_MARKS.map(mark => ({ ...mark, some: values.filter(value => handsOf(value) === mark.hands) })).filter(
    one => one.some.length > 0,
  )

/** The frame of a small picture with its title in it. */
export const framed = (title: string, more: Partial<Layout> = {}): Partial<Layout> => ({
  height: 250,
  margin: { l: 52, r: 12, t: 34, b: 40 },
  title: { text: title, font: { size: 15 }, x: 0.02, xanchor: 'left' },
  legend: { orientation: 'h', y: 1.16, x: 1, xanchor: 'right' },
  ...more,
})

/** The picture that is being drawn. */
let last: Promise<void> = Promise.resolve()

/**
 * Draws a picture in the page's own type and colours, and draws it again when what it shows or the colour scheme
 * changes. The charting library is loaded once a picture comes into view. `clicked` gets the `customdata` of a point.
 */
export function usePlot(
  box: Readonly<ShallowRef<HTMLElement | null>>,
  figure: (token: Token) => { data: Data[]; layout: Partial<Layout> },
  sources: WatchSource[],
  clicked?: (customdata: unknown) => void,
): void {
  const colorMode = useColorMode()
  let isSeen = false
  const draw = () => (last = last.then(drawNow).catch(() => {}))

  /** One picture at a time, and only what has come into view: the page answers between them. */
  async function drawNow() {
    if (!box.value || !isSeen) return
    await new Promise(resolve => setTimeout(resolve))
    const { default: Plotly } = await import('plotly.js-basic-dist-min')
    const token: Token = name => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
    await new Promise(resolve => setTimeout(resolve))
    if (!box.value) return
    const { data, layout } = figure(token)
    const axis = { gridcolor: token('--rule'), zeroline: false }
    await Plotly.react(
      box.value,
      data,
      {
        paper_bgcolor: 'transparent',
        plot_bgcolor: 'transparent',
        hovermode: 'closest',
        font: { family: 'Atkinson Hyperlegible Next Variable, sans-serif', size: 14, color: token('--ink') },
        legend: { orientation: 'h', y: 1.13, x: 1, xanchor: 'right' },
        ...layout,
        xaxis: { ...axis, ...layout.xaxis },
        yaxis: { ...axis, ...layout.yaxis },
      },
      { displayModeBar: false, responsive: true },
    )
    if (!clicked) return
    const plot = box.value as unknown as PlotlyHTMLElement
    plot.removeAllListeners('plotly_click')
    plot.on('plotly_click', event => clicked(event.points[0]?.customdata))
  }
  useIntersectionObserver(
    box,
    ([entry]) => {
      if (isSeen || !entry?.isIntersecting) return
      isSeen = true
      void draw()
    },
    { rootMargin: '200px' },
  )
  watch([...sources, () => colorMode.value], () => nextTick(draw))
}
