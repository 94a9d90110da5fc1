<script setup lang="ts">
import { useHeldKeys } from '~/composables/keyboards/useHeldKeys'
import { useStepSetting } from '~/composables/ui/useStepSetting'
import { sentence } from '~/utils/ui/sentence'
/** Whether the keyboard sounds by itself, or the program's piano sounds for it. */
const emit = defineEmits<{ done: [] }>()
const { settings, problem, choose } = useStepSetting(() => emit('done'))
const { last } = useHeldKeys()
const CHOICES = [
  ['my piano sounds by itself', false],
  ["my keyboard is silent: let the program's piano sound", true],
] as const

watch(last, found => found && emit('done'))
</script>

<template>
  <div class="step">
    <fieldset>
      <legend>I hear nothing, or every key twice</legend>
      <label v-for="[label, value] in CHOICES" :key="label"
        ><input
          type="radio"
          name="sounds"
          :checked="settings.sound.midiIsSilent === value"
          @change="choose({ sound: { keysSound: true, midiIsSilent: value } })"
        />
        {{ sentence(label) }}</label
      >
      <p class="soft">With headphones: a moderate level protects your ears, and you hear more of your own touch.</p>
    </fieldset>
    <p v-if="last" role="status" class="found"><UIcon name="i-lucide-check" /> The key was heard.</p>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
