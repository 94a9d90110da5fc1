<script setup lang="ts">
import { reasonText, unitText } from '#core/words/coach'
import type { NextPass } from '#core/coach/song-plan'
import type { Turn } from '#core/coach/turns'
import { isCompound, isCountedFiner, type Meter } from '#core/music/meter'

/** What the coach would play next, and why. */
const props = defineProps<{ next?: NextPass, meter?: Meter, turn?: Turn, isHere: boolean, isLoaded: boolean }>()
const isLed = defineModel<boolean>({ required: true })
defineEmits<{ follow: [] }>()
const what = computed(() => props.next ? `${props.next.isSpot || props.next.isNew ? 'a place in ' : ''}${unitText(props.next.stage.unit)}, ${howWords({ ...props.next, meter: props.meter })}` : '')
/** So slow that the beat is clicked finer. */
const finer = computed(() => props.next?.mode === 'steady' && props.meter && isCountedFiner(props.next.bpm, props.meter) ? ` The click divides the beat${isCompound(props.meter) ? ' in three' : ''}.` : '')
/** How much of its time the thing that is played has had. */
const turnWords = computed(() => props.turn && props.turn.most > 0 ? `${Math.floor(props.turn.minutes)} of ${props.turn.most} min at this` : '')
</script>

<template>
  <section
    v-if="isLoaded"
    class="coach"
    aria-label="The coach"
  >
    <USwitch
      v-model="isLed"
      label="Coach leads"
      size="lg"
    />
    <p v-if="next && isHere">
      <b>Stay here:</b> {{ reasonText(next.because, meter) }}.{{ finer }} <NuxtLink
        v-if="turnWords"
        to="/settings"
        class="turn figure"
        title="Change how long one thing is stayed at"
      >
        {{ turnWords }}
      </NuxtLink>
    </p>
    <p v-else-if="next">
      <b>Next: {{ what }}.</b> {{ sentence(reasonText(next.because, meter)) }}{{ finer }}
    </p>
    <p v-else>
      <b>Everything is reached.</b> Play it through, or play something else.
    </p>
    <UButton
      v-if="next && !isHere"
      variant="outline"
      trailing-icon="i-lucide-arrow-right"
      @click="$emit('follow')"
    >
      Next <kbd>F8</kbd>
    </UButton>
  </section>
</template>

<style scoped>
.coach { display: flex; flex-wrap: wrap; align-items: center; justify-content: center; gap: 0.25rem calc(3 * var(--step)); padding: 0.35rem calc(3 * var(--step)); border-top: 1px solid var(--rule); background: var(--sheet); font-size: 1.1rem; }
p { flex: 0 1 auto; max-width: min(100%, 58rem); }
@media (min-width: 60rem) { .coach { flex-wrap: nowrap; } }

.turn { color: var(--ink-soft); white-space: nowrap; text-decoration: underline; text-underline-offset: 3px; }
kbd { font: inherit; font-size: 0.85em; border: 1px solid currentColor; border-radius: 0.25rem; padding: 0 0.35em; }
</style>
