<script setup lang="ts">
import type { HandPattern } from '#core/patterns/hand-pattern'
import type { Choice } from '~/utils/ui/choices'
import type { OfferedPattern } from '~/composables/songs/usePatterns'

/** A pattern out of those that are offered, with what it does and how hard it is. */
const props = defineProps<{
  offered: readonly OfferedPattern[]
  label: string
  layout?: 'above' | 'row'
  /** What stands for no pattern at all, where there may be none. */
  none?: string
}>()
const chosen = defineModel<HandPattern | undefined>({ required: true })
const key = computed(() => props.offered.find(one => one.pattern.name === chosen.value?.name)?.key ?? '')
const now = computed(() => props.offered.find(one => one.key === key.value))
const choices = computed((): Choice<string>[] => [
  ...(props.none || !now.value ? [{ value: '', label: props.none ?? 'choose' }] : []),
  ...props.offered.map(({ key, title, level }) => ({
    value: key,
    label: level === undefined ? title : `${title} · ${level.toFixed(1)}`,
  })),
])
function choose(key: string) {
  chosen.value = props.offered.find(one => one.key === key)?.pattern
}
</script>

<template>
  <div class="choice">
    <ChoiceField :label="label" :layout="layout" :model-value="key" :choices="choices" @update:model-value="choose" />
    <p class="about">
      {{ now?.about }}
    </p>
  </div>
</template>

<style scoped>
.choice {
  display: grid;
  gap: 0.25rem;
}
.about {
  color: var(--ink-soft);
  min-height: 1.5em;
}
</style>
