<script setup lang="ts">
import { choicesOf } from '~/utils/ui/choices'
import { useDates } from '~/composables/ui/useDates'
import { useAction } from '~/composables/ui/useAction'
import type { Cut } from '#core/coach/cuts'
import { cutText } from '#core/words/coach'
import { fitsText, forecastText } from '#core/words/forecast'
import type { Forecast } from '#core/coach/forecast'

/** How far the song is, when it will be ready, and whether that is in time. */
const props = defineProps<{
  song: {
    id: string
    title: string
    targetDate: string | null
    targetShare: number
    minutesPerDay: number
    forecast: Forecast | null
    cuts: Cut[]
  }
  progress: number
  /** Without the song's name, on its own page. */
  isNameless?: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const { act, problem } = useAction()

const dates = useDates()
const percent = computed(() => Math.round(100 * props.progress))
const when = computed(() =>
  forecastText(
    { progress: props.progress, forecast: props.song.forecast, minutesPerDay: props.song.minutesPerDay },
    Date.now(),
    dates.date,
  ),
)
const fits = computed(() =>
  props.song.targetDate && props.song.forecast?.fits
    ? fitsText(props.song.forecast.fits, dates.date(props.song.targetDate))
    : '',
)

async function change(body: { targetDate?: string | null; targetShare?: number }) {
  await act(async () => {
    await $fetch(`/api/songs/${props.song.id}`, { method: 'PATCH', body })
    emit('changed')
  })
}
const setDate = (event: Event) => change({ targetDate: (event.target as HTMLInputElement).value || null })
const SHARES = [0.6, 0.7, 0.8, 0.9, 1, 1.1]
</script>

<template>
  <section class="forecast" :aria-label="`Progress: ${song.title}`">
    <h2 v-if="!isNameless">
      <NuxtLink :to="`/songs/${song.id}`">{{ song.title }}</NuxtLink>
    </h2>
    <div class="way" role="img" :aria-label="`${percent} % done`">
      <i :style="{ width: `${percent}%` }" />
    </div>
    <p>
      <b class="figure">{{ percent }} %</b> done. {{ when }}
    </p>
    <div class="fields">
      <TextField label="Ready by" type="date" :model-value="song.targetDate ?? ''" @change="setDate" />
      <ChoiceField
        label="At, of the written tempo"
        :model-value="song.targetShare"
        :choices="choicesOf(SHARES, share => `${Math.round(100 * share)} %`)"
        @update:model-value="change({ targetShare: $event })"
      />
    </div>
    <p v-if="fits" :class="['fits', song.forecast!.fits]">
      <b>{{ fits }}</b>
    </p>
    <ul v-if="song.cuts.length">
      <li v-for="cut in song.cuts" :key="cut.kind">
        {{ cutText(cut) }}
      </li>
    </ul>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </section>
</template>

<style scoped>
.forecast {
  display: grid;
  gap: var(--step);
}
h2 {
  font-family: var(--font-serif);
  font-size: 1.25rem;
}
.way {
  height: 0.9rem;
  background: var(--tread);
}
.way i {
  display: block;
  height: 100%;
  background: var(--together);
}
.goal {
  display: flex;
  gap: var(--step);
  align-items: center;
}
ul {
  list-style: disc;
  padding-left: 1.25rem;
  display: grid;
  gap: 0.25rem;
}
.no,
.perhaps {
  color: var(--heard-missed);
}
.yes {
  color: var(--heard-right);
}
</style>
