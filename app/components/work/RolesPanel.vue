<script setup lang="ts">
import { voicesOf } from '#core/formats/roles'
import type { ReadScore } from '#core/formats/musicxml/read'
import { arrangementEnd, tempoAt } from '#core/music/arrangement'
import { toDecimal, ZERO } from '#core/music/quarters'
import type { VoiceChoice } from '#core/music/voice'

/** Who plays the song's parts or tracks, decided again. `score`: as it is saved. */
const props = defineProps<{ score: ReadScore, isSaved: boolean, saving: boolean }>()
const emit = defineEmits<{ give: [roles: { voices?: VoiceChoice, swapHands?: boolean }] }>()

const voices = computed(() => voicesOf(props.score))
const arrangement = computed(() => props.score.arrangement)
</script>

<template>
  <div class="roles">
    <p class="soft">
      {{ isSaved ? 'A change here is saved at once as a new version; parts, corrections and passes are kept.' : 'Save the corrections first; then the voices can be given to somebody else.' }}
    </p>
    <fieldset :disabled="!isSaved || saving">
      <legend class="sr-only">
        Who plays what
      </legend>
      <VoicePanel
        :voices="voices"
        :end="toDecimal(arrangementEnd(arrangement))"
        :fifths="arrangement.bars[0]!.fifths"
        :quarter-bpm="tempoAt(arrangement, ZERO)"
        @give="(number, plays) => emit('give', { voices: { [number]: plays } })"
      />
      <UButton
        variant="outline"
        color="neutral"
        icon="i-lucide-arrow-left-right"
        @click="emit('give', { swapHands: true })"
      >
        Hands the other way round
      </UButton>
    </fieldset>
  </div>
</template>

<style scoped>
.roles, fieldset { display: grid; gap: calc(1.5 * var(--step)); justify-items: start; }
fieldset :deep(.voices) { width: 100%; }
fieldset { width: 100%; }
</style>
