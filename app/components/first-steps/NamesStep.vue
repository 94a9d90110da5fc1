<script setup lang="ts">
import { useHeldKeys } from '~/composables/keyboards/useHeldKeys'
import { useStepSetting } from '~/composables/ui/useStepSetting'
import { choicesFrom } from '~/utils/ui/choices'
import { spellInKey } from '#core/music/pitch'
import { displayName, NOTE_NAME_SCALES } from '#core/words/note-names'

/** How notes are named, shown on the key that was played last. */
const emit = defineEmits<{ done: [] }>()
const { settings, problem, choose } = useStepSetting(() => emit('done'))
const { last } = useHeldKeys()
/** B flat and B are where the three ways differ. */
const shown = computed(() => last.value?.pitch ?? 71)
const items = computed(() =>
  choicesFrom(NOTE_NAME_SCALES).map(({ value, label }) => ({
    value,
    label,
    description: displayName(spellInKey(shown.value, 0), true, value),
  })),
)

watch(last, found => found && emit('done'))
</script>

<template>
  <div class="step">
    <URadioGroup
      legend="Note names"
      :items="items"
      :model-value="settings.noteNames"
      :ui="{ legend: 'sr-only', label: 'figure', description: 'font-bold text-(--ink)' }"
      @update:model-value="choose({ noteNames: $event })"
    />
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
