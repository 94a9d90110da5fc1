<script setup lang="ts">
import { usePlot } from '~/composables/ui/usePlot'
import type { Assessment, NoteAssessment } from '#core/ear/assessment'
import type { Data } from 'plotly.js'
import { timingText } from '#core/words/measures'

const props = defineProps<{ assessment: Assessment; chosen: string }>()
const emit = defineEmits<{ choose: [id: string] }>()
const box = useTemplateRef<HTMLElement>('box')

/** Notes in the order they are due; the axis counts them and names the bars. */
const numbered = computed(() => props.assessment.notes.map((note, index) => ({ note, index })))
/** A pickup has no number to be read under it. */
const barStarts = computed(() =>
  numbered.value.filter(
    ({ note, index }) => note.bar !== 0 && (index === 0 || note.bar !== props.assessment.notes[index - 1]!.bar),
  ),
)
const summary = computed(() => `${timingText(props.assessment)} Every figure is in the list below.`)

function points(
  name: string,
  color: string,
  symbol: string,
  ink: string,
  wanted: (note: NoteAssessment) => boolean,
  y = (note: NoteAssessment) => note.deviationMs,
): Data {
  const some = numbered.value.filter(({ note }) => wanted(note))
  const isChosen = some.map(one => one.note.id === props.chosen)
  return {
    name,
    type: 'scatter',
    mode: 'markers',
    x: some.map(one => one.index),
    y: some.map(one => y(one.note)),
    customdata: some.map(one => one.note.id),
    text: some.map(({ note }) => `bar ${note.bar}, beat ${Number(note.beat.toFixed(2))}, ${note.hand} hand`),
    hovertemplate: '%{text}<br>%{y:.0f} ms<extra></extra>',
    marker: {
      color,
      symbol,
      opacity: 1,
      size: isChosen.map(one => (one ? 15 : 8)),
      line: { color: isChosen.map(one => (one ? ink : color)), width: isChosen.map(one => (one ? 3 : 1)) },
    },
  }
}
const isRight = (hand: 'left' | 'right') => (note: NoteAssessment) => note.hand === hand && note.outcome === 'right'

/** Bar numbers that fit under the picture. */
const MAX_TICKS = 16
const ticks = computed(() => {
  const every = Math.ceil(barStarts.value.length / MAX_TICKS)
  return barStarts.value.filter((_, index) => index % every === 0)
})

usePlot(
  box,
  token => {
    const { onTimeMs } = props.assessment.summary
    const ink = token('--ink')
    // Room beyond the tolerance, so that it shows as a band.
    const reach = Math.max(
      1.35 * onTimeMs,
      1.1 * Math.max(0, ...props.assessment.notes.map(note => Math.abs(note.deviationMs ?? 0))),
    )
    return {
      data: [
        points('right hand', token('--right-hand'), 'circle', ink, isRight('right')),
        points('left hand', token('--left-hand'), 'square', ink, isRight('left')),
        points('wrong key', token('--heard-wrong'), 'x', ink, note => note.outcome === 'wrong'),
        points(
          'missed',
          token('--heard-missed'),
          'circle-open',
          ink,
          note => note.outcome === 'missed' && !note.sharedKey,
          () => 0,
        ),
      ],
      layout: {
        height: 300,
        margin: { l: 64, r: 12, t: 8, b: 44 },
        shapes: [
          {
            type: 'rect',
            xref: 'paper',
            x0: 0,
            x1: 1,
            y0: -onTimeMs,
            y1: onTimeMs,
            fillcolor: token('--tread'),
            opacity: 0.55,
            line: { width: 0 },
            layer: 'below',
          },
        ],
        xaxis: {
          title: { text: 'Bar' },
          tickvals: ticks.value.map(one => one.index),
          ticktext: ticks.value.map(one => String(one.note.bar)),
        },
        yaxis: {
          title: { text: 'ms: early below, late above' },
          range: [-reach, reach],
          zeroline: true,
          zerolinecolor: token('--ink-soft'),
          zerolinewidth: 2,
        },
      },
    }
  },
  [() => props.chosen],
  id => {
    if (typeof id === 'string') emit('choose', id)
  },
)
</script>

<template>
  <figure>
    <div ref="box" role="img" :aria-label="`Deviation of every note from its time, by hand. ${summary}`" />
    <figcaption>{{ summary }} The shaded band is the tolerance.</figcaption>
  </figure>
</template>

<style scoped>
figure {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: var(--step) var(--step) calc(1.5 * var(--step));
  min-height: 20rem;
}
figcaption {
  color: var(--ink-soft);
  font-size: 0.95rem;
  padding: 0 calc(2 * var(--step));
}
</style>
