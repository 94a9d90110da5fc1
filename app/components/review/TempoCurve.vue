<script setup lang="ts">
import { framed, type Token } from '~/composables/ui/usePlot'
import type { BarTempo } from '#core/ear/assessment'
import { beatBpm, type Meter } from '#core/music/meter'

/** The player's own tempo, bar after bar, in the beats of the meter. */
const props = defineProps<{ tempos: readonly BarTempo[]; meter: Meter }>()
const beats = computed(() => props.tempos.map(({ bar, bpm }) => ({ bar, bpm: beatBpm(props.meter, bpm) })))
const figure = computed(() => (token: Token) => ({
  data: [
    {
      type: 'scatter' as const,
      mode: 'lines+markers' as const,
      x: beats.value.map((_, index) => index),
      y: beats.value.map(one => one.bpm),
      line: { color: token('--together') },
      marker: { color: token('--together'), size: 7 },
      text: beats.value.map(one => `bar ${one.bar}`),
      hovertemplate: '%{text}: %{y:.0f} bpm<extra></extra>',
    },
  ],
  layout: framed('Your tempo by bar, bpm', {
    xaxis: {
      tickmode: 'array',
      tickvals: beats.value.map((_, index) => index),
      ticktext: beats.value.map(one => String(one.bar)),
      nticks: 20,
    },
  }),
}))
const range = computed(() =>
  [Math.min(...beats.value.map(one => one.bpm)), Math.max(...beats.value.map(one => one.bpm))].map(Math.round),
)
</script>

<template>
  <PlotFigure :label="`Your tempo by bar: from ${range[0]} to ${range[1]} bpm`" :figure="figure">
    Between {{ range[0] }} and {{ range[1] }} bpm. Deviations are measured against this course.
  </PlotFigure>
</template>
