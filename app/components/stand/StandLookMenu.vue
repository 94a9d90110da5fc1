<script setup lang="ts">
import type { StandLook } from '#shared/utils/settings'
/** How the Stand looks: how large the notes are, and the staves that neither hand plays. */
interface Choice {
  legend: string
  options: [label: string, look: Partial<StandLook>][]
}

const props = defineProps<{
  look: StandLook
  hasOtherStaves: boolean
  showsKeys: boolean
  showsSong: boolean
  mayTurn: boolean
  isListening: boolean
}>()
const emit = defineEmits<{
  change: [look: Partial<StandLook>]
  keys: []
  fullscreen: []
  piano: []
  song: []
  tap: []
  listen: []
}>()

const NOTES: Choice = {
  legend: 'Notes',
  options: [
    ['Small', { size: 'small' }],
    ['Medium', { size: 'medium' }],
    ['Large', { size: 'large' }],
  ],
}
const STAVES: Choice = {
  legend: 'Staves nobody here plays',
  options: [
    ['As the others', { otherStaves: 'full' }],
    ['Small', { otherStaves: 'small' }],
    ['Only the words', { otherStaves: 'words' }],
  ],
}
const choices = computed(() => (props.hasOtherStaves ? [NOTES, STAVES] : [NOTES]))
const isNow = (look: Partial<StandLook>) =>
  Object.entries(look).every(([name, value]) => props.look[name as keyof StandLook] === value)
</script>

<template>
  <UPopover :content="{ align: 'end' }">
    <Tip text="How the Stand looks"
      ><UButton variant="ghost" color="neutral" icon="i-lucide-settings-2" aria-label="How the Stand looks"
    /></Tip>
    <template #content>
      <div class="look">
        <fieldset v-for="choice in choices" :key="choice.legend">
          <legend>{{ choice.legend }}</legend>
          <UButton
            v-for="[label, wished] in choice.options"
            :key="label"
            :variant="isNow(wished) ? 'soft' : 'ghost'"
            color="neutral"
            :aria-pressed="isNow(wished)"
            @click="emit('change', wished)"
          >
            {{ label }}
          </UButton>
        </fieldset>
        <UButton
          :variant="isListening ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-volume-2"
          @click="emit('listen')"
        >
          {{ isListening ? 'Stop listening' : 'Hear it' }}
        </UButton>
        <UButton
          :variant="showsKeys ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-keyboard-music"
          :aria-pressed="showsKeys"
          @click="emit('piano')"
        >
          Keys on the screen
        </UButton>
        <UButton
          :variant="showsSong ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-book-open"
          :aria-pressed="showsSong"
          :disabled="!mayTurn"
          @click="emit('song')"
        >
          The whole song on the page
        </UButton>
        <UButton variant="ghost" color="neutral" icon="i-lucide-hand" @click="emit('tap')"> Tap the tempo </UButton>
        <UButton variant="ghost" color="neutral" icon="i-lucide-maximize" @click="emit('fullscreen')">
          Full screen
        </UButton>
        <UButton variant="ghost" color="neutral" icon="i-lucide-keyboard" @click="emit('keys')">
          What the keys do
        </UButton>
        <UColorModeSwitch label="Dark" class="dark-mode" />
      </div>
    </template>
  </UPopover>
</template>

<style scoped>
.look {
  padding: calc(2 * var(--step));
  display: grid;
  gap: var(--step);
  justify-items: start;
}
fieldset {
  border: none;
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem;
}
legend {
  font-weight: 700;
}
.look :deep(button:not([role='switch'])) {
  min-height: 2.75rem;
}
.dark-mode {
  padding: 0.5rem 0.6rem;
}
</style>
