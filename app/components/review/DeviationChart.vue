<script setup lang="ts">
import type { Assessment, NoteAssessment } from '#core/ear/assessment'
import type { Data, Layout, PlotlyHTMLElement, Shape } from 'plotly.js'

const props = defineProps<{ assessment: Assessment, chosen: string }>()
const emit = defineEmits<{ choose: [id: string] }>()
const box = useTemplateRef<HTMLElement>('box')
const colorMode = useColorMode()

/** Notes in the order they are due; the axis counts them and names the bars. */
const numbered = computed(() => props.assessment.notes.map((note, index) => ({ note, index })))
const barStarts = computed(() => numbered.value.filter(({ note, index }) => index === 0 || note.bar !== props.assessment.notes[index - 1]!.bar))
const summary = computed(() => {
  const { onTimeShare, onTimeMs, offsetMs, unsteadinessMs } = props.assessment.summary
  return `${Math.round(100 * onTimeShare)} % of the right notes within ${Math.round(onTimeMs)} ms; middle ${Math.round(offsetMs)} ms, spread ${Math.round(unsteadinessMs)} ms. Every figure is in the list below.`
})

async function draw() {
  if (!box.value) return
  const { default: Plotly } = await import('plotly.js-cartesian-dist-min')
  const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
  const points = (name: string, color: string, symbol: string, wanted: (note: NoteAssessment) => boolean, y: (note: NoteAssessment) => number | null): Data => {
    const some = numbered.value.filter(({ note }) => wanted(note))
    return {
      name, type: 'scatter', mode: 'markers', x: some.map(one => one.index), y: some.map(one => y(one.note)),
      customdata: some.map(one => one.note.id),
      text: some.map(({ note }) => `bar ${note.bar}, beat ${Number(note.beat.toFixed(2))}, ${note.hand} hand`),
      hovertemplate: '%{text}<br>%{y:.0f} ms<extra></extra>',
      marker: { color, symbol, opacity: 1, size: some.map(one => one.note.id === props.chosen ? 15 : 8), line: { color: some.map(one => one.note.id === props.chosen ? token('--ink') : color), width: some.map(one => one.note.id === props.chosen ? 3 : 1) } },
    }
  }
  const { onTimeMs } = props.assessment.summary
  // Room beyond the tolerance, so that it shows as a band.
  const reach = Math.max(1.35 * onTimeMs, 1.1 * Math.max(0, ...props.assessment.notes.map(note => Math.abs(note.deviationMs ?? 0))))
  const band: Partial<Shape> = { type: 'rect', xref: 'paper', x0: 0, x1: 1, y0: -onTimeMs, y1: onTimeMs, fillcolor: token('--tread'), opacity: 0.55, line: { width: 0 }, layer: 'below' }
  const layout: Partial<Layout> = {
    height: 300, margin: { l: 64, r: 12, t: 8, b: 44 }, paper_bgcolor: 'transparent', plot_bgcolor: 'transparent', shapes: [band],
    font: { family: 'Atkinson Hyperlegible Next Variable, sans-serif', size: 14, color: token('--ink') },
    xaxis: { title: { text: 'Bar' }, tickvals: ticks.value.map(one => one.index), ticktext: ticks.value.map(one => String(one.note.bar)), gridcolor: token('--rule'), zeroline: false },
    yaxis: { title: { text: 'ms: early below, late above' }, range: [-reach, reach], gridcolor: token('--rule'), zerolinecolor: token('--ink-soft'), zerolinewidth: 2 },
    legend: { orientation: 'h', y: 1.12, x: 1, xanchor: 'right' }, hovermode: 'closest',
  }
  const right = (hand: 'left' | 'right') => (note: NoteAssessment) => note.hand === hand && note.outcome === 'right'
  await Plotly.react(box.value, [
    points('right hand', token('--right-hand'), 'circle', right('right'), note => note.deviationMs),
    points('left hand', token('--left-hand'), 'square', right('left'), note => note.deviationMs),
    points('wrong key', token('--heard-wrong'), 'x', note => note.outcome === 'wrong', note => note.deviationMs),
    points('missed', token('--heard-missed'), 'circle-open', note => note.outcome === 'missed' && !note.sharedKey, () => 0),
  ], layout, { displayModeBar: false, responsive: true })
  const plot = box.value as unknown as PlotlyHTMLElement
  plot.removeAllListeners('plotly_click')
  plot.on('plotly_click', (event) => {
    const id = event.points[0]?.customdata
    if (typeof id === 'string') emit('choose', id)
  })
}

/** So many bar numbers fit under the picture. */
const MOST_TICKS = 16
const ticks = computed(() => {
  const every = Math.ceil(barStarts.value.length / MOST_TICKS)
  return barStarts.value.filter((_, index) => index % every === 0)
})

onMounted(() => void draw())
watch([() => props.chosen, () => colorMode.value], () => nextTick(draw))
</script>

<template>
  <figure>
    <div
      ref="box"
      role="img"
      :aria-label="`Deviation of every note from its time, by hand. ${summary}`"
    />
    <figcaption>{{ summary }} The shaded band is the tolerance.</figcaption>
  </figure>
</template>

<style scoped>
figure { background: var(--sheet); border: 1px solid var(--rule); border-radius: 0.5rem; padding: var(--step) var(--step) calc(1.5 * var(--step)); min-height: 20rem; }
figcaption { color: var(--ink-soft); font-size: 0.95rem; padding: 0 calc(2 * var(--step)); }
</style>
