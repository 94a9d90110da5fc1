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
</script>

<template>
  <div class="step">
    <fieldset>
      <legend class="sr-only">What you can play already</legend>
      <label v-for="experience in EXPERIENCES" :key="experience"
        ><input
          type="radio"
          name="experience"
          :checked="now === experience"
          @change="choose({ coach: { experience } })"
        />
        <span
          ><b>{{ sentence(EXPERIENCE_WORDS[experience]) }}</b>
          <span class="soft">{{ levelText(experience) }}</span></span
        ></label
      >
    </fieldset>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
