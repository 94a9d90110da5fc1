<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'

/** Which hands practise: "Together" stands a step higher, as on the stairs. */
const hands = defineModel<Hands>({ required: true })
const CHOICES = [
  { value: 'left', label: 'Left', short: 'L', class: 'left-hand' },
  { value: 'both', label: 'Together', short: 'L+R', class: 'together' },
  { value: 'right', label: 'Right', short: 'R', class: 'right-hand' },
] as const
</script>

<template>
  <SegmentedChoice v-model="hands" class="hands" label="Hands" :choices="CHOICES" />
</template>

<style scoped>
.hands :deep(fieldset) {
  align-items: end;
}
.hands :deep(.segment) {
  --segment-line: 3px;
  border-top: var(--segment-line) solid var(--segment);
}
.hands :deep(.left-hand) {
  --segment: var(--left-hand);
}
.hands :deep(.right-hand) {
  --segment: var(--right-hand);
}
.hands :deep(.together) {
  --segment: var(--together);
  padding-bottom: 0.4rem;
}
</style>
