<script setup lang="ts">
import { REPLAYS, type Replay } from '#core/sound/of-take'
import { REPLAY_NAMES } from '#core/words/sound'

/** The last pass, to be heard again; only loaded once there is one. */
const emit = defineEmits<{ hear: [replay: Replay] }>()
const replays = REPLAYS.map(replay => ({ label: REPLAY_NAMES[replay], onSelect: () => emit('hear', replay) }))
</script>

<template>
  <UDropdownMenu :items="replays">
    <Tip text="Hear yourself (End)"
      ><UButton variant="outline" color="neutral" icon="i-lucide-ear" aria-label="Hear yourself">
        <span class="word">Hear yourself</span>
      </UButton></Tip
    >
  </UDropdownMenu>
</template>

<style scoped>
.word {
  white-space: normal;
  text-align: left;
  line-height: 1.15;
}
@media (max-width: 46rem), (max-height: 32rem) {
  .word {
    display: none;
  }
}
</style>
