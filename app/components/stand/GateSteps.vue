<script setup lang="ts">
/**
 * How near the gate is: as many treads as clean passes are asked for in a row, filled as they come. Beyond ten only the
 * figure.
 */
const props = defineProps<{ inARow: number; of: number; isOwnTime: boolean }>()
/** A single pass is not counted. */
const words = computed(() =>
  props.of === 1
    ? props.isOwnTime
      ? 'once without a wrong key'
      : 'once clean'
    : `${Math.min(props.inARow, props.of)} of ${props.of} ${props.isOwnTime ? 'without a wrong key' : 'clean in a row'}`,
)
const MAX_TREADS = 10
</script>

<template>
  <p class="gate">
    <span v-if="of <= MAX_TREADS" class="treads" aria-hidden="true"
      ><i v-for="tread in of" :key="tread" :class="{ on: tread <= inARow }" :style="{ '--rise': tread / of }"
    /></span>
    <span class="figure">{{ words }}</span>
  </p>
</template>

<style scoped>
.gate {
  display: inline-flex;
  align-items: end;
  gap: calc(1.5 * var(--step));
  font-weight: 600;
  font-size: 1.15rem;
}
.treads {
  display: inline-flex;
  align-items: end;
  gap: 3px;
  height: 2rem;
}
i {
  width: 1.4rem;
  height: calc(0.6rem + var(--rise) * 1.3rem);
  border: 2px solid var(--together);
  border-bottom-width: 4px;
}
.on {
  background: var(--together);
}
</style>
