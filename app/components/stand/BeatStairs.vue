<script setup lang="ts">
import { barAt, type Arrangement } from '#core/music/arrangement'
import type { Click } from '#core/music/loop'
import { pulses } from '#core/music/meter'
import type { Stretch } from '#core/music/passage'

const props = defineProps<{ beat?: Click, arrangement: Arrangement, stretch: Stretch, phase: string }>()
/** As many treads as the bar has pulses. */
const count = computed(() => pulses(barAt(props.arrangement, props.stretch.from).meter).length)
</script>

<template>
  <div
    class="stairs"
    aria-hidden="true"
  >
    <span
      v-for="tread in Math.max(count, beat?.beat ?? 0)"
      :key="tread"
      :class="{ on: beat?.beat === tread, counting: phase === 'count-in' }"
      :style="{ '--rise': tread }"
    >{{ tread }}</span>
  </div>
</template>

<style scoped>
.stairs { display: flex; align-items: end; gap: 2px; height: 3.75rem; }
span {
  width: 2.1rem; height: calc(1.5rem + var(--rise) * 0.45rem); background: var(--tread); color: var(--ink-soft);
  display: flex; justify-content: center; font-weight: 700; border-top: 3px solid var(--rule);
}
.on { background: var(--together); color: var(--sheet); border-color: var(--together); }
.on.counting { background: var(--sheet); color: var(--ink); }
</style>
