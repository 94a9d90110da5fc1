<script setup lang="ts">
import { useStand } from '~/composables/stand/standContext'
import { useSettingsStore } from '~/stores/settings'
import type { StandLook } from '#shared/utils/settings'
/** How the Stand looks: how large the notes are, and the staves that neither hand plays. */
interface Choice {
  legend: string
  options: [label: string, look: Partial<StandLook>][]
}

const { part, practice, stopped, showsKeys, showsSong, isHelpOpen, toggleKeys, toggleFullscreen, tap } = useStand()
const { state, listen } = practice
const settings = useSettingsStore()
const isListening = computed(() => state.value.at === 'listening')

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
const choices = computed(() => (part.roleParts.length > 0 ? [NOTES, STAVES] : [NOTES]))
const isNow = (look: Partial<StandLook>) =>
  Object.entries(look).every(([name, value]) => settings.stand[name as keyof StandLook] === value)
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
            @click="settings.change({ stand: wished })"
          >
            {{ label }}
          </UButton>
        </fieldset>
        <UButton :variant="isListening ? 'soft' : 'ghost'" color="neutral" icon="i-lucide-volume-2" @click="listen">
          {{ isListening ? 'Stop listening' : 'Hear it' }}
        </UButton>
        <UButton
          :variant="showsKeys ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-keyboard-music"
          :aria-pressed="showsKeys"
          @click="toggleKeys"
        >
          Keys on the screen
        </UButton>
        <UButton
          :variant="showsSong ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-book-open"
          :aria-pressed="showsSong"
          :disabled="!stopped"
          @click="showsSong = !showsSong"
        >
          The whole song on the page
        </UButton>
        <UButton variant="ghost" color="neutral" icon="i-lucide-hand" @click="tap"> Tap the tempo </UButton>
        <UButton variant="ghost" color="neutral" icon="i-lucide-maximize" @click="toggleFullscreen">
          Full screen
        </UButton>
        <UButton variant="ghost" color="neutral" icon="i-lucide-keyboard" @click="isHelpOpen = true">
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
