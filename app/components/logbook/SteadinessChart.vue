<script setup lang="ts">
import { framed, type Token } from '~/composables/ui/usePlot'
import { byWeek } from '~/utils/ui/byWeek'
import { dayAxis } from '~/utils/ui/dayAxis'
/** How unsteady the passes of each week were, and how many of them were clean. */
const props = defineProps<{
  days: readonly { day: string; minutes: number; passes: number; clean: number; unsteadinessMs: number | null }[]
}>()
const weeks = computed(() => byWeek(props.days))

const figure = computed(() => {
  const x = weeks.value.map(one => one.from)
  const line = { type: 'scatter' as const, mode: 'lines+markers' as const, x }
  return (token: Token) => ({
    data: [
      {
        ...line,
        name: 'unsteadiness, ms',
        y: weeks.value.map(one => one.unsteadinessMs),
        line: { color: token('--right-hand') },
        marker: { symbol: 'circle' },
        hovertemplate: '%{y:.0f} ms<extra></extra>',
      },
      {
        ...line,
        name: 'clean, %',
        y: weeks.value.map(one => (100 * one.clean) / one.passes),
        yaxis: 'y2',
        line: { color: token('--heard-right'), dash: 'dot' as const },
        marker: { symbol: 'square' },
        hovertemplate: '%{y:.0f} %<extra></extra>',
      },
    ],
    layout: framed('Steadiness by week', {
      margin: { l: 52, r: 52, t: 34, b: 40 },
      xaxis: dayAxis(x),
      yaxis: { rangemode: 'tozero', ticksuffix: ' ms' },
      yaxis2: {
        overlaying: 'y',
        side: 'right',
        range: [0, 100],
        dtick: 25,
        ticksuffix: ' %',
        showgrid: false,
        zeroline: false,
      },
    }),
  })
})
</script>

<template>
  <PlotFigure :label="`Unsteadiness and share of clean passes in ${weeks.length} weeks`" :figure="figure" />
</template>
