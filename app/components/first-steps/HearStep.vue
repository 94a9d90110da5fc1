<script setup lang="ts">
import { useHeldKeys } from '~/composables/keyboards/useHeldKeys'
import { useStepSetting } from '~/composables/ui/useStepSetting'
/** Whether the keyboard sounds by itself, or the program's piano sounds for it. */
const emit = defineEmits<{ done: [] }>()
const { settings, problem, choose } = useStepSetting(() => emit('done'))
const { last } = useHeldKeys()
const CHOICES = [
  { value: 'sounds', label: 'My piano sounds by itself.' },
  { value: 'silent', label: 'My keyboard is silent: let the program’s piano sound.' },
]

watch(last, found => found && emit('done'))
</script>

<template>
  <div class="step">
    <URadioGroup
      legend="I hear nothing, or every key twice"
      :items="CHOICES"
      :model-value="settings.sound.midiIsSilent ? 'silent' : 'sounds'"
      @update:model-value="choose({ sound: { keysSound: true, midiIsSilent: $event === 'silent' } })"
    />
    <p class="soft">With headphones: a moderate level protects your ears, and you hear more of your own touch.</p>
    <p v-if="last" role="status" class="found"><UIcon name="i-lucide-check" /> The key was heard.</p>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
