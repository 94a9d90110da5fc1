<script setup lang="ts">
import type { Measure } from '#core/ear/assessment'
import { measureLabel, measureSource } from '#core/words/measures'

defineProps<{ measures: readonly Measure[] }>()

const rounded = (value: number) =>
  Math.abs(value) >= 10 ? String(Math.round(value)) : String(Number(value.toFixed(Math.abs(value) < 3 ? 2 : 1)))
const valueText = ({ value, unit }: Measure) =>
  value === null ? 'nothing to measure' : `${rounded(value)} ${unit}`.trim()
function toleranceText({ least, most, unit }: Measure): string {
  if (least !== undefined && most !== undefined) {
    return Math.abs(least + most) < 1e-9
      ? `± ${rounded(most)} ${unit}`
      : `${rounded(least)} to ${rounded(most)} ${unit}`
  }
  return most !== undefined
    ? `at most ${rounded(most)} ${unit}`.trim()
    : least !== undefined
      ? `at least ${rounded(least)} ${unit}`.trim()
      : ''
}
</script>

<template>
  <div class="ledger card" tabindex="0" role="group" aria-label="What was measured">
    <table>
      <thead>
        <tr>
          <th scope="col">Quantity</th>
          <th scope="col">Measured</th>
          <th scope="col">Tolerance</th>
          <th scope="col">Where the tolerance comes from</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="measure in measures" :key="measure.name">
          <th scope="row">
            {{ measureLabel(measure) }}
          </th>
          <td :class="['figure', measure.value === null ? 'none' : measure.within ? 'within' : 'beyond']">
            <template v-if="measure.value !== null">
              <b aria-hidden="true">{{ measure.within ? '✓' : '▸' }}</b><span class="sr-only">{{
                measure.within ? 'within tolerance:' : 'beyond tolerance:'
              }}</span>
            </template>
            {{ valueText(measure) }}
          </td>
          <td class="figure">
            {{ toleranceText(measure) }}
          </td>
          <td class="source">
            {{ measureSource(measure) }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
tbody th {
  font-weight: 500;
}
td {
  white-space: nowrap;
}
.source {
  color: var(--ink-soft);
  font-size: 0.9rem;
  white-space: normal;
  min-width: 18rem;
}
.within b {
  color: var(--heard-right);
}
.beyond,
.beyond b {
  color: var(--heard-missed);
  font-weight: 700;
}
.none {
  color: var(--ink-soft);
}
</style>
