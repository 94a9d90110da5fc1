<script setup lang="ts">
import { useKeyboardsStore } from '~/stores/keyboards'
const keyboards = useKeyboardsStore()

const state = computed(() => {
  if (keyboards.lost) return { text: `${keyboards.lost} was unplugged`, alert: true }
  const names = keyboards.listening.map(source => source.name)
  if (names.length > 0) return { text: names.join(', '), alert: false }
  return { text: 'No keyboard yet', alert: true }
})

const WORDS = {
  unsupported: 'This browser does not support MIDI. Chrome, Edge and Firefox do; or choose a keyboard below.',
  asking: 'Asking the browser for MIDI access …',
  refused: 'MIDI access is blocked for this page. Allow it in the site settings, then reload.',
  ready: 'No MIDI keyboard found. Plug one in; it is detected automatically.',
}
const HELP: Record<string, string> = {
  'computer-keys': 'Z to M and Q to P as two octaves from C3',
  'on-screen': 'Pressed with pointer or finger',
  simulated: 'Plays the part as a learner would',
}
</script>

<template>
  <UPopover :content="{ align: 'end' }">
    <Tip :text="state.text"
      ><UButton
        variant="outline"
        color="neutral"
        icon="i-lucide-piano"
        :class="{ alert: state.alert }"
        :aria-label="state.text"
      >
        <span class="text">{{ state.text }}</span>
      </UButton></Tip
    >
    <template #content>
      <div class="sources">
        <h2>Keyboards</h2>
        <p v-if="keyboards.midiInputs.length === 0">
          {{ WORDS[keyboards.access] }}
        </p>
        <USwitch
          v-for="source in keyboards.midiInputs"
          :key="source.id"
          :model-value="!keyboards.silenced.has(source.id)"
          :label="source.name"
          @update:model-value="keyboards.silence(source.id, !$event)"
        />
        <USwitch
          v-for="source in keyboards.extras"
          :key="source.id"
          :model-value="keyboards.chosen.has(source.id)"
          :label="source.name"
          :description="HELP[source.id]"
          @update:model-value="keyboards.choose(source.id, $event)"
        />
      </div>
    </template>
  </UPopover>
</template>

<style scoped>
.sources {
  padding: calc(2 * var(--step));
  display: grid;
  gap: calc(1.5 * var(--step));
  max-width: 22rem;
}
.text {
  max-width: 14rem;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sources h2 {
  font-weight: 700;
}
.sources p {
  color: var(--ink-soft);
}
.alert {
  color: var(--heard-missed);
}
</style>
