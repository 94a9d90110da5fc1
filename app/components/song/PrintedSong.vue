<script setup lang="ts">
import { useFingers } from '~/composables/workbench/useFingers'
import { useSettingsStore } from '~/stores/settings'
import { COACH_DEFAULTS } from '#core/coach/settings'
import { printedScore } from '#core/formats/printed'
import { arrangementEnd, tempoAt, type Arrangement, EACH_HAND } from '#core/music/arrangement'
import { barsOfSpan } from '#core/music/marked'
import { ZERO } from '#core/music/quarters'
import type { ScoreSpan } from '#core/music/passage'
import { tempoText } from '#core/words/amounts'
import { describeStretch } from '#core/words/places'

/**
 * A song, or one of its parts, as it is printed: parts marked, with fingers, chord symbols and counts as they are set.
 */
const props = defineProps<{
  song: {
    title: string
    arrangementId: string
    arrangement: Arrangement
    musicXml: string
    parts: readonly (ScoreSpan & { id: string; name: string })[]
  }
}>()
const route = useRoute()
const settings = useSettingsStore()
const coach = computed(() => ({ ...COACH_DEFAULTS, ...settings.coach }))
const [withFingers, withCounts, withChords] = [
  ref(coach.value.fingering === 'strict'),
  ref(coach.value.counting),
  ref(coach.value.chordNames),
]
const only = ref(typeof route.query.part === 'string' ? route.query.part : '')
const { arrangement, musicXml } = props.song
const whole = { from: ZERO, to: arrangementEnd(arrangement) }

const suggested = useFingers(() =>
  withFingers.value ? { arrangement, stretch: whole, reach: settings.reachHalfSteps } : undefined,
)
const fingers = computed(
  () =>
    new Map(
      EACH_HAND.flatMap(hand => suggested.value[hand].notes.map(({ id, finger }): [string, number] => [id, finger])),
    ),
)
const printed = computed(() =>
  printedScore(
    { arrangement, musicXml },
    {
      fingers: withFingers.value ? fingers.value : undefined,
      counts: withCounts.value,
      chordSymbols: withChords.value,
    },
  ),
)
/** The engraver knows a score by its name. */
const scoreId = computed(
  () =>
    `${props.song.arrangementId} printed ${withFingers.value ? fingers.value.size : 'bare'} ${withCounts.value} ${withChords.value}`,
)
const shown = computed(() =>
  props.song.parts
    .filter(part => only.value === '' || part.id === only.value)
    .map(part => {
      const [firstBar, lastBar] = barsOfSpan(arrangement, part)
      return { ...part, firstBar, lastBar, where: describeStretch(arrangement, part) }
    }),
)
const print = () => window.print()
</script>

<template>
  <div class="paper">
    <form class="choices fields" @submit.prevent="print">
      <ChoiceField
        v-model="only"
        label="What"
        :choices="[
          { value: '', label: 'the whole song' },
          ...song.parts.map(part => ({ value: part.id, label: part.name })),
        ]"
      />
      <UCheckbox v-model="withFingers" label="Fingers" />
      <UCheckbox v-model="withChords" label="Chord symbols" />
      <UCheckbox v-model="withCounts" label="The count" />
      <UButton type="submit" icon="i-lucide-printer"> Print </UButton>
    </form>
    <header>
      <h1>{{ song.title }}</h1>
      <p class="soft">
        {{
          [arrangement.composer, tempoText(tempoAt(arrangement, ZERO), arrangement.bars[0]!.meter)]
            .filter(Boolean)
            .join(' · ')
        }}
      </p>
    </header>
    <section v-for="part in shown" :key="part.id">
      <h2>
        {{ part.name }} <span>{{ part.where }}</span>
      </h2>
      <EngravedBars
        :key="scoreId"
        :music-xml="printed"
        :score-id="scoreId"
        :first-bar="part.firstBar"
        :last-bar="part.lastBar"
        :label="`${part.name}, ${part.where}`"
        is-large
        is-unmarked
      />
    </section>
  </div>
</template>

<style scoped>
.paper {
  max-width: 60rem;
  margin: 0 auto;
  padding: calc(3 * var(--step));
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step)) calc(3 * var(--step));
  align-items: center;
  padding: calc(1.5 * var(--step)) calc(2 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  margin-bottom: calc(3 * var(--step));
}
h1 {
  font-size: 2rem;
}
h2 {
  font-weight: 700;
  margin-top: calc(2 * var(--step));
  border-top: 2px solid var(--ink-soft);
  padding-top: 0.25rem;
}
h2 span {
  font-weight: 400;
  color: var(--ink-soft);
}
section {
  break-inside: avoid;
}
@media print {
  .paper {
    max-width: none;
    padding: 0;
  }
  .choices {
    display: none;
  }
  h1 {
    font-size: 20pt;
  }
  section :deep(svg) {
    max-width: 100%;
    height: auto;
    overflow: visible;
  }
}
</style>
