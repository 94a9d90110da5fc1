<script setup lang="ts">
import { byHands, framed, type Token } from '~/composables/ui/usePlot'
import { dayAxis } from '~/utils/ui/dayAxis'
import type { Hands } from '#core/music/arrangement'

/** The fastest clean pass of each day, by hands. */
const props = defineProps<{ tempos: readonly { day: string; hands: Hands; bpm: number }[] }>()
/** With more points than this only their line is drawn. */
const MAX_POINTS = 150

const figure = computed(() => {
  const lines = byHands(props.tempos, tempo => tempo.hands)
  return (token: Token) => ({
    data: lines.map(({ name, color, symbol, some }) => ({
      name,
      type: 'scatter' as const,
      mode: some.length > MAX_POINTS ? ('lines' as const) : ('lines+markers' as const),
      x: some.map(one => one.day),
      y: some.map(one => one.bpm),
      line: { color: token(color) },
      marker: { symbol, color: token(color), size: 8 },
      hovertemplate: '%{x}: %{y:.0f} bpm<extra></extra>',
    })),
    layout: framed('Fastest clean pass of each day, bpm', { xaxis: dayAxis(props.tempos.map(one => one.day)) }),
  })
})
const fastest = computed(() => Math.round(Math.max(0, ...props.tempos.map(one => one.bpm))))
</script>

<template>
  <PlotFigure
    :label="`Fastest clean pass of each day; the fastest of all ${fastest} bpm`"
    :nothing="tempos.length === 0 ? 'Fastest clean pass of each day: none with the click yet.' : ''"
    :figure="figure"
  />
</template>
