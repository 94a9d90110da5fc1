<script setup lang="ts">
import { tempoBeatQuarters, type Meter } from '#core/music/meter'
import { dottedBeats, tempoFigure } from '#core/words/amounts'

/** The tempo, in the beats of the meter: typed, stepped, tapped. `bpm` and `targetBpm` are quarter notes a minute. */
const props = defineProps<{ bpm: number; targetBpm: number; meter: Meter }>()
const emit = defineEmits<{ set: [bpm: number]; step: [beats: number]; tap: [] }>()
const figure = computed(() => tempoFigure(props.bpm, props.meter))

function commit(event: Event) {
  const field = event.target as HTMLInputElement
  const beats = Number(field.value.replace(',', '.'))
  if (Number.isFinite(beats) && beats > 0) emit('set', beats * tempoBeatQuarters(props.meter))
  // What it became, where what was typed is out of bounds or no number.
  void nextTick(() => {
    field.value = figure.value
  })
}

function leave(event: KeyboardEvent) {
  const field = event.target as HTMLInputElement
  if (event.key === 'Escape') field.value = figure.value
  event.stopPropagation()
  field.blur()
}
</script>

<template>
  <div class="tempo" role="group" aria-label="Tempo">
    <UButton
      variant="outline"
      icon="i-lucide-minus"
      aria-label="Slower"
      title="Slower (↓; by one: −)"
      @click="$emit('step', -1)"
    />
    <label class="figure"
      ><input
        inputmode="decimal"
        :value="figure"
        :aria-label="`Tempo, ${dottedBeats(meter) ?? 'beats'} a minute`"
        title="Type a tempo"
        @focus="($event.target as HTMLInputElement).select()"
        @change="commit"
        @keydown.enter="leave"
        @keydown.esc="leave"
      /><span
        >of {{ tempoFigure(targetBpm, meter) }}{{ dottedBeats(meter) ? ` ${dottedBeats(meter)}` : ' bpm' }}</span
      ></label
    >
    <UButton
      variant="outline"
      icon="i-lucide-plus"
      aria-label="Faster"
      title="Faster (↑; by one: +)"
      @click="$emit('step', 1)"
    />
    <UButton
      variant="ghost"
      class="seldom"
      icon="i-lucide-hand"
      aria-label="Tap the tempo"
      title="Tap the tempo (F3)"
      @click="$emit('tap')"
    />
  </div>
</template>

<style scoped>
.tempo {
  display: flex;
  align-items: center;
  gap: 0.35rem;
}
label {
  display: grid;
  justify-items: center;
  line-height: 1.1;
  color: var(--ink-soft);
  font-size: 0.8em;
  white-space: nowrap;
}
input {
  width: 3.4rem;
  min-height: 1.9rem;
  text-align: center;
  font-size: 1.6rem;
  font-weight: 700;
  color: var(--ink);
  background: transparent;
  border-bottom: 2px solid var(--rule);
}
@media (max-width: 46rem), (max-height: 32rem) {
  .seldom {
    display: none;
  }
  span {
    max-width: 4.6rem;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  input {
    font-size: 1.3rem;
  }
}
</style>
