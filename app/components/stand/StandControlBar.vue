<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import type { PracticeMode } from '~/utils/stand/states'

/** What is changed most often while practising, in one row under the page. Tempos in quarter notes a minute. */
defineProps<{
  stopped: boolean
  hands: Hands
  mode: PracticeMode
  isListening: boolean
  bpm: number
  targetBpm: number
  meter: Meter
  metronome: boolean
  showsKeys: boolean
  showsSong: boolean
}>()
const emit = defineEmits<{
  start: []
  again: []
  hands: [Hands]
  mode: [PracticeMode]
  listen: []
  tempo: [bpm: number]
  step: [by: number]
  tap: []
  metronome: []
  keys: []
  song: []
}>()
const MODES = [
  { value: 'own-time', label: 'Own time', icon: 'i-lucide-circle-dot' },
  { value: 'steady', label: 'Click', icon: 'i-lucide-timer' },
  { value: 'free', label: 'Free', icon: 'i-lucide-audio-lines' },
] as const
</script>

<template>
  <footer>
    <Tip text="Start and stop (Space)">
      <UButton :icon="stopped ? 'i-lucide-play' : 'i-lucide-square'" class="start" @click="emit('start')">
        {{ stopped ? 'Start' : 'Stop' }}
      </UButton>
    </Tip>
    <PictureButton variant="outline" icon="i-lucide-rotate-ccw" label="Again" key-name="Enter" @click="emit('again')" />
    <PictureButton
      class="seldom"
      variant="outline"
      :icon="isListening ? 'i-lucide-square' : 'i-lucide-volume-2'"
      :label="isListening ? 'Stop listening' : 'Hear it'"
      key-name="Home"
      @click="emit('listen')"
    />
    <Tip text="Hands (← →)">
      <HandsChoice :model-value="hands" @update:model-value="emit('hands', $event)" />
    </Tip>
    <Tip text="Own time, click or free (F7)">
      <SegmentedChoice label="Time" :choices="MODES" :model-value="mode" @update:model-value="emit('mode', $event)" />
    </Tip>
    <TempoField
      :bpm="bpm"
      :target-bpm="targetBpm"
      :meter="meter"
      @set="emit('tempo', $event)"
      @step="emit('step', $event)"
      @tap="emit('tap')"
    />
    <PictureButton
      icon="i-lucide-metronome"
      label="Metronome"
      key-name="F2"
      :is-on="metronome"
      :disabled="mode !== 'steady'"
      @click="emit('metronome')"
    />
    <PictureButton
      class="seldom"
      icon="i-lucide-keyboard-music"
      label="Keys on the screen"
      key-name="F4"
      :is-on="showsKeys"
      @click="emit('keys')"
    />
    <PictureButton
      class="seldom"
      icon="i-lucide-book-open"
      label="The whole song on the page"
      key-name="F10"
      :is-on="showsSong"
      :disabled="!stopped"
      @click="emit('song')"
    />
  </footer>
</template>

<style scoped>
footer {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: center;
  gap: 0.35rem calc(1.5 * var(--step));
  padding: 0.35rem calc(2 * var(--step));
  background: var(--sheet);
  border-top: 1px solid var(--rule);
}
.start {
  min-width: 7rem;
  font-size: 1.05rem;
}
@media (max-width: 54rem), (max-height: 32rem) {
  footer > .seldom {
    display: none;
  }
}
@media (max-width: 46rem), (max-height: 32rem) {
  footer {
    gap: 0.3rem;
    padding: 0.15rem 0.3rem;
  }
  .start {
    min-width: 5rem;
  }
}
</style>
