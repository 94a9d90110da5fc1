<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'

/** Where a song fails: bars by days. */
const props = defineProps<{ songId: string, hands: Hands | '' }>()
const box = useTemplateRef<HTMLElement>('box')
const { data: map } = await useFetch('/api/logbook/errors', { query: computed(() => ({ song: props.songId, ...(props.hands ? { hands: props.hands } : {}) })), deep: false })
const worst = computed(() => {
  const found = map.value
  if (!found || found.days.length === 0) return 'Nothing of it was practised yet.'
  const shares = found.bars.map((bar, index) => ({ bar, share: mean(found.shares[index]!.slice(-5)) })).sort((a, b) => b.share - a.share)
  return shares[0] && shares[0].share > 0 ? `Of late it fails most often in bar ${shares[0].bar}: in ${Math.round(100 * shares[0].share)} % of the passes over it.` : 'Of late it fails nowhere.'
})
/** A date under every so many days. */
const MOST_TICKS = 8
const ticks = computed(() => (map.value?.days ?? []).filter((_, index, days) => index % Math.ceil(days.length / MOST_TICKS) === 0))
const mean = (values: readonly (number | null)[]) => { const known = values.filter(value => value !== null); return known.length === 0 ? 0 : known.reduce((sum, value) => sum + value, 0) / known.length }

usePlot(box, token => ({
  data: [{
    type: 'heatmap', x: map.value?.days ?? [], y: map.value?.bars.map(bar => `${bar}`) ?? [], z: map.value?.shares.map(row => row.map(share => share === null ? null : 100 * share)) ?? [],
    zmin: 0, zmax: 100, xgap: 1, ygap: 1, hoverongaps: false, hovertemplate: 'bar %{y}, %{x}: failed in %{z:.0f} % of passes<extra></extra>',
    colorscale: [[0, token('--tread')], [1, token('--heard-wrong')]], colorbar: { ticksuffix: ' %', thickness: 12, outlinewidth: 0 },
  }],
  layout: framed('Where it fails: bars by days', { xaxis: { type: 'category', tickvals: ticks.value, ticktext: ticks.value.map(day => new Date(`${day}T12:00:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })) }, yaxis: { type: 'category', autorange: 'reversed', title: { text: 'bar' } } }),
}), [map])
</script>

<template>
  <figure class="plot">
    <div
      ref="box"
      role="img"
      :aria-label="`Where the song fails, bars by days: ${worst}`"
    />
    <figcaption class="soft">
      {{ worst }}
    </figcaption>
  </figure>
</template>
