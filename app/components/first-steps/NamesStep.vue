<script setup lang="ts">
import { useHeldKeys } from '~/composables/keyboards/useHeldKeys'
import { useStepSetting } from '~/composables/ui/useStepSetting'
import { spellInKey } from '#core/music/pitch'
import { displayName, type NoteNames } from '#core/words/note-names'

/** How notes are named, shown on the key that was played last. */
const emit = defineEmits<{ done: [] }>()
const { settings, problem, choose } = useStepSetting(() => emit('done'))
const { last } = useHeldKeys()
/** B flat and B are where the three ways differ. */
const shown = computed(() => last.value?.pitch ?? 71)
const CHOICES: readonly (readonly [NoteNames, string])[] = [
  ['letters', 'C D E F G A B'],
  ['solfege', 'Do Re Mi Fa Sol La Si'],
  ['german', 'C D E F G A H'],
]

watch(last, found => found && emit('done'))
</script>

<template>
  <div class="step">
    <fieldset>
      <legend class="sr-only">Note names</legend>
      <label v-for="[value, label] in CHOICES" :key="value"
        ><input
          type="radio"
          name="names"
          :checked="settings.noteNames === value"
          @change="choose({ noteNames: value })"
        />
        <span class="figure">{{ label }}</span> <b>{{ displayName(spellInKey(shown, 0), true, value) }}</b></label
      >
    </fieldset>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
