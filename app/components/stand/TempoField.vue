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
    <Tip text="Slower (↓; by one: −)">
      <UButton variant="outline" icon="i-lucide-minus" aria-label="Slower" @click="$emit('step', -1)" />
    </Tip>
    <span class="figure typed">
      <Tip text="Type a tempo">
        <UInput
          :aria-label="`Tempo, ${dottedBeats(meter) ?? 'beats'} a minute`"
          variant="none"
          inputmode="decimal"
          :model-value="figure"
          @focus="($event.target as HTMLInputElement).select()"
          @change="commit"
          @keydown.enter="leave"
          @keydown.esc="leave"
        />
      </Tip>
      <span class="target"
        >of {{ tempoFigure(targetBpm, meter) }}{{ dottedBeats(meter) ? ` ${dottedBeats(meter)}` : ' bpm' }}</span
      >
    </span>
    <Tip text="Faster (↑; by one: +)">
      <UButton variant="outline" icon="i-lucide-plus" aria-label="Faster" @click="$emit('step', 1)" />
    </Tip>
    <Tip text="Tap the tempo (F3)">
      <UButton variant="ghost" class="seldom" icon="i-lucide-hand" aria-label="Tap the tempo" @click="$emit('tap')" />
    </Tip>
  </div>
</template>

<style scoped>
.tempo {
  display: flex;
  align-items: center;
  gap: 0.35rem;
}
.typed {
  display: grid;
  justify-items: center;
  line-height: 1.1;
  color: var(--ink-soft);
  font-size: 0.8em;
  white-space: nowrap;
}
.typed :deep(input) {
  width: 3.4rem;
  min-height: 1.9rem;
  padding: 0;
  border-radius: 0;
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
  .target {
    max-width: 4.6rem;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .typed :deep(input) {
    font-size: 1.3rem;
  }
}
</style>
