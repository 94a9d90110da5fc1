<script setup lang="ts">
import type { Token } from '~/composables/ui/usePlot'
import { useDates } from '~/composables/ui/useDates'
import { useWording } from '~/composables/ui/useWording'
import { describePass } from '~/utils/stand/describePass'
import { messageOf } from '~/utils/ui/messageOf'
import type { Finding } from '#core/ear/finding'
import { barAt } from '#core/music/arrangement'
import { passName } from '#core/words/passes'
import type { Data } from 'plotly.js'

useHead({ title: 'Two passes · Half Step' })
const route = useRoute()
const { sentenceOf } = useWording()
const dates = useDates()
const ids = [String(route.query.a ?? ''), String(route.query.b ?? '')]
const answers = await Promise.all(ids.map(id => useFetch(`/api/passes/${id}/review`, { deep: false })))
const problem = computed(() => answers.map(({ error }) => error.value).find(one => one))
const passes = computed(() =>
  answers.flatMap(({ data }) => data.value ?? []).sort((a, b) => a.startedAt.localeCompare(b.startedAt)),
)

type Summary = (typeof passes.value)[number]['assessment']['summary']
const ROWS: [label: string, of: (summary: Summary) => string][] = [
  ['Right notes', one => `${one.right} of ${one.notes}`],
  ['Wrong', one => `${one.wrong}`],
  ['Missed', one => `${one.missed}`],
  ['Extra', one => `${one.extra}`],
  ['In time', one => (one.onTimeMs > 0 ? `${Math.round(100 * one.onTimeShare)} %` : '–')],
  ['Unsteadiness', one => (one.onTimeMs > 0 ? `${Math.round(one.unsteadinessMs)} ms` : '–')],
  ['Against the beat', one => (one.onTimeMs > 0 ? `${Math.round(one.offsetMs)} ms` : '–')],
  ['Drift', one => (one.onTimeMs > 0 ? `${one.driftPercent} %` : '–')],
]
const places = computed(() =>
  [
    ...new Map(
      passes.value.flatMap(pass => pass.assessment.notes).map(note => [`${note.bar}:${note.beat}`, note]),
    ).values(),
  ]
    .sort((a, b) => a.bar - b.bar || a.beat - b.beat)
    .map(note => `${note.bar}:${note.beat}`),
)

const figure = computed(() => {
  const lines = passes.value.map(pass => ({
    name: `${dates.dayName(pass.startedAt)} ${dates.timeOfDay(pass.startedAt)}`,
    notes: pass.assessment.notes.filter(note => note.outcome === 'right' && note.deviationMs !== null),
  }))
  return (token: Token) => ({
    data: lines.map(({ name, notes }, index): Data => ({
      name,
      type: 'scatter',
      mode: 'lines+markers',
      x: notes.map(note => `${note.bar}:${note.beat}`),
      y: notes.map(note => note.deviationMs),
      line: { color: token(index === 0 ? '--ink-soft' : '--together'), dash: index === 0 ? 'dot' : 'solid' },
      marker: { symbol: index === 0 ? 'square-open' : 'circle', size: 8 },
      hovertemplate: 'bar and beat %{x}: %{y:.0f} ms<extra></extra>',
    })),
    layout: {
      height: 320,
      margin: { l: 64, r: 12, t: 20, b: 60 },
      xaxis: {
        type: 'category' as const,
        categoryorder: 'array' as const,
        categoryarray: places.value,
        title: { text: 'bar:beat' },
        nticks: 24,
      },
      yaxis: { title: { text: 'ms, + is late' }, zeroline: true, zerolinecolor: token('--ink-soft') },
    },
  })
})
</script>

<template>
  <div class="compare">
    <p v-if="problem">{{ messageOf(problem) }} <NuxtLink to="/logbook">Back to the Logbook</NuxtLink></p>
    <template v-else-if="passes.length === 2">
      <h1>Two passes</h1>
      <div class="ledger card" tabindex="0" role="group" aria-label="Figures of both">
        <table>
          <thead>
            <tr>
              <td />
              <th v-for="pass in passes" :key="pass.id" scope="col">
                <NuxtLink :to="`/passes/${pass.id}`"
                  >{{ passName(pass) }},
                  {{
                    describePass({
                      hands: pass.hands,
                      mode: pass.mode === 'own-time' ? 'own-time' : 'steady',
                      bpm: pass.bpm,
                      meter: barAt(pass.arrangement, pass.stretch.from).meter,
                    })
                  }}</NuxtLink
                ><br /><ClientOnly
                  >{{ dates.dayName(pass.startedAt) }}, {{ dates.timeOfDay(pass.startedAt) }}</ClientOnly
                >
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="[label, figureOf] in ROWS" :key="label">
              <th scope="row">
                {{ label }}
              </th>
              <td v-for="pass in passes" :key="pass.id" class="figure">
                {{ figureOf(pass.assessment.summary) }}
              </td>
            </tr>
            <tr>
              <th scope="row">What was found</th>
              <td v-for="pass in passes" :key="pass.id">
                {{ sentenceOf(pass.assessment.findings as Finding[]) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <PlotFigure label="How early or late each right note was in both passes" :figure="figure" />
    </template>
  </div>
</template>

<style scoped>
.compare {
  max-width: 72rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(3 * var(--step));
}
h1 {
  font-size: 2.25rem;
}
thead th {
  font-size: 1rem;
}
a {
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
