<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'

/** The fastest clean pass of each day, by hands. */
const props = defineProps<{ tempos: readonly { day: string, hands: Hands, bpm: number }[] }>()
const box = useTemplateRef<HTMLElement>('box')
const LINES = [['left', 'left hand', '--left-hand', 'square'], ['right', 'right hand', '--right-hand', 'circle'], ['both', 'together', '--together', 'diamond']] as const

usePlot(box, token => ({
  data: LINES.flatMap(([hands, name, color, symbol]) => {
    const some = props.tempos.filter(one => one.hands === hands)
    return some.length === 0 ? [] : [{ name, type: 'scatter' as const, mode: some.length > 150 ? 'lines' as const : 'lines+markers' as const, x: some.map(one => one.day), y: some.map(one => one.bpm), line: { color: token(color) }, marker: { symbol, color: token(color), size: 8 }, hovertemplate: '%{x}: %{y:.0f} bpm<extra></extra>' }]
  }),
  layout: framed('Fastest clean pass of the day, bpm', { xaxis: { type: 'date' } }),
}), [() => props.tempos])
const fastest = computed(() => Math.round(Math.max(0, ...props.tempos.map(one => one.bpm))))
</script>

<template>
  <figure class="plot">
    <div
      ref="box"
      role="img"
      :aria-label="`Fastest clean pass of each day; the fastest of all ${fastest} bpm`"
    />
  </figure>
</template>
