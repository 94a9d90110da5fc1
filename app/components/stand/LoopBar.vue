<script setup lang="ts">
import { useStand } from '~/composables/stand/standContext'
import { UNTIL_STOPPED, MAX_REPEATS, type RepeatGoal } from '#core/coach/how-often'
import { barsNumbered } from '#core/music/marked'
import { isSameSpan } from '#core/music/passage'
import { spanPlace } from '#core/music/stretch-place'
import { describeStretch } from '#core/words/places'
import { repeatGoalText, soFarText } from '#core/words/stand'

/** Bars of the player's own choice, how often they are played, and what can be made of them. */
const { part, practice, marked, ownPart } = useStand()
const { arrangement } = part
const { coach, stretch, howOften, played, before, ownSpot, setHowOften, back, callHard } = practice
const { makePart, isBusy } = ownPart
const isOwn = computed(() => before.value !== undefined)
const isPart = computed(() => coach.plan.value?.parts.some(one => isSameSpan(one, stretch.value)) ?? false)
const isHard = computed(() => ownSpot.value !== undefined && isSameSpan(ownSpot.value, stretch.value))
const returnsTo = computed(() => (before.value ? describeStretch(arrangement, before.value.stretch) : ''))
const place = computed(() => spanPlace(arrangement, stretch.value))
const problem = ref('')
const isOpen = ref(false)
function chooseOften(goal: RepeatGoal) {
  setHowOften(goal)
  isOpen.value = false
}

function chooseBars(event: Event) {
  const field = event.target as HTMLInputElement
  const form = field.closest('form')!
  let [from, to] = ['from', 'to'].map(name => Number((form.elements.namedItem(name) as HTMLInputElement).value)) as [
    number,
    number,
  ]
  // The field that was typed into counts; the other one gives way.
  if (from > to && field.name === 'from') to = from
  if (from > to && field.name === 'to') from = to
  const found = Number.isInteger(from) && Number.isInteger(to) ? barsNumbered(arrangement, from, to) : undefined
  const { bars } = arrangement
  problem.value = found ? '' : `There are bars ${bars[0]!.number} to ${bars.at(-1)!.number}.`
  if (found) marked.mark(found)
}

/** What was typed is chosen already: the keys are the Stand's again. */
const leave = (event: Event) => (event.target as HTMLElement).querySelector<HTMLElement>(':focus')?.blur()

const OFTEN: RepeatGoal[] = [
  UNTIL_STOPPED,
  { until: 'times', count: 5 },
  { until: 'times', count: 10 },
  { until: 'clean-in-a-row', count: 3 },
  { until: 'clean-in-a-row', count: 5 },
]
const count = computed(() => (howOften.value.until === 'stopped' ? 10 : howOften.value.count))

function chooseCount(to: number) {
  const until = howOften.value.until === 'stopped' ? 'times' : howOften.value.until
  setHowOften({ until, count: Math.max(1, Math.min(MAX_REPEATS, Math.round(to) || 1)) })
}
</script>

<template>
  <section class="own" aria-label="Your own bars">
    <Tip v-if="isOwn" :text="`Back to ${returnsTo} (Backspace)`"
      ><UButton variant="outline" color="neutral" icon="i-lucide-corner-up-left" aria-label="Back" @click="back">
        <span class="word">Back</span>
      </UButton></Tip
    >
    <form class="bars" @submit.prevent="leave" @change="chooseBars">
      <span class="word" aria-hidden="true">Bars</span>
      <TextField
        label="First bar"
        layout="unseen"
        name="from"
        inputmode="numeric"
        class="figure"
        :model-value="place.from.bar"
      />
      <span class="word" aria-hidden="true">to</span>
      <TextField
        label="Last bar"
        layout="unseen"
        name="to"
        inputmode="numeric"
        class="figure"
        :model-value="place.to.bar"
      />
      <button type="submit" class="sr-only" tabindex="-1">Choose these bars</button>
    </form>
    <UPopover v-model:open="isOpen">
      <Tip :text="`How often: ${repeatGoalText(howOften)}`"
        ><UButton
          variant="outline"
          color="neutral"
          icon="i-lucide-repeat"
          :aria-label="`How often: ${repeatGoalText(howOften)}`"
        >
          <span class="word">{{ repeatGoalText(howOften) }}</span>
        </UButton></Tip
      >
      <template #content>
        <div class="often">
          <h2>How often</h2>
          <UButton
            v-for="one in OFTEN"
            :key="repeatGoalText(one)"
            :variant="repeatGoalText(one) === repeatGoalText(howOften) ? 'soft' : 'ghost'"
            color="neutral"
            :aria-pressed="repeatGoalText(one) === repeatGoalText(howOften)"
            @click="chooseOften(one)"
          >
            {{ repeatGoalText(one) }}
          </UButton>
          <TextField
            :label="howOften.until === 'clean-in-a-row' ? 'Clean in a row' : 'Times'"
            type="number"
            min="1"
            :max="MAX_REPEATS"
            :model-value="count"
            @change="chooseCount(Number(($event.target as HTMLInputElement).value))"
          />
        </div>
      </template>
    </UPopover>
    <span v-if="soFarText(howOften, played)" class="figure so-far">{{ soFarText(howOften, played) }}</span>
    <Tip v-if="isOwn && !isPart" text="Make a part of these bars"
      ><UButton
        variant="ghost"
        color="neutral"
        icon="i-lucide-list-plus"
        aria-label="Make a part"
        :disabled="isBusy"
        @click="makePart(stretch)"
      >
        <span class="word">Make a part</span>
      </UButton></Tip
    >
    <Tip v-if="isOwn && !isPart" text="Hard spot: from the next pass on, the coach works on it until it is fixed"
      ><UButton
        :variant="isHard ? 'soft' : 'ghost'"
        color="neutral"
        icon="i-lucide-pin"
        aria-label="Hard spot"
        :aria-pressed="isHard"
        @click="callHard"
      >
        <span class="word">Hard spot</span>
      </UButton></Tip
    >
    <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
    <slot />
  </section>
</template>

<style scoped>
.own {
  display: flex;
  align-items: center;
  justify-content: center;
  gap: calc(1.5 * var(--step));
  padding: 0 calc(2 * var(--step));
  min-height: 2.9rem;
  background: var(--sheet);
  border-top: 1px solid var(--rule);
}
.bars {
  display: flex;
  gap: var(--step);
  align-items: center;
}
.bars :deep(input) {
  width: 3.4rem;
  padding: 0.3rem 0.4rem;
  text-align: center;
}
.often {
  padding: calc(2 * var(--step));
  display: grid;
  gap: 0.25rem;
}
.often h2 {
  font-weight: 700;
}
.often :deep(button) {
  justify-content: start;
}
.so-far {
  font-weight: 600;
  white-space: nowrap;
}
@media (max-width: 60rem) {
  .word {
    display: none;
  }
  .own {
    gap: 0.4rem;
    padding: 0 0.4rem;
  }
}
</style>
