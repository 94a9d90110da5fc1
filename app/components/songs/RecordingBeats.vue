<script setup lang="ts">
import { useListening } from '~/composables/sound/useListening'
import { useKeyboardsStore } from '~/stores/keyboards'
import { keyEvent } from '#core/ear/take'
import { MAX_TAPS, type Beats, type MidiChoices, type PlayedRecording } from '#core/formats/midi/read-arrangement'
import { tempoAt, type Arrangement, EACH_HAND } from '#core/music/arrangement'
import { wholePassage } from '#core/music/passage'
import { PLAIN_CLICK } from '#core/music/click'
import { ZERO } from '#core/music/quarters'
import { renderPassage } from '#core/sound/of-score'
import { renderTake } from '#core/sound/of-take'

/** The beats that a recording is written on: each reading can be heard, and the player can tap their own. */
const props = defineProps<{ played: PlayedRecording; arrangement: Arrangement; choices: MidiChoices }>()
const emit = defineEmits<{ change: [choices: Partial<MidiChoices>] }>()

const READINGS: { value: Beats; label: string; description: string }[] = [
  { value: 'file', label: 'from the file', description: 'played to a click' },
  { value: 'heard', label: 'detected from your playing', description: 'played freely' },
  { value: 'taps', label: 'tapped by me', description: 'while it plays' },
]
const TAPS = [
  { value: 1, label: 'a quarter note' },
  { value: 0.5, label: 'an eighth note' },
  { value: 1.5, label: 'a dotted quarter note' },
  { value: 2, label: 'a half note' },
]
const tapQuarters = ref(props.choices.tapQuarters ?? 1)
const keyboards = useKeyboardsStore()
const listening = useListening()
const heard = ref<'played' | 'written' | 'tapping'>()
const taps = shallowRef<readonly number[]>([])
let startMs = 0
let stopHearing: (() => void) | undefined
const isOn = (what: typeof heard.value) => listening.playing.value && heard.value === what

function choose(beats: Beats) {
  if (beats === 'taps' && (props.choices.tapsMs?.length ?? 0) < 2) void tapAlong()
  else emit('change', { beats, barLinesMs: undefined, pickupQuarters: undefined })
}

const asPlayed = () =>
  renderTake({ notes: [...props.played.notes], pedals: [] }, { bpm: tempoAt(props.arrangement, ZERO) })

function hearPlayed() {
  if (isOn('played')) return listening.stop()
  heard.value = 'played'
  void listening.play(asPlayed())
}

function hearWritten() {
  if (isOn('written')) return listening.stop()
  heard.value = 'written'
  const { arrangement } = props
  const bpm = tempoAt(arrangement, ZERO)
  const passage = wholePassage(arrangement, 'both')
  void listening.play(renderPassage(arrangement, passage, { hands: EACH_HAND, click: PLAIN_CLICK }, bpm))
}

async function tapAlong() {
  heard.value = 'tapping'
  taps.value = []
  stopHearing?.()
  stopHearing = keyboards.hear(message => {
    if (keyEvent(message)?.kind === 'down') tap(message.atMs)
  })
  await listening.play(asPlayed(), {
    onBegin: begin => {
      startMs = begin
    },
  })
}

function tap(atMs = performance.now()) {
  const ms = Math.round(atMs - startMs)
  if (isOn('tapping') && ms >= 0 && taps.value.length < MAX_TAPS) taps.value = [...taps.value, ms]
}

function onKey(event: KeyboardEvent) {
  if (!isOn('tapping') || event.code !== 'Space') return
  // Also when a button has the focus: here the space bar only taps.
  event.preventDefault()
  if (!event.repeat) tap()
}

/** The playing has ended, or was stopped: what was tapped is taken. */
watch(listening.playing, on => {
  if (on || heard.value !== 'tapping') return
  stopHearing?.()
  heard.value = undefined
  if (taps.value.length >= 2)
    emit('change', {
      beats: 'taps',
      tapsMs: [...taps.value],
      tapQuarters: tapQuarters.value,
      meter: undefined,
      barLinesMs: undefined,
      pickupQuarters: undefined,
    })
})
watch(
  () => props.arrangement,
  () => {
    if (heard.value === 'written') listening.stop()
  },
)
onMounted(() => {
  window.addEventListener('keydown', onKey, true)
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', onKey, true)
  stopHearing?.()
})
</script>

<template>
  <section class="beats" aria-labelledby="recording">
    <h3 id="recording">A recording: which beats is it written on?</h3>
    <URadioGroup
      legend="Which beats"
      variant="card"
      orientation="horizontal"
      :items="READINGS"
      :model-value="played.beats"
      :ui="{ legend: 'sr-only', fieldset: 'flex-wrap gap-2', item: 'bg-(--sheet)', label: 'font-bold' }"
      @update:model-value="choose"
    />
    <div class="row">
      <UButton variant="outline" :icon="isOn('written') ? 'i-lucide-square' : 'i-lucide-volume-2'" @click="hearWritten">
        {{ isOn('written') ? 'Stop' : 'Hear it as written' }}
      </UButton>
      <UButton
        variant="outline"
        color="neutral"
        :icon="isOn('played') ? 'i-lucide-square' : 'i-lucide-volume-2'"
        @click="hearPlayed"
      >
        {{ isOn('played') ? 'Stop' : 'Hear it as played' }}
      </UButton>
      <UButton
        :variant="isOn('tapping') ? 'solid' : 'outline'"
        color="neutral"
        :icon="isOn('tapping') ? 'i-lucide-check' : 'i-lucide-hand'"
        @click="isOn('tapping') ? listening.stop() : tapAlong()"
      >
        {{ isOn('tapping') ? 'Use these beats' : 'Tap along' }}
      </UButton>
      <ChoiceField v-model="tapQuarters" label="A tap is" :choices="TAPS" />
    </div>
    <p role="status" class="soft">
      <template v-if="isOn('tapping')">
        Tap each beat with the space bar, a piano key, or
        <button type="button" class="pad" @pointerdown="tap()">here</button>: {{ taps.length }} so far.
      </template>
      <template v-else-if="listening.problem.value">
        {{ listening.problem.value }}
      </template>
      <template v-else>
        Is a bar line in the wrong place? Drag it to the note where the bar begins, or press Tab to reach it and use the
        arrow keys; the rest follows.
      </template>
    </p>
  </section>
</template>

<style scoped>
.beats {
  display: grid;
  gap: calc(1.5 * var(--step));
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(2 * var(--step));
  margin-bottom: calc(3 * var(--step));
}
h3 {
  font-weight: 700;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: calc(1.5 * var(--step));
  align-items: center;
}

.pad {
  display: inline-block;
  min-width: 6rem;
  min-height: 2.75rem;
  border: 2px solid var(--together);
  border-radius: 0.375rem;
  background: var(--sheet);
  touch-action: none;
}
</style>
