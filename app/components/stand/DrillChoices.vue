<script setup lang="ts">
import type { StandPart } from '../../composables/stand/practised'
import { HANDS_CHOICES, choicesFrom, choicesOf } from '~/utils/ui/choices'
import { useDrillStart } from '~/composables/songs/useDrillStart'
import type { Hands } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'
import { passageRecipe } from '#core/patterns/drills/passage'
import { RHYTHMS, type DrillRhythm } from '#core/patterns/drills/recipe'
import { describeStretch } from '#core/words/places'
import { RHYTHM_WORDS } from '#core/words/patterns'

/** What the drill is to be: the bars through the keys, or in a rhythm that finds the notes that lag. */
const props = defineProps<{ part: StandPart; stretch: ScoreSpan; hands: Hands; targetBpm: number }>()
const { busy, problem, start } = useDrillStart()
const KEYS = {
  own: 'in its own key',
  chromatic: 'a half step higher each time',
  fifths: 'through all keys by fifths',
} as const
const keys = ref<keyof typeof KEYS>('own')
const rhythm = ref<DrillRhythm>('long-short')
/** Rhythms are for a hand alone: with both the notes would not meet any more. */
const hands = ref<Hands>(props.hands)
const mayVary = computed(() => hands.value !== 'both')
const bars = computed(() => describeStretch(props.part.arrangement, props.stretch))
const title = computed(() =>
  [
    props.part.song.title,
    bars.value,
    ...(hands.value === 'both' ? [] : [`${hands.value} hand`]),
    ...(mayVary.value && rhythm.value !== 'as-it-is' ? [RHYTHM_WORDS[rhythm.value]] : []),
    ...(keys.value === 'own' ? [] : [KEYS[keys.value]]),
  ]
    .join(', ')
    .slice(0, 120),
)
const make = () =>
  start({
    ...passageRecipe(props.part.arrangement, props.stretch, hands.value, {
      rhythm: mayVary.value ? rhythm.value : 'as-it-is',
      keys: keys.value,
      bpm: props.targetBpm,
    }),
    title: title.value,
  })
</script>

<template>
  <form class="drill fields" aria-label="A drill from these bars" @submit.prevent="make">
    <p>
      <b>A drill from {{ bars }}</b>
    </p>
    <ChoiceField v-model="hands" label="Hands" :choices="HANDS_CHOICES" layout="row" />
    <ChoiceField
      v-model="rhythm"
      label="Rhythm"
      :disabled="!mayVary"
      :choices="choicesOf(RHYTHMS, one => RHYTHM_WORDS[one])"
      layout="row"
    />
    <ChoiceField v-model="keys" label="Keys" :choices="choicesFrom(KEYS)" layout="row" />
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
    <UButton type="submit" icon="i-lucide-play" :loading="busy !== ''"> Make it and begin </UButton>
  </form>
</template>

<style scoped>
.drill {
  display: grid;
  gap: calc(1.5 * var(--step));
  padding: calc(2 * var(--step));
  max-width: 24rem;
}
</style>
