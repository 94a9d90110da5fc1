<script setup lang="ts">
import { byHands, framed, type Token } from '~/composables/ui/usePlot'
import { greatest } from 'd3-array'
import { plural } from '#core/words/amounts'
import { lowerFirst, placeWords } from '#core/words/places'
import type { Hands } from '#core/music/arrangement'

/** How early or late each note of a song comes of late. */
const props = defineProps<{ filter: { song: string; part?: string; hands?: Hands } }>()
const { data: notes } = await useFetch('/api/logbook/notes', { query: computed(() => props.filter), deep: false })

const figure = computed(() => {
  const hands = byHands(notes.value ?? [], note => note.hand)
  return (token: Token) => ({
    data: hands.map(({ name, color, symbol, some }) => ({
      name,
      type: 'scatter' as const,
      mode: 'markers' as const,
      x: some.map(note => note.at),
      y: some.map(note => note.median),
      text: some.map(note => `${placeWords(note)}, ${plural(note.count, 'pass', 'passes')}`),
      error_y: {
        type: 'data' as const,
        symmetric: false,
        array: some.map(note => note.high - note.median),
        arrayminus: some.map(note => note.median - note.low),
        thickness: 1,
        width: 0,
        color: token(color),
      },
      marker: { symbol, color: token(color), size: 6 },
      hovertemplate: '%{text}: %{y:.0f} ms<extra></extra>',
    })),
    layout: framed('Early and late, note by note', {
      xaxis: { title: { text: 'bar' } },
      yaxis: { zeroline: true, zerolinecolor: token('--ink-soft'), ticksuffix: ' ms' },
    }),
  })
})
/** Passes in which a note must have been right to say something about it. */
const ENOUGH = 3
const words = computed(() => {
  const known = (notes.value ?? []).filter(note => note.count >= ENOUGH)
  const furthest = greatest(known, note => Math.abs(note.median))
  if (!furthest) return 'Not enough passes with the click yet.'
  return `Furthest off the beat: ${placeWords(furthest)}, ${furthest.hand} hand, ${Math.round(Math.abs(furthest.median))} ms ${furthest.median > 0 ? 'late' : 'early'}, median of ${furthest.count} passes. The lines span the middle half of them.`
})
</script>

<template>
  <PlotFigure
    :label="`How early or late each note comes. ${words}`"
    :nothing="notes?.length ? '' : `Early and late, note by note: ${lowerFirst(words)}`"
    :figure="figure"
  >
    {{ words }}
  </PlotFigure>
</template>
