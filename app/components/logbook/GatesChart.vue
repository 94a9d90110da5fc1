<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { byHands, framed, type Token } from '~/composables/ui/usePlot'
import { median } from 'd3-array'
import { plural } from '#core/words/amounts'
import { lowerFirst } from '#core/words/places'
import type { Hands } from '#core/music/arrangement'

/** How many passes each step of a song took, in the order in which they were reached. */
const props = defineProps<{ songId: string; hands: Hands | '' }>()
const { data: gates } = await useFetch('/api/logbook/gates', {
  query: computed(() => ({ song: props.songId, ...(props.hands ? { hands: props.hands } : {}) })),
  deep: false,
})

const dates = useDates()
/** A step that was learned elsewhere took no passes of its own. */
const own = computed(() => (gates.value ?? []).filter(gate => gate.passes > 0))
/** Up to this many are marked one by one. */
const FEW_MARKS = 8
const wholeNumbers = (most: number) => ({
  tickformat: 'd',
  ...(most <= FEW_MARKS ? { dtick: 1, range: [0, most + 1] } : { rangemode: 'tozero' as const }),
})
const figure = computed(() => {
  const kinds = byHands(
    own.value.map((gate, index) => ({ ...gate, place: index + 1 })),
    gate => gate.hands,
  )
  return (token: Token) => ({
    data: kinds.map(({ name, color, symbol, some }) => ({
      name,
      type: 'scatter' as const,
      mode: 'markers' as const,
      x: some.map(gate => gate.place),
      y: some.map(gate => gate.passes),
      text: some.map(gate => `${dates.dayName(gate.atMs)}: ${gate.name}, ${gate.bpm} bpm`),
      marker: { symbol, color: token(color), size: 9 },
      hovertemplate: '%{text}: %{y} passes<extra></extra>',
    })),
    layout: framed('Passes to reach each step', {
      xaxis: { title: { text: 'steps, in the order they were reached' }, ...wholeNumbers(own.value.length) },
      yaxis: wholeNumbers(Math.max(0, ...own.value.map(gate => gate.passes))),
    }),
  })
})
const words = computed(() => {
  const passes = own.value.map(gate => gate.passes)
  if (passes.length === 0)
    return gates.value?.length
      ? 'Only steps that were learned elsewhere have been reached yet.'
      : 'No step has been reached yet.'
  if (passes.length === 1) return `One step reached, after ${plural(passes[0]!, 'pass', 'passes')}.`
  if (passes.length < 2 * FEW) return `${passes.length} steps reached; a median of ${median(passes)} passes each.`
  return `The first ${FEW} steps took a median of ${median(passes.slice(0, FEW))} passes, the latest ${FEW}: ${median(passes.slice(-FEW))}.`
})
const FEW = 10
</script>

<template>
  <PlotFigure
    :label="`Passes to reach each step: ${words}`"
    :nothing="own.length ? '' : `Passes to reach each step: ${lowerFirst(words)}`"
    :figure="figure"
  >
    {{ words }}
  </PlotFigure>
</template>
