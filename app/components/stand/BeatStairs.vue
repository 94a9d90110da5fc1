<script setup lang="ts">
import { barAt, type Arrangement } from '#core/music/arrangement'
import type { Click } from '#core/music/loop'
import { pulses } from '#core/music/meter'
import type { ScoreSpan } from '#core/music/passage'

const props = defineProps<{ beat?: Click; arrangement: Arrangement; stretch: ScoreSpan; isCounting: boolean }>()
/** As many treads as the bar has pulses. */
const count = computed(() =>
  Math.max(pulses(barAt(props.arrangement, props.stretch.from).meter).length, props.beat?.beat ?? 0),
)
</script>

<template>
  <div class="stairs" aria-hidden="true" :style="{ '--count': count }">
    <span
      v-for="tread in count"
      :key="tread"
      :class="{ on: beat?.beat === tread, counting: isCounting }"
      :style="{ '--rise': tread / count }"
      >{{ tread }}</span
    >
  </div>
</template>

<style scoped>
.stairs {
  display: flex;
  align-items: end;
  gap: 2px;
  height: 100%;
  width: 100%;
}
span {
  flex: 1;
  height: calc(55% + var(--rise) * 45%);
  background: var(--tread);
  color: var(--ink-soft);
  display: flex;
  justify-content: center;
  align-items: center;
  font-weight: 700;
  border-top: 3px solid var(--rule);
  min-width: 0;
}
.on {
  background: var(--together);
  color: var(--sheet);
  border-color: var(--together);
}
.on.counting {
  background: var(--sheet);
  color: var(--ink);
  border: 3px solid var(--together);
}
</style>
