<script setup lang="ts">
import { voicesOf } from '#core/formats/roles'
import type { ReadScore } from '#core/formats/musicxml/read'
import type { VoiceChoice } from '#core/music/voice'

/** Reassigns the song's parts or tracks. `score`: as saved. */
const props = defineProps<{ score: ReadScore; isSaved: boolean; saving: boolean }>()
const emit = defineEmits<{ give: [roles: { voices?: VoiceChoice; swapHands?: boolean }] }>()

const voices = computed(() => voicesOf(props.score))
</script>

<template>
  <div class="roles">
    <p class="soft">
      {{
        isSaved
          ? 'Changes here are saved at once as a new revision; parts, corrections and passes are kept.'
          : 'Save your corrections first; then you can change who plays what.'
      }}
    </p>
    <fieldset :disabled="!isSaved || saving">
      <legend class="sr-only">Who plays what</legend>
      <VoicePanel
        :voices="voices"
        :arrangement="score.arrangement"
        @give="(number, plays) => emit('give', { voices: { [number]: plays } })"
        @swap="emit('give', { swapHands: true })"
      />
    </fieldset>
  </div>
</template>

<style scoped>
.roles,
fieldset {
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
}
fieldset :deep(.voices) {
  width: 100%;
}
fieldset {
  width: 100%;
}
</style>
