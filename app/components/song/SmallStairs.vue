<script setup lang="ts">
import type { ReachedShares } from '#core/coach/stairs'

/**
 * Stairs drawn small: each part a landing between two low flights, filled as far as each is reached. `next`: the part
 * that comes next.
 */
const props = defineProps<{ parts: readonly ReachedShares[]; label: string; next?: number }>()

const COLUMN = 5
const GAP = 5
const WIDTH = 3 * COLUMN + 2
const HEIGHT = 26
const LOW = 13
const columns = computed(() =>
  props.parts.flatMap((part, place) =>
    (['left', 'both', 'right'] as const).flatMap((hands, column) => {
      const share = part[hands]
      const height = hands === 'both' ? HEIGHT : LOW
      return share === null
        ? []
        : [
            {
              key: `${place} ${hands}`,
              hands,
              x: place * (WIDTH + GAP) + column * (COLUMN + 1),
              height,
              filled: share * height,
            },
          ]
    }),
  ),
)
</script>

<template>
  <svg
    role="img"
    :aria-label="label"
    :width="parts.length * (WIDTH + GAP)"
    :height="HEIGHT + 4"
    :viewBox="`0 0 ${parts.length * (WIDTH + GAP)} ${HEIGHT + 4}`"
  >
    <template v-for="one in columns" :key="one.key">
      <rect class="rest" :x="one.x" :y="HEIGHT - one.height" :width="COLUMN" :height="one.height" />
      <rect :class="one.hands" :x="one.x" :y="HEIGHT - one.filled" :width="COLUMN" :height="one.filled" />
    </template>
    <rect v-if="next !== undefined" class="both" :x="next * (WIDTH + GAP)" :y="HEIGHT + 2" :width="WIDTH" height="2" />
  </svg>
</template>

<style scoped>
svg {
  max-width: 100%;
  height: auto;
  flex: none;
}
.rest {
  fill: var(--tread);
  stroke: var(--rule);
  stroke-width: 0.5;
}
.left {
  fill: var(--left-hand);
}
.right {
  fill: var(--right-hand);
}
.both {
  fill: var(--together);
}
</style>
