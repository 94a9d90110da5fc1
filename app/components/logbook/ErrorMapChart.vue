<script setup lang="ts">
import { hardestBar } from '#core/coach/error-map'
import type { Hands } from '#core/music/arrangement'

/** Where a song fails: bars by days. */
const props = defineProps<{ filter: { song: string, part?: string, hands?: Hands } }>()
const MOST_TICKS = 8
const NEWEST_DAYS = 5
const { data: map } = await useFetch('/api/logbook/errors', { query: computed(() => props.filter), deep: false })
const worst = computed(() => {
  const found = map.value
  if (!found || found.days.length === 0) return 'Nothing of it was practised yet.'
  const hardest = hardestBar(found, NEWEST_DAYS)
  return hardest ? `Of late it fails most often in bar ${hardest.bar}: in ${Math.round(100 * hardest.share)} % of the passes over it.` : 'Of late it fails nowhere.'
})

const figure = computed(() => {
  const { days = [], bars = [], shares = [] } = map.value ?? {}
  // A date under every so many days.
  const ticks = days.filter((_, index) => index % Math.ceil(days.length / MOST_TICKS) === 0)
  return (token: Token) => ({
    data: [{
      type: 'heatmap' as const, x: days, y: bars.map(bar => `${bar}`), z: shares.map(row => row.map(share => share === null ? null : 100 * share)),
      zmin: 0, zmax: 100, xgap: 1, ygap: 1, hoverongaps: false, hovertemplate: 'bar %{y}, %{x}: failed in %{z:.0f} % of passes<extra></extra>',
      colorscale: [[0, token('--tread')], [1, token('--heard-wrong')]] as [number, string][], colorbar: { ticksuffix: ' %', thickness: 12, outlinewidth: 0 },
    }],
    layout: framed('Where it fails: bars by days', { xaxis: { type: 'category', tickvals: ticks, ticktext: ticks.map(day => new Date(`${day}T12:00:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })) }, yaxis: { type: 'category', autorange: 'reversed', title: { text: 'bar' } } }),
  })
})
</script>

<template>
  <PlotFigure
    :label="`Where the song fails, bars by days: ${worst}`"
    :figure="figure"
  >
    {{ worst }}
  </PlotFigure>
</template>
