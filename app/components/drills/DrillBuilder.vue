<script setup lang="ts">
import { choicesFrom, choicesOf } from '~/utils/ui/choices'
import { saveAsFile, nameOfFile } from '~/utils/ui/saveAsFile'
import { useDrillStart } from '~/composables/songs/useDrillStart'
import { usePatterns } from '~/composables/songs/usePatterns'
import { usePatternsWorker } from '~/composables/songs/usePatternsWorker'
import { usePreviewSound } from '~/composables/sound/usePreviewSound'
import { useSettingsStore } from '~/stores/settings'
import { messageOf } from '~/utils/ui/messageOf'
import type { Meter } from '#core/music/meter'
import {
  KEY_ORDERS,
  LINE_HANDS,
  RHYTHMS,
  SCALE_NAMES,
  SCALE_STEPS,
  type DrillKeys,
  type DrillRecipe,
  type DrillRhythm,
  type LineHands,
  type Material,
  type ScaleName,
  type ScaleStep,
} from '#core/patterns/drills/recipe'
import { isMinor } from '#core/patterns/drills/drill'
import { recipeDocument } from '#core/patterns/write-documents'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { drillTitle, LINE_HANDS_WORDS, RHYTHM_WORDS } from '#core/words/patterns'
import { displayName } from '#core/words/note-names'

/**
 * Builds a drill from blocks: material, hands, keys, rhythm and tempo. Its beginning is seen and heard before it is
 * kept.
 */
const settings = useSettingsStore()
const { busy, problem: startProblem, start } = useDrillStart()
const hearing = usePreviewSound()

const KINDS = {
  scale: 'Scale',
  'five-finger': 'Five fingers',
  arpeggio: 'Arpeggio',
  inversions: 'Inversions of a chord',
  sevenths: 'Sevenths on the scale',
  progression: 'Progression by degrees',
  chart: 'Chord chart',
  against: 'Notes against notes',
} as const
const CHORDS = {
  '': 'major',
  m: 'minor',
  '7': 'dominant seventh',
  maj7: 'major seventh',
  m7: 'minor seventh',
  dim7: 'diminished seventh',
  m7b5: 'half-diminished',
  aug: 'augmented',
} as const
const ORDERS: Record<DrillKeys['order'], string> = {
  one: 'one key',
  fifths: 'all by fifths',
  chromatic: 'all, a half step higher each time',
  random: 'all, shuffled',
  list: 'the keys of my songs',
}
const STEPS: Record<ScaleStep, string> = {
  single: 'single notes',
  thirds: 'in thirds',
  sixths: 'in sixths',
  'broken-thirds': 'in broken thirds',
}
const DIVISIONS = { 1: 'one note to a beat', 2: 'two to a beat', 3: 'three to a beat', 4: 'four to a beat' } as const
const METERS = ['2/4', '3/4', '4/4', '6/8', '12/8']
const TONICS = ['C', 'G', 'D', 'A', 'E', 'B', 'F#', 'Db', 'Ab', 'Eb', 'Bb', 'F']

const kind = ref<keyof typeof KINDS>('scale')
const scale = ref<ScaleName>('major')
const octaves = ref<1 | 2 | 3 | 4>(2)
const steps = ref<ScaleStep>('single')
const mode = ref<'major' | 'minor'>('major')
const chord = ref<keyof typeof CHORDS>('')
const isBroken = ref(false)
const degrees = ref('ii7 V7 Imaj7 Imaj7')
const chart = ref('| C | Am | F | G7 |')
const against = reactive({ right: 3, left: 2, beats: 1 as 1 | 2 })
const hands = ref<LineHands>('parallel')
const order = ref<DrillKeys['order']>('fifths')
const tonic = ref('C')
const meter = ref('4/4')
const division = ref<1 | 2 | 3 | 4>(2)
const rhythm = ref<DrillRhythm>('as-it-is')
const swing = ref(false)
const bpm = ref(80)
const doubleTime = ref(false)
const left = shallowRef<HandPattern>()
const right = shallowRef<HandPattern>()

const meterOf = computed((): Meter => {
  const [beats, beatType] = meter.value.split('/').map(Number)
  return { beats: beats!, beatType: beatType! }
})
const isLine = computed(() => ['scale', 'five-finger', 'arpeggio', 'inversions', 'sevenths'].includes(kind.value))
const isChords = computed(() => kind.value === 'progression' || kind.value === 'chart')
const { data: own } = await useLazyFetch('/api/patterns', {
  key: 'own-patterns',
  server: false,
  deep: false,
  default: () => [],
})
const lefts = usePatterns(
  () => ({ hand: 'left', meter: meterOf.value, bpm: bpm.value, reach: settings.reachHalfSteps }),
  () => own.value,
)
const rights = usePatterns(
  () => ({ hand: 'right', meter: meterOf.value, bpm: bpm.value, reach: settings.reachHalfSteps }),
  () => own.value,
)
const { data: songKeys } = await useLazyFetch('/api/drills/keys', {
  key: 'song-keys',
  server: false,
  deep: false,
  default: () => ({ major: [], minor: [] }),
})

function chosenMaterial(): Material {
  switch (kind.value) {
    case 'scale':
      return {
        kind: 'scale',
        scale: scale.value,
        octaves: octaves.value,
        ...(steps.value === 'single' ? {} : { in: steps.value }),
      }
    case 'five-finger':
      return { kind: 'five-finger', mode: mode.value }
    case 'arpeggio':
      return { kind: 'arpeggio', chord: chord.value, octaves: octaves.value }
    case 'inversions':
      return { kind: 'inversions', chord: chord.value, isBroken: isBroken.value }
    case 'sevenths':
      return { kind: 'sevenths', isBroken: isBroken.value }
    case 'progression':
      return { kind: 'progression', degrees: degrees.value.split(/[\s,|–-]+/).filter(one => one !== '') }
    case 'chart':
      return { kind: 'chart', text: chart.value }
    case 'against':
      return { kind: 'against', right: against.right, left: against.left, beats: against.beats }
  }
}
const material = computed(chosenMaterial)
const keys = computed((): DrillKeys => {
  const mine = isMinor(material.value) ? songKeys.value.minor : songKeys.value.major
  if (order.value === 'list') return { order: 'list', list: mine.length > 0 ? mine : [tonic.value] }
  return { order: order.value, from: tonic.value, ...(order.value === 'random' ? { seed: new Date().getDate() } : {}) }
})
const recipe = computed((): DrillRecipe => {
  const made = {
    material: material.value,
    keys: keys.value,
    meter: meterOf.value,
    bpm: bpm.value,
    doubleTime: doubleTime.value,
    ...(isLine.value ? { hands: hands.value, division: division.value, rhythm: rhythm.value } : {}),
    ...(swing.value ? { swing: 2 } : {}),
    ...(isChords.value
      ? {
          patterns: {
            ...(left.value ? { left: toRaw(left.value) } : {}),
            ...(right.value ? { right: toRaw(right.value) } : {}),
          },
        }
      : {}),
  }
  return { ...made, title: drillTitle(made, settings.noteNames) }
})

/** What is seen of it: the first bars, as soon as nothing changes any more. */
const page = shallowRef<{ musicXml: string; bars: number; version: number }>()
const refused = ref('')
let version = 0
watchDebounced(
  recipe,
  async wanted => {
    const request = ++version
    const made = await usePatternsWorker()
      .drillPage(wanted, settings.reachHalfSteps)
      .catch((error: unknown) => ({ reason: messageOf(error) }))
    if (request !== version) return
    refused.value = 'reason' in made ? made.reason : ''
    if ('made' in made) page.value = { musicXml: made.made.musicXml, bars: made.made.bars, version: request }
  },
  { debounce: 250, immediate: import.meta.client },
)

const hear = () =>
  hearing.toggle('drill', async () => await usePatternsWorker().drill(recipe.value, settings.reachHalfSteps))
</script>

<template>
  <div class="builder">
    <div class="blocks">
      <ChoiceField v-model="kind" label="Material" :choices="choicesFrom(KINDS)" layout="row" />
      <template v-if="kind === 'scale'">
        <ChoiceField v-model="scale" label="Scale" :choices="choicesOf(SCALE_NAMES)" layout="row" />
        <ChoiceField v-model="steps" label="Played" :choices="choicesOf(SCALE_STEPS, one => STEPS[one])" layout="row" />
      </template>
      <ChoiceField
        v-if="kind === 'five-finger'"
        v-model="mode"
        label="Mode"
        :choices="[
          { value: 'major', label: 'major' },
          { value: 'minor', label: 'minor' },
        ]"
        layout="row"
      />
      <ChoiceField
        v-if="kind === 'arpeggio' || kind === 'inversions'"
        v-model="chord"
        label="Chord"
        :choices="choicesFrom(CHORDS)"
        layout="row"
      />
      <ChoiceField
        v-if="kind === 'scale' || kind === 'arpeggio'"
        v-model="octaves"
        label="Octaves"
        :choices="choicesOf([1, 2, 3, 4])"
        layout="row"
      />
      <USwitch
        v-if="kind === 'inversions' || kind === 'sevenths'"
        v-model="isBroken"
        label="Broken, one note after the other"
      />
      <TextField
        v-if="kind === 'progression'"
        v-model="degrees"
        label="Degrees, a bar each"
        maxlength="200"
        spellcheck="false"
        layout="row"
      />
      <UFormField v-if="kind === 'chart'" label="Chart"
        ><UTextarea v-model="chart" :rows="3" spellcheck="false"
      /></UFormField>
      <template v-if="kind === 'against'">
        <TextField v-model.number="against.right" label="Right hand" type="number" min="1" max="12" layout="row" />
        <TextField v-model.number="against.left" label="Left hand" type="number" min="1" max="12" layout="row" />
        <ChoiceField
          v-model="against.beats"
          label="Over"
          :choices="[
            { value: 1, label: 'one beat' },
            { value: 2, label: 'two beats' },
          ]"
          layout="row"
        />
      </template>
      <ChoiceField
        v-if="isLine"
        v-model="hands"
        label="Hands"
        :choices="choicesOf(LINE_HANDS, one => LINE_HANDS_WORDS[one])"
        layout="row"
      />
      <template v-if="isChords">
        <PatternChoice layout="row" v-model="left" :offered="lefts.offered.value" label="Left hand" none="held root" />
        <PatternChoice
          layout="row"
          v-model="right"
          :offered="rights.offered.value"
          label="Right hand"
          none="held chord"
        />
      </template>
      <ChoiceField v-model="order" label="Keys" :choices="choicesOf(KEY_ORDERS, one => ORDERS[one])" layout="row" />
      <ChoiceField
        v-if="order !== 'list'"
        v-model="tonic"
        :label="order === 'one' ? 'Key' : 'From'"
        :choices="choicesOf(TONICS, one => displayName(one, false, settings.noteNames))"
        layout="row"
      />
      <ChoiceField v-if="kind !== 'chart'" v-model="meter" label="Meter" :choices="choicesOf(METERS)" layout="row" />
      <template v-if="isLine">
        <ChoiceField
          v-model="division"
          label="Notes"
          :choices="choicesOf([1, 2, 3, 4] as const, one => DIVISIONS[one])"
          layout="row"
        />
        <ChoiceField
          v-model="rhythm"
          label="Rhythm"
          :choices="choicesOf(RHYTHMS, one => RHYTHM_WORDS[one])"
          layout="row"
        />
      </template>
      <TextField v-model.number="bpm" label="Tempo to reach" type="number" min="20" max="400" layout="row" />
      <USwitch v-model="swing" label="Swing" />
      <USwitch v-model="doubleTime" label="Then in double time" />
    </div>
    <div class="shown">
      <h2>{{ recipe.title }}</h2>
      <p v-if="refused || startProblem || hearing.problem.value" role="alert" class="problem">
        {{ refused || startProblem || hearing.problem.value }}
      </p>
      <div v-if="page" class="paper" role="region" aria-label="How it begins" tabindex="0">
        <EngravedBars
          :music-xml="page.musicXml"
          :score-id="`drill-${page.version}`"
          :first-bar="0"
          :last-bar="Math.min(page.bars, 8) - 1"
          is-unmarked
          label="The first bars"
        />
      </div>
      <div class="acts">
        <UButton
          size="xl"
          icon="i-lucide-play"
          :disabled="refused !== ''"
          :loading="busy !== ''"
          @click="start(recipe)"
        >
          Begin
        </UButton>
        <UButton
          size="xl"
          variant="outline"
          :icon="hearing.playing.value ? 'i-lucide-square' : 'i-lucide-volume-2'"
          :disabled="refused !== ''"
          @click="hear"
        >
          {{ hearing.playing.value ? 'Stop' : 'Hear it' }}
        </UButton>
        <UButton
          size="xl"
          variant="ghost"
          color="neutral"
          icon="i-lucide-download"
          :disabled="refused !== ''"
          @click="saveAsFile(nameOfFile(recipe.title, 'json'), JSON.stringify(recipeDocument(recipe), null, 2))"
        >
          Take the recipe
        </UButton>
      </div>
    </div>
  </div>
</template>

<style scoped>
.builder {
  display: grid;
  grid-template-columns: minmax(17rem, 22rem) minmax(0, 1fr);
  gap: calc(4 * var(--step));
  align-items: start;
}
.blocks {
  --control-width: 12rem;
  display: grid;
  gap: calc(1.5 * var(--step));
}
.shown {
  display: grid;
  gap: calc(2 * var(--step));
}
h2 {
  font-family: var(--font-serif);
  font-size: 1.5rem;
  line-height: 1.3;
}
.paper {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: var(--step) calc(2 * var(--step));
  max-height: 30rem;
  overflow: auto;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
@media (max-width: 56rem) {
  .builder {
    grid-template-columns: 1fr;
  }
}
</style>
