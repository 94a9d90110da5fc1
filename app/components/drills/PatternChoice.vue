<script setup lang="ts">
import type { HandPattern } from '#core/patterns/hand-pattern'
import type { OfferedPattern } from '~/composables/songs/usePatterns'

/** A pattern out of those that are offered, with what it does and how hard it is. */
const props = defineProps<{
  offered: readonly OfferedPattern[]
  label: string
  /** What stands for no pattern at all, where there may be none. */
  none?: string
}>()
const chosen = defineModel<HandPattern | undefined>({ required: true })
const key = computed(() => props.offered.find(one => one.pattern.name === chosen.value?.name)?.key ?? '')
const now = computed(() => props.offered.find(one => one.key === key.value))
function choose(event: Event) {
  const value = (event.target as HTMLSelectElement).value
  chosen.value = props.offered.find(one => one.key === value)?.pattern
}
</script>

<template>
  <div class="choice">
    <label
      >{{ label }}
      <select :value="key" @change="choose">
        <option v-if="none || !now" value="">{{ none ?? 'choose' }}</option>
        <option v-for="one in offered" :key="one.key" :value="one.key">
          {{ one.title }}{{ one.level === undefined ? '' : ` · ${one.level.toFixed(1)}` }}
        </option>
      </select></label
    >
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
