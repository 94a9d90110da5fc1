<script setup lang="ts">
import { useHeldKeys } from '~/composables/keyboards/useHeldKeys'
import { useKeyboardsStore } from '~/stores/keyboards'
/** Choose the keyboard by pressing one of its keys, or choose a stand-in, labelled as such. */
const emit = defineEmits<{ done: [] }>()
const keyboards = useKeyboardsStore()
const { last } = useHeldKeys()
const WORDS = {
  unsupported:
    'This browser cannot hear MIDI keyboards. Chrome, Edge and other browsers made from Chromium can, on computers and Android; Firefox can on computers; Safari, and every browser on iPad and iPhone, cannot.',
  asking: 'The browser asks whether this page may use your MIDI keyboard: please allow it.',
  refused:
    'The browser has blocked MIDI for this page. Allow it in the site settings (at the left of the address), then reload the page.',
  ready: 'No MIDI keyboard is there yet. Connect the piano by USB, switch it on, and it is found by itself.',
}
watch(last, found => found && emit('done'))
</script>

<template>
  <div class="step">
    <p v-if="last" role="status" class="found"><UIcon name="i-lucide-check" /> {{ last.keyboard }} is heard.</p>
    <p v-else-if="keyboards.midiInputs.length > 0" role="status">
      Found: {{ keyboards.midiInputs.map(one => one.name).join(', ') }}. Press any key on it.
    </p>
    <p v-else role="status">
      {{ WORDS[keyboards.access] }}
    </p>
    <fieldset>
      <legend>No piano at hand?</legend>
      <p class="soft">
        Stand-ins, good enough to look around: you can try everything, but touch and timing mean little on them.
      </p>
      <USwitch
        :model-value="keyboards.chosen.has('computer-keys')"
        label="The computer's keyboard"
        description="Z to M and Q to P are two octaves from C3"
        @update:model-value="keyboards.choose('computer-keys', $event)"
      />
      <USwitch
        :model-value="keyboards.chosen.has('on-screen')"
        label="Keys on the screen"
        description="Pressed with pointer or finger"
        @update:model-value="keyboards.choose('on-screen', $event)"
      />
    </fieldset>
  </div>
</template>
