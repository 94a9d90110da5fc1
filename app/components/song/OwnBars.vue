<script setup lang="ts">
import { standLink } from '~/utils/stand/standLink'
import { MAX_REPEATS } from '#core/coach/how-often'
import type { Hands } from '#core/music/arrangement'
import { tempoBeatQuarters, type Meter } from '#core/music/meter'
import { dottedBeats, tempoFigure } from '#core/words/amounts'

/**
 * Any bars of the song, with any hands, at any tempo, any number of times: to the Stand. `targetBpm`: quarter notes a
 * minute.
 */
const props = defineProps<{ partId: string; firstBar: number; lastBar: number; meter: Meter; targetBpm: number }>()
const from = ref(props.firstBar)
const to = ref(props.lastBar)
const hands = ref<Hands>('right')
const beats = ref(Number(tempoFigure(0.6 * props.targetBpm, props.meter)))
const until = ref<'stopped' | 'times' | 'clean-in-a-row'>('times')
const count = ref(10)

const go = () =>
  navigateTo(
    standLink(props.partId, {
      hands: hands.value,
      bpm: beats.value * tempoBeatQuarters(props.meter),
      bars: { from: from.value, to: to.value },
      ...(until.value === 'stopped' ? {} : { howOften: { until: until.value, count: count.value } }),
    }),
  )
</script>

<template>
  <form class="own fields" aria-label="Practise any bars" @submit.prevent="go">
    <label>Bars <input v-model.number="from" type="number" :min="firstBar" :max="lastBar" required /></label>
    <label>to <input v-model.number="to" type="number" :min="firstBar" :max="lastBar" required /></label>
    <label
      >with
      <select v-model="hands">
        <option value="right">the right hand</option>
        <option value="left">the left hand</option>
        <option value="both">both hands</option>
      </select></label
    >
    <label
      >at <input v-model.number="beats" type="number" min="10" max="300" required />
      {{ dottedBeats(meter) ? `${dottedBeats(meter)} a minute` : 'bpm' }}</label
    >
    <label
      >,
      <select v-model="until" aria-label="How often">
        <option value="stopped">until I stop</option>
        <option value="times">a number of times</option>
        <option value="clean-in-a-row">until a number in a row are clean</option>
      </select></label
    >
    <label v-if="until !== 'stopped'"
      ><span class="sr-only">Count</span
      ><input v-model.number="count" type="number" min="1" :max="MAX_REPEATS" required
    /></label>
    <UButton type="submit" variant="outline" icon="i-lucide-play"> Practise these bars </UButton>
  </form>
</template>

<style scoped>
.own {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--step) calc(1.5 * var(--step));
}
input {
  width: 5rem;
}
</style>
