<script setup lang="ts">
import { useStand } from '~/composables/stand/standContext'

/** What is changed most often while practising, in one row under the page. */
const { practice, stopped, meter, showsKeys, showsSong, toggleKeys, tap, stepTempo } = useStand()
const { state, hands, mode, bpm, targetBpm, metronome, toggle, again, listen, setHands, changeMode, setTempo } =
  practice
const isListening = computed(() => state.value.at === 'listening')
const MODES = [
  { value: 'own-time', label: 'Own time', icon: 'i-lucide-circle-dot' },
  { value: 'steady', label: 'Click', icon: 'i-lucide-timer' },
  { value: 'free', label: 'Free', icon: 'i-lucide-audio-lines' },
] as const
</script>

<template>
  <footer>
    <Tip text="Start and stop (Space)">
      <UButton :icon="stopped ? 'i-lucide-play' : 'i-lucide-square'" class="start" @click="toggle">
        {{ stopped ? 'Start' : 'Stop' }}
      </UButton>
    </Tip>
    <PictureButton variant="outline" icon="i-lucide-rotate-ccw" label="Again" key-name="Enter" @click="again" />
    <PictureButton
      class="seldom"
      variant="outline"
      :icon="isListening ? 'i-lucide-square' : 'i-lucide-volume-2'"
      :label="isListening ? 'Stop listening' : 'Hear it'"
      key-name="Home"
      @click="listen"
    />
    <Tip text="Hands (← →)">
      <HandsChoice :model-value="hands" @update:model-value="setHands" />
    </Tip>
    <Tip text="Own time, click or free (F7)">
      <SegmentedChoice label="Time" :choices="MODES" :model-value="mode" @update:model-value="changeMode" />
    </Tip>
    <TempoField :bpm="bpm" :target-bpm="targetBpm" :meter="meter" @set="setTempo" @step="stepTempo" @tap="tap" />
    <PictureButton
      icon="i-lucide-metronome"
      label="Metronome"
      key-name="F2"
      :is-on="metronome"
      :disabled="mode !== 'steady'"
      @click="metronome = !metronome"
    />
    <PictureButton
      class="seldom"
      icon="i-lucide-keyboard-music"
      label="Keys on the screen"
      key-name="F4"
      :is-on="showsKeys"
      @click="toggleKeys"
    />
    <PictureButton
      class="seldom"
      icon="i-lucide-book-open"
      label="The whole song on the page"
      key-name="F10"
      :is-on="showsSong"
      :disabled="!stopped"
      @click="showsSong = !showsSong"
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
