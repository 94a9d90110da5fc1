<script setup lang="ts">
import type { StandPart } from '../../composables/stand/practised'
import type { Hands } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'

/** Makes a drill from what is looped, behind one button. */
defineProps<{ part: StandPart; stretch: ScoreSpan; hands: Hands; targetBpm: number; mayOpen: boolean }>()
const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <UPopover v-model:open="open" :content="{ align: 'end' }">
    <Tip text="A drill from these bars (Shift F8)"
      ><UButton
        class="seldom"
        variant="ghost"
        color="neutral"
        icon="i-lucide-repeat-2"
        aria-label="A drill from these bars"
        :disabled="!mayOpen"
    /></Tip>
    <template #content>
      <LazyDrillChoices :part="part" :stretch="stretch" :hands="hands" :target-bpm="targetBpm" />
    </template>
  </UPopover>
</template>

<style scoped>
/* Where there is no room its key is left. */
@media (max-width: 54rem), (max-height: 32rem) {
  .seldom {
    display: none;
  }
}
</style>
