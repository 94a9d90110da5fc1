<script setup lang="ts">
import { median } from 'd3-array'
import { plural } from '#core/words/amounts'
import type { Hands } from '#core/music/arrangement'

/** How many passes each step of a song took, in the order in which they were reached. */
const props = defineProps<{ songId: string, hands: Hands | '' }>()
const { data: gates } = await useFetch('/api/logbook/gates', { query: computed(() => ({ song: props.songId, ...(props.hands ? { hands: props.hands } : {}) })), deep: false })

const dates = useDates()
const figure = computed(() => {
  const kinds = byHands((gates.value ?? []).map((gate, index) => ({ ...gate, place: index + 1 })), gate => gate.hands)
  return (token: Token) => ({
    data: kinds.map(({ name, color, symbol, some }) => ({
      name, type: 'scatter' as const, mode: 'markers' as const, x: some.map(gate => gate.place), y: some.map(gate => gate.passes), text: some.map(gate => `${dates.dayName(gate.atMs)}: ${gate.name}, ${gate.bpm} bpm`),
      marker: { symbol, color: token(color), size: 9 }, hovertemplate: '%{text}: %{y} passes<extra></extra>',
    })),
    layout: framed('Passes to reach each step', { xaxis: { title: { text: 'steps, in the order they were reached' }, tickformat: 'd', rangemode: 'tozero' }, yaxis: { rangemode: 'tozero', tickformat: 'd' } }),
  })
})
const words = computed(() => {
  const passes = (gates.value ?? []).map(gate => gate.passes)
  if (passes.length === 0) return 'No step has been reached yet.'
  if (passes.length === 1) return `One step reached, after ${plural(passes[0]!, 'pass', 'passes')}.`
  if (passes.length < 2 * FEW) return `${passes.length} steps reached; a median of ${median(passes)} passes each.`
  return `The first ${FEW} steps took a median of ${median(passes.slice(0, FEW))} passes, the latest ${FEW}: ${median(passes.slice(-FEW))}.`
})
const FEW = 10
</script>

<template>
  <PlotFigure
    :label="`Passes to reach each step: ${words}`"
    :figure="figure"
  >
    {{ words }}
  </PlotFigure>
</template>
