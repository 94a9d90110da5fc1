<script setup lang="ts">
import type { EndedPass } from '../../composables/stand/practised'
import { useFittingText } from '~/composables/notation/useFittingText'
import { useWording } from '~/composables/ui/useWording'
import type { IsolatedPassage } from '#core/coach/place-alone'
import type { Replay } from '#core/sound/of-take'

/**
 * The one line under the music: what was heard, and what is expected now. Its room does not change with its words, so
 * that the music stays where it is.
 */
const props = defineProps<{
  /** What is expected of the player now. */
  expected: string
  /** Why it moves on or stays. */
  why: string
  /** The result of the repeats. */
  outcome: string
  last?: EndedPass
  passCount: number
  problem: string
  /** Nothing is played: there is time to read. */
  isResting: boolean
  /** The instruction is shown large: there is nothing else to say. */
  isAlert: boolean
  review: string
  alone?: IsolatedPassage
  aloneWords: string
  /** The last pass can be heard again. */
  mayHear: boolean
}>()
defineEmits<{ alone: []; hear: [replay: Replay] }>()
const summary = computed(() => (props.last?.take.notes.length ? props.last.assessment.summary : undefined))
/** A key that both hands share is missing in neither. */
const missed = computed(
  () => props.last?.assessment.notes.filter(note => note.outcome === 'missed' && !note.sharedKey).length ?? 0,
)
const { sentenceOf } = useWording()
const large = computed(
  () =>
    props.problem ||
    (props.isAlert
      ? props.expected
      : props.outcome || (props.last ? sentenceOf(props.last.assessment.findings) : props.expected)),
)
const small = computed(() =>
  [large.value === props.expected ? '' : props.expected, props.why].filter(Boolean).join(' '),
)
const text = useTemplateRef<HTMLElement>('text')
useFittingText(text, () => [large.value, small.value, props.isResting, props.alone])
</script>

<template>
  <section class="line" aria-label="The last pass">
    <slot name="sign" />
    <div ref="text" class="text">
      <p class="sentence" role="status" aria-live="polite">
        {{ large }}
      </p>
      <p v-if="small" class="now">
        {{ small }}
      </p>
      <p v-if="summary" class="figures figure" :class="{ running: !isResting }">
        <span>Pass {{ passCount }}</span>
        <span
          ><b>{{ summary.right }}</b> of {{ summary.notes }} right</span
        >
        <span v-if="summary.wrong">{{ summary.wrong }} wrong</span>
        <span v-if="missed">{{ missed }} missed</span>
        <span v-if="summary.extra">{{ summary.extra }} extra</span>
        <span v-if="summary.restarts"
          >{{ summary.restarts }} {{ summary.restarts === 1 ? 'restart' : 'restarts' }}</span
        >
        <Tip v-if="last?.mode === 'steady'" text="Within this many ms of the beat counts as in time"
          ><span
            >{{ Math.round(summary.onTimeShare * 100) }} % in time (± {{ Math.round(summary.onTimeMs) }} ms)</span
          ></Tip
        >
      </p>
    </div>
    <div class="aside">
      <slot />
      <div v-if="isResting && (alone || review || mayHear)" class="actions">
        <Tip v-if="alone" :text="aloneWords"
          ><UButton variant="outline" icon="i-lucide-repeat-1" :aria-label="aloneWords" @click="$emit('alone')">
            <span class="word">{{ aloneWords }}</span>
          </UButton></Tip
        >
        <LazyHearAgain v-if="mayHear" @hear="$emit('hear', $event)" />
        <Tip v-if="review" text="Review the last pass (F6)"
          ><UButton
            :to="`/passes/${review}`"
            variant="outline"
            color="neutral"
            icon="i-lucide-search"
            aria-label="Review this pass"
          >
            <span class="word">Review</span>
          </UButton></Tip
        >
      </div>
    </div>
  </section>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  gap: calc(2 * var(--step));
  padding: 0.3em calc(2 * var(--step));
  height: 6.6em;
  background: var(--ground);
  border-top: 1px solid var(--rule);
  overflow: hidden;
}
.text {
  max-height: 100%;
  overflow: hidden;
  font-size: var(--fit, 1em);
}
.sentence {
  font-size: 1.4em;
  line-height: 1.25;
  /* Letters that reach below the line are not cut off. */
  padding-bottom: 0.08em;
  text-wrap: pretty;
}
.now {
  font-size: 1.02em;
  line-height: 1.3;
  color: var(--ink-soft);
}
.figures {
  color: var(--ink-soft);
  display: flex;
  gap: 0 calc(2 * var(--step));
  flex-wrap: wrap;
  font-size: 0.9em;
  line-height: 1.3;
}
.aside {
  display: flex;
  flex-direction: column;
  align-items: end;
  justify-content: center;
  gap: 0.3em;
  max-width: 23em;
  max-height: 100%;
}
.aside .word {
  white-space: normal;
  text-align: left;
  line-height: 1.15;
}
.actions {
  display: flex;
  gap: var(--step);
}
@media (max-width: 46rem), (max-height: 32rem) {
  .line {
    gap: var(--step);
    padding: 0.2em var(--step);
    height: 5.2em;
  }
  .aside {
    max-width: 11em;
  }
}
@media (max-width: 46rem), (max-height: 32rem) {
  .running {
    display: none;
  }
}
@media (max-width: 46rem), (max-height: 32rem) {
  .word {
    display: none;
  }
  .actions :deep(button),
  .actions :deep(a) {
    min-width: 2.75rem;
    justify-content: center;
  }
}
@media (max-height: 32rem) {
  .aside {
    flex-direction: row;
    align-items: center;
    flex-wrap: wrap;
    max-width: 15em;
  }
  .line {
    height: 3.8em;
  }
  .sentence {
    font-size: 1.2em;
  }
}
@media (max-width: 30rem) {
  .line {
    height: 9.5em;
    grid-template-columns: auto minmax(0, 1fr);
  }
  .aside {
    grid-column: 1 / -1;
    max-width: none;
    flex-direction: row;
    flex-wrap: wrap;
    justify-content: start;
  }
}
</style>
