<script setup lang="ts">
import { useStepSetting } from '~/composables/ui/useStepSetting'
import { LEVEL_FOR } from '~/utils/songs/levelFor'
import { sentence } from '~/utils/ui/sentence'
import { coachSettings, EXPERIENCES } from '#core/coach/settings'
import type { Experience } from '#core/coach/starting-tempo'
import { EXPERIENCE_WORDS } from '#core/words/coach'
import { LEVEL_WORDS } from '#core/words/patterns'

/** What the player can play already, in their own words. */
const emit = defineEmits<{ done: [] }>()
const { settings, problem, choose } = useStepSetting(() => emit('done'))
const now = computed(() => coachSettings(settings.coach).experience)
const levelText = (experience: Experience) => {
  const level = LEVEL_FOR[experience]
  return level === undefined
    ? 'Songs as they are.'
    : `Songs as they are, and beside them an edition made for you: ${LEVEL_WORDS[level].title.toLowerCase()}.`
}
const ITEMS = EXPERIENCES.map(value => ({
  value,
  label: sentence(EXPERIENCE_WORDS[value]),
  description: levelText(value),
}))
</script>

<template>
  <div class="step">
    <URadioGroup
      legend="What you can play already"
      :items="ITEMS"
      :model-value="now"
      :ui="{ legend: 'sr-only', label: 'font-bold' }"
      @update:model-value="choose({ coach: { experience: $event } })"
    />
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
