<script setup lang="ts">
import { sentence } from '~/utils/ui/sentence'
import {
  COACH_PRESETS,
  coachSettings,
  EXPERIENCES,
  GATES,
  TURN_MINUTES,
  type CoachSettings,
} from '#core/coach/settings'
import { COACH_REASONS, EXPERIENCE_WORDS, PRESET_REASONS } from '#core/words/coach'

/** What players disagree about, each with its reason; and ways of practising that set several at once. */
const props = defineProps<{ coach: Partial<CoachSettings> }>()
const emit = defineEmits<{ change: [coach: Partial<CoachSettings>] }>()
const now = computed(() => coachSettings(props.coach))

interface Choice {
  key: keyof CoachSettings
  label: string
  options: readonly (readonly [value: string | number | boolean, label: string])[]
}
const YES_NO = [
  [true, 'yes'],
  [false, 'no'],
] as const
const CHOICES: readonly Choice[] = [
  {
    key: 'experience',
    label: 'What you can play already',
    options: EXPERIENCES.map(experience => [experience, EXPERIENCE_WORDS[experience]] as const),
  },
  {
    key: 'school',
    label: 'Order of practice',
    options: [
      ['slow-first', 'part by part, slow first, tempo last'],
      ['tempo-first', 'each part up to tempo before the next'],
      ['backward', 'from the end backwards, slow first'],
      ['turns', 'interleaved'],
    ],
  },
  {
    key: 'firstHand',
    label: 'First hand',
    options: [
      ['harder', 'the hand with more to learn'],
      ['right', 'right'],
      ['left', 'left'],
      ['melody', 'the melody'],
      ['chords', 'the chords'],
    ],
  },
  {
    key: 'gate',
    label: 'Clean passes needed',
    options: GATES.map(gate => [gate, gate === 'sure' ? 'until it is reliable' : `${gate} in a row`] as const),
  },
  {
    key: 'ownTimeGate',
    label: 'First in your own time',
    options: [
      [0, 'no'],
      ...[1, 2, 3, 4, 5].map(
        times => [times, `${times} ${times === 1 ? 'time' : 'times'} without a wrong key`] as const,
      ),
    ],
  },
  {
    key: 'tempo',
    label: 'Tempo',
    options: [
      ['steps', 'in steps'],
      ['adaptive', 'adaptive'],
    ],
  },
  {
    key: 'steps',
    label: 'Steps to the target',
    options: [3, 4, 5, 6, 8].map(steps => [steps, String(steps)] as const),
  },
  {
    key: 'joining',
    label: 'Joining parts',
    options: [
      ['forward', 'each to its neighbour'],
      ['pairs', 'two by two'],
    ],
  },
  {
    key: 'turnMinutes',
    label: 'Longest time on one thing',
    options: TURN_MINUTES.map(minutes => [minutes, minutes === 0 ? 'no limit' : `${minutes} minutes`] as const),
  },
  { key: 'advance', label: 'The coach leads on the Stand', options: YES_NO },
  {
    key: 'restBars',
    label: 'Rest between passes',
    options: [
      [0, 'none'],
      [1, 'a bar'],
      [2, 'two bars'],
    ],
  },
  { key: 'warmUp', label: 'Warm-up', options: YES_NO },
  { key: 'chordNames', label: 'Chord names shown ahead', options: YES_NO },
  { key: 'counting', label: 'Show the count', options: YES_NO },
  {
    key: 'fingering',
    label: 'Fingering',
    options: [
      ['strict', 'shown'],
      ['free', 'hidden'],
    ],
  },
]
</script>

<template>
  <fieldset class="choices">
    <legend>How you practise</legend>
    <div class="presets">
      <UButton v-for="(preset, name) in COACH_PRESETS" :key="name" variant="outline" @click="$emit('change', preset)">
        {{ sentence(name).replace(/\.$/, '') }}
      </UButton>
      <ul>
        <li v-for="(preset, name) in COACH_PRESETS" :key="name">
          <b>{{ name }}</b>: {{ PRESET_REASONS[name] }}
        </li>
      </ul>
    </div>
    <div v-for="choice in CHOICES" :key="choice.key" class="choice">
      <ChoiceField
        :label="choice.label"
        :description="COACH_REASONS[choice.key]"
        layout="row"
        :choices="choice.options.map(([value, label]) => ({ value, label }))"
        :model-value="now[choice.key]"
        @update:model-value="emit('change', { [choice.key]: $event })"
      />
    </div>
  </fieldset>
</template>

<style scoped>
fieldset.choices {
  --control-width: min(20rem, 45vw);
  justify-items: stretch;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(2 * var(--step));
  display: grid;
  gap: calc(1.5 * var(--step));
}
legend {
  float: left;
  width: 100%;
  font-weight: 700;
  font-size: 1.15rem;
}
.presets {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
.presets ul {
  width: 100%;
  color: var(--ink-soft);
}
.choice {
  border-top: 1px solid var(--rule);
  padding-top: var(--step);
}
</style>
