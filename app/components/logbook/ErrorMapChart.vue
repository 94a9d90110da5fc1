<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { framed, type Token } from '~/composables/ui/usePlot'
import { hardestBar, inSpans } from '#core/coach/error-map'
import { barText, lowerFirst } from '#core/words/places'
import type { Hands } from '#core/music/arrangement'

/** Where a song fails: bars by days. */
const props = defineProps<{ filter: { song: string; part?: string; hands?: Hands } }>()
const MAX_TICKS = 8
const NEWEST_DAYS = 5
const { data: map } = await useFetch('/api/logbook/errors', { query: computed(() => props.filter), deep: false })
const worst = computed(() => {
  const found = map.value
  if (!found || found.days.length === 0) return 'Not practised yet.'
  const hardest = hardestBar(found, NEWEST_DAYS)
  return hardest
    ? `Recent mistakes cluster in bar ${hardest.bar}: ${Math.round(100 * hardest.share)} % of the passes through it.`
    : 'No recent mistakes.'
})

/** The most cells drawn, and the most columns, gathering days. */
const MAX_CELLS = 2000
const MAX_SPANS = 40
const MIN_SPANS = 10

const figure = computed(() => {
  const { spans, bars, shares } = inSpans(
    map.value ?? { days: [], bars: [], shares: [], passes: [] },
    Math.max(MIN_SPANS, Math.min(MAX_SPANS, Math.floor(MAX_CELLS / (map.value?.bars.length || 1)))),
  )
  const cells = shares.flatMap((row, place) =>
    row.flatMap((share, span) => (share === null ? [] : [{ span, place, percent: 100 * share }])),
  )
  const spanText = ({ from, to }: (typeof spans)[number]) =>
    from === to ? shortDay(from) : `${shortDay(from)} to ${shortDay(to)}`
  const every = (count: number, most: number) =>
    Array.from({ length: count }, (_, index) => index).filter(index => index % Math.ceil(count / most) === 0)
  const [dayTicks, barTicks] = [every(spans.length, MAX_TICKS), every(bars.length, MAX_TICKS)]
  return (token: Token) => ({
    data: [
      {
        type: 'bar' as const,
        x: cells.map(cell => cell.span),
        y: cells.map(() => 1),
        base: cells.map(cell => cell.place - 0.5),
        width: 1,
        marker: {
          color: cells.map(cell => cell.percent),
          cmin: 0,
          cmax: 100,
          colorscale: [
            [0, token('--tread')],
            [1, token('--heard-wrong')],
          ] as [number, string][],
          showscale: true,
          colorbar: { ticksuffix: ' %', thickness: 12, outlinewidth: 0 },
          line: { color: token('--sheet'), width: 1 },
        },
        hoverinfo: 'text' as const,
        hovertext: cells.map(
          ({ span, place, percent }) =>
            `${lowerFirst(barText(bars[place]!))}, ${spanText(spans[span]!)}: mistakes in ${Math.round(percent)} % of passes`,
        ),
      },
    ],
    layout: framed('Where mistakes happen: bars by days', {
      bargap: 0,
      barmode: 'overlay' as const,
      xaxis: { tickvals: dayTicks, ticktext: dayTicks.map(span => shortDay(spans[span]!.from)), showgrid: false },
      yaxis: {
        autorange: 'reversed',
        tickvals: barTicks,
        ticktext: barTicks.map(place => (bars[place] === 0 ? 'pickup' : `${bars[place]}`)),
        automargin: true,
        title: { text: 'bar' },
        showgrid: false,
      },
    }),
  })
})
const { shortDate: shortDay } = useDates()
</script>

<template>
  <PlotFigure
    :label="`Where mistakes happen, bars by days: ${worst}`"
    :nothing="map?.days.length ? '' : `Where mistakes happen: ${lowerFirst(worst)}`"
    :figure="figure"
  >
    {{ worst }}
  </PlotFigure>
</template>
