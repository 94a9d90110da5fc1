<script setup lang="ts">
import { sentence } from '~/utils/ui/sentence'
import { leastEven, type FingerEvenness } from '#core/ear/by-finger'
import { leastEvenText } from '#core/words/patterns'

/** How even each finger was, by the written fingering. */
const props = defineProps<{ fingers: readonly FingerEvenness[] }>()
const headline = computed(() => {
  const worst = leastEven(props.fingers)
  return worst ? sentence(leastEvenText(worst)) : ''
})
const most = computed(() => Math.max(1, ...props.fingers.map(one => one.unevenMs)))
const hands = computed(() =>
  (['left', 'right'] as const)
    .map(hand => ({ hand, fingers: props.fingers.filter(one => one.hand === hand) }))
    .filter(one => one.fingers.length > 0),
)
const signed = (value: number) => `${value > 0 ? '+' : ''}${Math.round(value)}`
</script>

<template>
  <div>
    <p>
      {{ headline }}
      <span class="soft">Which finger played is taken from the fingering on the page; a keyboard cannot see it.</span>
    </p>
    <table>
      <thead>
        <tr>
          <th scope="col">Finger</th>
          <th scope="col">From even</th>
          <th scope="col">Against its hand</th>
          <th scope="col">Spread</th>
          <th scope="col">Loudness</th>
          <th scope="col">Notes</th>
        </tr>
      </thead>
      <tbody v-for="one in hands" :key="one.hand">
        <tr v-for="finger in one.fingers" :key="finger.finger">
          <th scope="row">{{ one.hand }} {{ finger.finger }}</th>
          <td class="figure">
            <span
              class="bar"
              :class="one.hand"
              :style="{ width: `${Math.round(((7 * finger.unevenMs) / most) * 10) / 10}rem` }"
              aria-hidden="true"
            />
            {{ Math.round(finger.unevenMs) }} ms
          </td>
          <td class="figure">{{ signed(finger.lateMs) }} ms</td>
          <td class="figure">± {{ Math.round(finger.spreadMs) }} ms</td>
          <td class="figure">
            {{ signed(finger.louder) }}
          </td>
          <td class="figure">
            {{ finger.notes }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.soft {
  color: var(--ink-soft);
}
table {
  margin-top: var(--step);
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 0.25rem calc(2 * var(--step)) 0.25rem 0;
  font-weight: 400;
}
thead th {
  color: var(--ink-soft);
  font-size: 0.95rem;
}
.bar {
  display: inline-block;
  height: 0.7rem;
  margin-right: 0.35rem;
  background: var(--right-hand);
  vertical-align: baseline;
}
.bar.left {
  background: var(--left-hand);
}
</style>
