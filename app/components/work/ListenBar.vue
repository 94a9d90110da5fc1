<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import { tempoText } from '#core/words/amounts'

/** To hear the part or the song before touching a key: which hands, how fast. */
const props = defineProps<{ playing: boolean; problem: string; targetBpm: number; meter: Meter }>()
const emit = defineEmits<{ toggle: [] }>()
const hands = defineModel<Hands>('hands', { required: true })
const percent = defineModel<number>('percent', { required: true })
const whole = defineModel<boolean>('whole', { required: true })
const tempo = computed(() => tempoText((props.targetBpm * percent.value) / 100, props.meter))
</script>

<template>
  <div class="listen fields" role="group" aria-label="Listen">
    <UButton :icon="playing ? 'i-lucide-square' : 'i-lucide-volume-2'" variant="outline" @click="emit('toggle')">
      {{ playing ? 'Stop' : 'Listen' }} <kbd>Space</kbd>
    </UButton>
    <label
      >to
      <select v-model="whole">
        <option :value="false">this part</option>
        <option :value="true">the whole song</option>
      </select></label
    >
    <label
      >played by
      <select v-model="hands">
        <option value="both">both hands</option>
        <option value="right">the right hand</option>
        <option value="left">the left hand</option>
      </select></label
    >
    <label class="tempo"
      >at
      <input v-model.number="percent" type="range" min="30" max="120" step="5" aria-label="Tempo in percent" /><output
        class="figure"
        >{{ tempo }}, {{ percent }} %</output
      ></label
    >
    <span v-if="problem" role="alert" class="problem">{{ problem }}</span>
  </div>
</template>

<style scoped>
.listen {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: calc(2 * var(--step));
  margin-bottom: calc(1.5 * var(--step));
}
.tempo {
  display: inline-flex;
  align-items: center;
  gap: var(--step);
}
.tempo input {
  padding: 0;
  accent-color: var(--together);
}
kbd {
  font-size: 0.8em;
}
</style>
