<script setup lang="ts">
import { standLink } from '~/utils/stand/standLink'
import { HANDS_CHOICES, type Choice } from '~/utils/ui/choices'
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
const UNTIL: Choice<typeof until.value>[] = [
  { value: 'stopped', label: 'until I stop' },
  { value: 'times', label: 'a number of times' },
  { value: 'clean-in-a-row', label: 'until a number in a row are clean' },
]

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
  <form class="own" aria-label="Practise any bars" @submit.prevent="go">
    <TextField v-model.number="from" label="From bar" type="number" :min="firstBar" :max="lastBar" required />
    <TextField v-model.number="to" label="To bar" type="number" :min="firstBar" :max="lastBar" required />
    <ChoiceField v-model="hands" label="Hands" :choices="HANDS_CHOICES" />
    <TextField
      v-model.number="beats"
      :label="`Tempo, ${dottedBeats(meter) ?? 'beats'} a minute`"
      type="number"
      min="10"
      max="300"
      required
    />
    <ChoiceField v-model="until" label="How often" :choices="UNTIL" />
    <TextField
      v-if="until !== 'stopped'"
      v-model.number="count"
      label="Count"
      type="number"
      min="1"
      :max="MAX_REPEATS"
      required
    />
    <UButton type="submit" variant="outline" icon="i-lucide-play"> Practise these bars </UButton>
  </form>
</template>

<style scoped>
.own {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: var(--step) calc(1.5 * var(--step));
}
.own :deep(input) {
  width: 6rem;
}
</style>
