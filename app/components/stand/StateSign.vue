<script setup lang="ts">
import type { Arrangement } from '#core/music/arrangement'
import type { Click } from '#core/music/loop'
import type { ScoreSpan } from '#core/music/passage'
import type { StandState } from '~/utils/stand/states'

/** What the Stand is at, as a shape and a word that can be told apart from a metre. */
const props = defineProps<{ state: StandState; beat?: Click; arrangement: Arrangement; stretch: ScoreSpan }>()
const SIGNS = {
  resting: 'i-lucide-square',
  starting: 'i-lucide-hourglass',
  waiting: 'i-lucide-circle-dot',
  'going-on': 'i-lucide-arrow-big-right',
  listening: 'i-lucide-volume-2',
  shown: 'i-lucide-ear',
  interrupted: 'i-lucide-unplug',
  elsewhere: 'i-lucide-monitor',
} as const
const WORDS = {
  resting: 'Stopped',
  starting: 'Starting',
  'count-in': 'Count-in',
  playing: 'Playing',
  waiting: 'Your turn',
  'going-on': 'Going on',
  listening: 'Listening',
  shown: 'Listen',
  interrupted: 'Unplugged',
  elsewhere: 'Elsewhere',
} as const
const hasStairs = computed(
  () =>
    props.state.at === 'count-in' ||
    props.state.at === 'shown' ||
    (props.state.at === 'playing' && props.state.mode === 'steady'),
)
const icon = computed(() => {
  const { state } = props
  if (state.at === 'judged') return state.isClean ? 'i-lucide-check' : 'i-lucide-rotate-ccw'
  if (state.at === 'playing') return state.mode === 'free' ? 'i-lucide-audio-lines' : undefined
  return state.at === 'count-in' ? undefined : SIGNS[state.at]
})
const word = computed(() =>
  props.state.at === 'waiting' && props.state.mode === 'free'
    ? 'Begin freely'
    : props.state.at === 'judged'
      ? props.state.isClean
        ? 'Clean'
        : 'Once more'
      : WORDS[props.state.at],
)
</script>

<template>
  <div class="sign" :class="[state.at, { clean: state.at === 'judged' && state.isClean }]" :data-state="state.at">
    <BeatStairs
      v-if="hasStairs"
      :beat="beat"
      :arrangement="arrangement"
      :stretch="stretch"
      :is-counting="state.at === 'count-in'"
    />
    <UIcon v-else-if="icon" :name="icon" class="icon" aria-hidden="true" />
    <b>{{ word }}</b>
  </div>
</template>

<style scoped>
.sign {
  display: grid;
  grid-template-rows: 1fr auto;
  justify-items: center;
  align-items: center;
  gap: 0.15em;
  color: var(--ink);
  width: 8.5em;
  height: 4.6em;
  overflow: hidden;
}
.icon {
  width: 2.6em;
  height: 2.6em;
}
b {
  font-size: 1em;
  line-height: 1.1;
}
.resting,
.starting {
  color: var(--ink-soft);
}
.waiting,
.going-on {
  color: var(--together);
}
.interrupted,
.elsewhere {
  color: var(--heard-missed);
}
.judged {
  border: 3px solid var(--heard-missed);
  color: var(--heard-missed);
  border-radius: 0.5em;
}
.judged.clean {
  border-color: var(--heard-right);
  background: var(--heard-right);
  color: var(--sheet);
}
@media (max-width: 46rem), (max-height: 32rem) {
  .sign {
    width: 4.6em;
    height: 3.6em;
  }
  .icon {
    width: 1.9em;
    height: 1.9em;
  }
  b {
    font-size: 0.8em;
  }
}
@media (max-height: 32rem) {
  .sign {
    height: 3.3em;
  }
}
</style>
