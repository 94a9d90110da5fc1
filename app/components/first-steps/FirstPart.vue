<script setup lang="ts">
import { useHearPart } from '~/composables/sound/useHearPart'
import { useWording } from '~/composables/ui/useWording'
import { describePass } from '~/utils/stand/describePass'
import { askedLink } from '~/utils/stand/standLink'
import { placedUnitText } from '#core/words/coach'
import { passName } from '#core/words/passes'

/** The first part of the chosen song: heard, played on the Stand, and what was heard of it there. */
const props = defineProps<{ step: 'listen' | 'play' | 'sentence'; songId: string }>()
const emit = defineEmits<{ done: [] }>()
const { data: song } = await useFetch(() => `/api/songs/${props.songId}`, {
  key: `first-steps-${props.songId}`,
  query: { at: new Date().toISOString() },
  deep: false,
})
const { data: passes } = await useFetch('/api/passes', {
  key: `first-steps-passes-${props.songId}`,
  query: { limit: 1, song: props.songId },
})
const { told } = useWording()
const hearing = useHearPart()
const name = computed(() =>
  song.value?.edition ? `${song.value.title} (${song.value.edition})` : (song.value?.title ?? ''),
)
const next = computed(() => song.value?.stairs.next)
const part = computed(() => song.value?.parts[next.value?.first ?? 0])
const link = computed(() => {
  if (!next.value || !part.value) return undefined
  const asked = askedLink(part.value.id, next.value)
  return { ...asked, query: { ...asked.query, steps: '1' } }
})
const newest = computed(() => passes.value?.[0])
/** What is to be played, or was played last. */
const what = computed(() =>
  props.step === 'sentence' && newest.value
    ? `${passName(newest.value)}, ${describePass(newest.value)}`
    : `${placedUnitText(next.value!, undefined)}, ${describePass(next.value!)}`,
)
function hear() {
  void hearing.toggle('first', { partId: part.value!.id, hands: 'both' })
  emit('done')
}
watchEffect(() => {
  if (props.step === 'sentence' && newest.value) emit('done')
})
</script>

<template>
  <div v-if="song && part && next" class="step">
    <p class="large">{{ name }}: {{ what }}</p>
    <UButton
      v-if="step === 'listen'"
      size="xl"
      :icon="hearing.isOn('first') ? 'i-lucide-square' : 'i-lucide-volume-2'"
      @click="hear"
    >
      {{ hearing.isOn('first') ? 'Stop' : 'Hear the part' }}
    </UButton>
    <template v-else-if="step === 'play'">
      <UButton size="xl" icon="i-lucide-play" :to="link"> To the Stand </UButton>
      <details>
        <summary>What the words mean</summary>
        <WordsHelp />
      </details>
    </template>
    <template v-else-if="newest">
      <p class="sentence large">
        {{ told(newest) }}
      </p>
      <p>
        <NuxtLink class="review" :to="`/passes/${newest.id}`">Read every note of it</NuxtLink>. Today now knows what
        comes next: it is planned anew from everything you play.
      </p>
      <UButton size="xl" icon="i-lucide-sun" to="/"> To Today </UButton>
    </template>
    <p v-else>Nothing was played yet. <UButton variant="outline" :to="link"> To the Stand </UButton></p>
    <p v-if="hearing.problem.value" role="alert" class="problem">
      {{ hearing.problem.value }}
    </p>
  </div>
</template>

<style scoped>
a.review {
  text-decoration: underline;
  text-underline-offset: 3px;
}
summary {
  cursor: pointer;
  font-weight: 600;
  padding: 0.3rem 0;
}
</style>
