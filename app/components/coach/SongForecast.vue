<script setup lang="ts">
import type { Cut } from '#core/coach/cuts'
import { cutText } from '#core/words/coach'
import type { Forecast } from '#core/coach/forecast'

/** How far the song is, when it will be ready, and whether that is in time. */
const props = defineProps<{
  song: { id: string, title: string, targetDate: string | null, targetShare: number, minutesPerDay: number, forecast: Forecast | null, cuts: Cut[] }
  progress: number
}>()
const emit = defineEmits<{ changed: [] }>()
const problem = ref('')

const YEAR_MS = 365 * 86_400_000
const date = (ms: number) => new Date(ms).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: new Date(ms).getFullYear() === new Date().getFullYear() ? undefined : 'numeric' })
const percent = computed(() => Math.round(100 * props.progress))
const when = computed(() => {
  const { forecast } = props.song
  if (!forecast) return props.progress >= 0.97 ? 'It is ready.' : 'After four days and some forty minutes of practice there is a forecast here.'
  if (forecast.likelyMs === forecast.latestMs && forecast.likelyMs <= Date.now()) return 'It is ready.'
  const perDay = `${Math.max(1, Math.round(props.song.minutesPerDay))} ${Math.round(props.song.minutesPerDay) > 1 ? 'minutes' : 'minute'} of playing a day`
  if (forecast.earliestMs > Date.now() + YEAR_MS) return `At ${perDay} it would take more than a year.`
  if (forecast.likelyMs > Date.now() + YEAR_MS) return 'It is too early to say when it will be ready.'
  return `At ${perDay}, ready about ${date(forecast.likelyMs)}; in eight cases of ten between ${date(forecast.earliestMs)} and ${date(forecast.latestMs)}.`
})
const FITS = { yes: 'In time for', perhaps: 'Perhaps in time for', no: 'Not in time for' } as const
const fits = computed(() => props.song.targetDate && props.song.forecast?.fits ? `${FITS[props.song.forecast.fits]} ${date(Date.parse(`${props.song.targetDate}T12:00:00`))}.` : '')

async function change(body: { targetDate?: string | null, targetShare?: number }) {
  problem.value = ''
  try {
    await $fetch(`/api/songs/${props.song.id}`, { method: 'PATCH', body })
    emit('changed')
  }
  catch (error) { problem.value = messageOf(error) }
}
const setDate = (event: Event) => change({ targetDate: (event.target as HTMLInputElement).value || null })
const SHARES = [0.6, 0.7, 0.8, 0.9, 1, 1.1]
</script>

<template>
  <section
    class="forecast"
    :aria-label="`How far ${song.title} is`"
  >
    <h2>
      <NuxtLink :to="`/songs/${song.id}`">{{ song.title }}</NuxtLink>
    </h2>
    <div
      class="way"
      role="img"
      :aria-label="`${percent} % of the way`"
    >
      <i :style="{ width: `${percent}%` }" />
    </div>
    <p><b class="figure">{{ percent }} %</b> of the way. {{ when }}</p>
    <label class="fields goal">To be ready by <input
      type="date"
      :value="song.targetDate ?? ''"
      @change="setDate"
    ></label>
    <label class="fields goal">At <select
      :value="song.targetShare"
      @change="change({ targetShare: Number(($event.target as HTMLSelectElement).value) })"
    ><option
      v-for="share in SHARES"
      :key="share"
      :value="share"
      :selected="Math.abs(share - song.targetShare) < 0.01"
    >{{ Math.round(100 * share) }} %</option></select> of the written tempo</label>
    <p
      v-if="fits"
      :class="['fits', song.forecast!.fits]"
    >
      <b>{{ fits }}</b>
    </p>
    <ul v-if="song.cuts.length">
      <li
        v-for="cut in song.cuts"
        :key="cut.kind"
      >
        {{ cutText(cut) }}
      </li>
    </ul>
    <p
      v-if="problem"
      role="alert"
      class="problem"
    >
      {{ problem }}
    </p>
  </section>
</template>

<style scoped>
.forecast { display: grid; gap: var(--step); }
h2 { font-family: var(--font-serif); font-size: 1.25rem; }
.way { height: 0.9rem; background: var(--tread); }
.way i { display: block; height: 100%; background: var(--together); }
.goal { display: flex; gap: var(--step); align-items: center; }
ul { list-style: disc; padding-left: 1.25rem; display: grid; gap: 0.25rem; }
.no, .perhaps { color: var(--heard-missed); }
.yes { color: var(--heard-right); }
</style>
