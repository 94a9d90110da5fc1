<script setup lang="ts">
import { median } from 'd3-array'
import type { Hands } from '#core/music/arrangement'

/** How many passes each gate of a song took, in the order in which they opened. */
const props = defineProps<{ songId: string, hands: Hands | '' }>()
const { data: gates } = await useFetch('/api/logbook/gates', { query: computed(() => ({ song: props.songId, ...(props.hands ? { hands: props.hands } : {}) })), deep: false })

const figure = computed(() => {
  const kinds = byHands((gates.value ?? []).map((gate, index) => ({ ...gate, place: index + 1 })), gate => gate.hands)
  return (token: Token) => ({
    data: kinds.map(({ name, color, symbol, some }) => ({
      name, type: 'scatter' as const, mode: 'markers' as const, x: some.map(gate => gate.place), y: some.map(gate => gate.passes), text: some.map(gate => `${dayName(new Date(gate.atMs).toISOString())}: ${gate.name}, ${gate.bpm} bpm`),
      marker: { symbol, color: token(color), size: 9 }, hovertemplate: '%{text}: %{y} passes<extra></extra>',
    })),
    layout: framed('Passes to each gate', { xaxis: { title: { text: 'gates, in the order they opened' }, tickformat: 'd', rangemode: 'tozero' }, yaxis: { rangemode: 'tozero', tickformat: 'd' } }),
  })
})
const words = computed(() => {
  const passes = (gates.value ?? []).map(gate => gate.passes)
  if (passes.length === 0) return 'No gate has opened yet.'
  if (passes.length === 1) return `One gate has opened, after ${passes[0]} passes.`
  if (passes.length < 2 * FEW) return `${passes.length} gates have opened, after ${median(passes)} passes in the middle.`
  return `The first ${FEW} gates took ${median(passes.slice(0, FEW))} passes in the middle, the newest ${FEW} ${median(passes.slice(-FEW))}.`
})
const FEW = 10
</script>

<template>
  <PlotFigure
    :label="`Passes to each gate: ${words}`"
    :figure="figure"
  >
    {{ words }}
  </PlotFigure>
</template>
