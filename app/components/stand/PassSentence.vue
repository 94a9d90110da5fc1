<script setup lang="ts">
import type { EndedPass } from '~/composables/usePracticeLoop'

const props = defineProps<{ passes: readonly EndedPass[], last?: EndedPass, phase: string, problem: string, review: string }>()
const summary = computed(() => props.last?.take.notes.length ? props.last.assessment.summary : undefined)
/** A key that both hands share is missing in neither. */
const missed = computed(() => props.last?.assessment.notes.filter(note => note.outcome === 'missed' && !note.sharedKey).length ?? 0)
const { sentenceOf } = useWording()
const sentence = computed(() => props.last ? sentenceOf(props.last.assessment.findings) : '')
const cleanInARow = computed(() => {
  const upset = props.passes.findLastIndex(pass => !pass.assessment.summary.clean)
  return props.passes.length - 1 - upset
})
</script>

<template>
  <section
    class="result"
    aria-label="The last pass"
  >
    <div
      role="status"
      aria-live="polite"
    >
      <p class="sentence">
        <template v-if="problem">
          {{ problem }}
        </template>
        <template v-else-if="last">
          {{ sentence }}
        </template>
        <template v-else-if="phase === 'count-in'">
          Listen to the count, then begin.
        </template>
        <template v-else-if="phase === 'playing'">
          Play on; the loop goes round.
        </template>
        <template v-else-if="phase === 'waiting'">
          Play what comes next; the music waits for you.
        </template>
        <template v-else>
          Press Space and play after the count-in.
        </template>
      </p>
      <p
        v-if="summary"
        class="figures figure"
      >
        <span>Pass {{ passes.length }}</span>
        <span><b>{{ summary.right }}</b> of {{ summary.notes }} right</span>
        <span v-if="summary.wrong">{{ summary.wrong }} wrong</span>
        <span v-if="missed">{{ missed }} missed</span>
        <span v-if="summary.extra">{{ summary.extra }} extra</span>
        <span v-if="summary.restarts">{{ summary.restarts }} {{ summary.restarts === 1 ? 'restart' : 'restarts' }}</span>
        <span
          v-if="last?.mode === 'steady'"
          title="Within this many ms of the beat counts as in time"
        >{{ Math.round(summary.onTimeShare * 100) }} % in time (± {{ Math.round(summary.onTimeMs) }} ms)</span>
        <span>{{ cleanInARow }} clean in a row</span>
        <NuxtLink
          v-if="review"
          :to="`/passes/${review}`"
        >Review this pass</NuxtLink>
      </p>
    </div>
    <div class="beside">
      <slot />
    </div>
  </section>
</template>

<style scoped>
.result { padding: var(--step) calc(3 * var(--step)); min-height: 6.5rem; max-width: 76rem; margin: 0 auto; width: 100%; text-align: center; }

.beside { display: flex; flex-wrap: wrap; justify-content: center; align-items: end; gap: var(--step) calc(4 * var(--step)); margin-top: 0.35rem; }
.sentence { font-size: 1.5rem; line-height: 1.35; }
.figures a { text-decoration: underline; text-underline-offset: 3px; }
.figures { color: var(--ink-soft); margin-top: var(--step); display: flex; gap: 0.25rem calc(3 * var(--step)); flex-wrap: wrap; justify-content: center; }
</style>
