<script setup lang="ts">
import { useStand } from '~/composables/stand/standContext'
import { describePass } from '~/utils/stand/describePass'
import { barAt } from '#core/music/arrangement'
import { unitText } from '#core/words/coach'

/** Whether the coach leads, and where it would go. */
defineEmits<{ own: [] }>()
const { part, practice } = useStand()
const { coach, isLed, isNow, goNext } = practice
const { next } = coach
const isHere = computed(() => next.value !== undefined && isNow(next.value))
const what = computed(() => {
  if (!next.value) return ''
  const { meter } = barAt(part.arrangement, next.value.stretch.from)
  const place = next.value.isSpot || next.value.isNew ? 'a place in ' : ''
  return `${place}${unitText(next.value.stage.unit)}, ${describePass({ ...next.value, meter })}`
})
/** How much of its time the thing that is played has had. */
const turnWords = computed(() => {
  const turn = coach.turn.value
  return turn && turn.most > 0 ? `${Math.floor(turn.minutes)} of ${turn.most} min at this` : ''
})
</script>

<template>
  <section class="coach" aria-label="The coach">
    <Tip text="The coach moves on by itself (F9)"><USwitch v-model="isLed" label="Coach leads" /></Tip>
    <p v-if="coach.plan.value" class="where">
      <template v-if="!next"> All goals reached: play it through, or choose bars. </template>
      <template v-else-if="isHere">
        <Tip v-if="turnWords" text="Change how long to stay on one thing"
          ><NuxtLink to="/settings" class="turn figure">{{ turnWords }}</NuxtLink></Tip
        >
      </template>
      <template v-else> Next: {{ what }} </template>
    </p>
    <Tip v-if="next && !isHere" text="Go to what the coach suggests (F8)"
      ><UButton variant="outline" trailing-icon="i-lucide-arrow-right" aria-label="Next F8" @click="goNext">
        Next
      </UButton></Tip
    >
    <Tip text="Choose bars, a tempo and how often; or mark them in the music"
      ><UButton variant="ghost" color="neutral" icon="i-lucide-brackets" @click="$emit('own')">
        <span class="word">Choose bars</span>
      </UButton></Tip
    >
  </section>
</template>

<style scoped>
.coach {
  display: flex;
  align-items: center;
  justify-content: center;
  gap: calc(2 * var(--step));
  padding: 0 calc(2 * var(--step));
  min-height: 2.9rem;
  background: var(--sheet);
  border-top: 1px solid var(--rule);
}
.where {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  min-width: 0;
}
.turn {
  color: var(--ink-soft);
  white-space: nowrap;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.coach :deep(button:not([role='switch'])) {
  flex: none;
}
@media (max-width: 46rem) {
  .word {
    display: none;
  }
  .coach {
    gap: var(--step);
    padding: 0 var(--step);
  }
  .where {
    font-size: 0.9em;
  }
}
</style>
