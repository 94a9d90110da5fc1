<script setup lang="ts">
import { HANDS_CHOICES, type Choice } from '~/utils/ui/choices'
import type { Hands } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import { tempoText } from '#core/words/amounts'

/** To hear the part or the song before touching a key: which hands, how fast. */
const props = defineProps<{ playing: boolean; problem: string; targetBpm: number; meter: Meter }>()
const emit = defineEmits<{ toggle: [] }>()
const hands = defineModel<Hands>('hands', { required: true })
const percent = defineModel<number>('percent', { required: true })
const whole = defineModel<boolean>('whole', { required: true })
const WHAT: Choice<boolean>[] = [
  { value: false, label: 'this part' },
  { value: true, label: 'the whole song' },
]
const tempo = computed(() => tempoText((props.targetBpm * percent.value) / 100, props.meter))
</script>

<template>
  <div class="listen fields" role="group" aria-label="Listen">
    <UButton :icon="playing ? 'i-lucide-square' : 'i-lucide-volume-2'" variant="outline" @click="emit('toggle')">
      {{ playing ? 'Stop' : 'Listen' }} <kbd>Space</kbd>
    </UButton>
    <ChoiceField v-model="whole" label="What is heard" :choices="WHAT" />
    <ChoiceField v-model="hands" label="Played by" :choices="HANDS_CHOICES" />
    <UFormField class="tempo" :label="`Tempo: ${tempo}, ${percent} %`">
      <LevelSlider v-model="percent" label="Tempo in percent" :min="30" :max="120" :step="5" />
    </UFormField>
    <span v-if="problem" role="alert" class="problem">{{ problem }}</span>
  </div>
</template>

<style scoped>
.listen {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: calc(2 * var(--step));
  margin-bottom: calc(1.5 * var(--step));
}
.tempo {
  min-width: 14rem;
}
kbd {
  font-size: 0.8em;
}
</style>
