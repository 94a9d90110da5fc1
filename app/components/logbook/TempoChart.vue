<script setup lang="ts">
import type { Data } from 'plotly.js'

const props = defineProps<{ passes: { startedAt: string, bpm: number, clean: boolean, songTitle: string, partName: string, hands: string }[] }>()
const box = useTemplateRef<HTMLElement>('box')

/** Numbered in the order played: days without practice would only be empty paper. */
const inOrder = computed(() => [...props.passes].reverse().map((pass, index) => ({ ...pass, index: index + 1 })))

function trace(name: string, clean: boolean, color: string, symbol: string): Data {
  const some = inOrder.value.filter(pass => pass.clean === clean)
  return {
    name, type: 'scatter', mode: 'markers', x: some.map(pass => pass.index), y: some.map(pass => pass.bpm),
    text: some.map(pass => `${pass.songTitle}: ${pass.partName}, ${pass.hands}`), hovertemplate: '%{text}<br>%{y} bpm<extra></extra>',
    marker: { color, symbol, size: 10, line: { color, width: 2 } },
  }
}

usePlot(box, token => ({
  data: [trace('clean', true, token('--heard-right'), 'square'), trace('not yet', false, token('--heard-missed'), 'circle-open')],
  layout: {
    height: 240, margin: { l: 52, r: 12, t: 8, b: 40 },
    xaxis: { title: { text: 'Passes, in the order played' } }, yaxis: { title: { text: 'bpm' } },
  },
}), [inOrder])
</script>

<template>
  <figure>
    <div
      ref="box"
      role="img"
      :aria-label="`Tempo of the last ${passes.length} passes: ${passes.filter(pass => pass.clean).length} clean. The table below has every figure.`"
    />
  </figure>
</template>

<style scoped>
figure { background: var(--sheet); border: 1px solid var(--rule); border-radius: 0.5rem; padding: var(--step); min-height: 15rem; }
</style>
