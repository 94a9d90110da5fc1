<script setup lang="ts">
import { choicesOf } from '~/utils/ui/choices'
import { usePhraseRecorder } from '~/composables/sound/usePhraseRecorder'
import type { Take } from '#core/ear/take'
import type { Hand } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'

/** Records a phrase from the keyboard, to the click or freely. */
export interface PlayedPhrase {
  take: Take
  hands: 'found' | Hand
  meter: Meter
  clickBpm?: number
}

const props = defineProps<{ meter: Meter; fixedMeter?: boolean; bpm: number }>()
const emit = defineEmits<{ played: [phrase: PlayedPhrase] }>()

const hands = ref<'found' | Hand>('right')
const click = ref(true)
const bpm = ref(props.bpm)
const meter = ref(`${props.meter.beats}/${props.meter.beatType}`)
const chosenMeter = computed((): Meter => {
  const [beats, beatType] = meter.value.split('/').map(Number)
  return { beats: beats!, beatType: beatType! }
})
const recorder = usePhraseRecorder(() => ({ bpm: bpm.value, beatsPerBar: chosenMeter.value.beats, click: click.value }))
const { phase, noteCount, beat } = recorder
const isIdle = computed(() => phase.value === 'idle')
const nothing = ref(false)

function toggle() {
  nothing.value = false
  if (isIdle.value) {
    void recorder.start()
    return
  }
  const take = recorder.stop()
  if (take.notes.length === 0) nothing.value = true
  else
    emit('played', {
      take,
      hands: hands.value,
      meter: chosenMeter.value,
      ...(click.value ? { clickBpm: bpm.value } : {}),
    })
}

const state = computed(() => {
  if (nothing.value) return 'No key was heard. Is the right keyboard chosen above?'
  if (phase.value === 'count-in') return `Count-in: ${beat.value + chosenMeter.value.beats + 1}`
  if (phase.value === 'recording') return `Recording: ${noteCount.value} ${noteCount.value === 1 ? 'note' : 'notes'}`
  return recorder.problem.value
})
</script>

<template>
  <div class="recorder fields">
    <div class="row">
      <KeyboardChooser />
      <ChoiceField
        v-model="hands"
        label="Hand"
        :choices="[
          { value: 'right', label: 'right' },
          { value: 'left', label: 'left' },
          { value: 'found', label: 'both (split automatically)' },
        ]"
      />
      <ChoiceField
        v-if="!fixedMeter"
        v-model="meter"
        label="Meter"
        :choices="choicesOf(['2/4', '3/4', '4/4', '6/8'])"
      />
      <USwitch v-model="click" label="With the click" />
      <TextField v-if="click" v-model.number="bpm" label="Beats a minute" type="number" min="30" max="240" />
    </div>
    <p class="soft">
      {{
        click
          ? 'Start after a one-bar count-in. Notes before the first beat become a pickup.'
          : 'Play freely; the beat is detected from your playing.'
      }}
    </p>
    <div class="row">
      <UButton
        size="lg"
        :icon="isIdle ? 'i-lucide-circle' : 'i-lucide-square'"
        :color="isIdle ? 'primary' : 'neutral'"
        :disabled="click && !(bpm >= 30 && bpm <= 240)"
        @click="toggle"
      >
        {{ isIdle ? 'Record' : 'Done' }}
      </UButton>
      <p role="status" class="figure">
        {{ state }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.recorder {
  display: grid;
  gap: calc(1.5 * var(--step));
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: calc(2 * var(--step));
}
</style>
