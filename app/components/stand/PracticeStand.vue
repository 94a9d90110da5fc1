<script setup lang="ts">
import type { StandPart } from '../../composables/stand/practised'
import { provideStand } from '~/composables/stand/standContext'
import { useKeysSound } from '~/composables/sound/useKeysSound'
import { useMarkedBars } from '~/composables/stand/useMarkedBars'
import { useOneListener } from '~/composables/stand/useOneListener'
import { useStandCommands } from '~/composables/stand/useStandCommands'
import { useStandKeys } from '~/composables/stand/useStandKeys'
import { useStandPage } from '~/composables/stand/useStandPage'
import { isTempo, useStandPractice } from '~/composables/stand/useStandPractice'
import { useStandView } from '~/composables/stand/useStandView'
import { useOwnPart } from '~/composables/workbench/useOwnPart'
import { useKeyboardsStore } from '~/stores/keyboards'
import { useSettingsStore } from '~/stores/settings'
import { describePass } from '~/utils/stand/describePass'
import { barsFrom, howOftenFrom, stretchFrom } from '~/utils/stand/standLink'
import { sentence } from '~/utils/ui/sentence'
import { barAt, tempoAt, HANDS } from '#core/music/arrangement'
import { isCompound, isCountedFiner } from '#core/music/meter'
import { tempoSteps } from '#core/coach/tempo-steps'
import { describeStretch } from '#core/words/places'
import { isolatedPassageText } from '#core/words/stand'
import { reasonText } from '#core/words/coach'
import { NOTHING_ALONG } from '#shared/utils/sound'

const props = defineProps<{ part: StandPart }>()
const { arrangement } = props.part
const { query } = useRoute()
const keyboards = useKeyboardsStore()
const settings = useSettingsStore()

const asked = { stretch: stretchFrom(query) ?? barsFrom(query, arrangement), bpm: Number(query.bpm) }
const practice = useStandPractice(props.part, {
  stretch: asked.stretch,
  hands: HANDS.find(one => one === query.hands),
  mode: (['own-time', 'free'] as const).find(one => one === query.mode) ?? 'steady',
  bpm: isTempo(asked.bpm)
    ? asked.bpm
    : tempoSteps(tempoAt(arrangement, (asked.stretch ?? props.part.stretch).from))[0]!,
  isLed: query.coach === '1',
  howOften: howOftenFrom(query),
  along: useLocalStorage(`half-step:along:${props.part.song.id}`, { ...NOTHING_ALONG }, { initOnMounted: true }),
})
const {
  state,
  stretch,
  hands,
  mode,
  bpm,
  targetBpm,
  isLed,
  howOften,
  coach,
  coachSet,
  loop,
  ownTime,
  along,
  playAlong,
  recording,
  hearAgain,
  isRunning,
  passes,
  lastRound,
  lastPassId,
  moved,
  before,
  isNow,
  choose,
} = practice
const view = useStandView(props.part, practice)
const { expected, atMs, breaks, clockBpm, name, place, isExpected, expectedWords, outcome, alone, gate, count, chord } =
  view
const stopped = computed(() => !isRunning.value)
/** Tempos are shown in the beats of this meter. */
const meter = computed(() => barAt(arrangement, stretch.value.from).meter)
const showKeys = ref(false)
const isHelpOpen = ref(false)
useHead({
  title: () =>
    `${name.value}, ${describePass({ hands: hands.value, mode: mode.value, bpm: bpm.value, meter: meter.value })} · Half Step`,
})

const { showsSong, isWhole, shownPassage, size, otherParts, fingers, isDrawn, notation, words } = useStandPage(
  props.part,
  practice,
  view,
)

const marked = useMarkedBars({
  arrangement,
  stretch: () => stretch.value,
  expected: () => expected.value,
  atMs: () => atMs.value,
  mark: next => choose({ stretch: next }),
})
const isOwn = computed(() => before.value !== undefined)
const isChoosing = ref(howOften.value.until !== 'stopped' || query.bars !== undefined)
/** The player chooses what is played. */
function leaveCoach() {
  isChoosing.value = true
  isLed.value = false
}
watch(isLed, led => {
  if (led) isChoosing.value = false
})
const ownPart = useOwnPart(props.part.song.id, arrangement, () => coach.load())

const { toggle: toggleFullscreen } = useFullscreen()
const wakeLock = useWakeLock()
watch(isRunning, running => void (running ? wakeLock.request('screen') : wakeLock.release()).catch(() => {}))

const isSoundOpen = ref(false)
const isDrillOpen = ref(false)
const { keys, actions, tap, stepTempo } = useStandCommands(
  practice,
  marked,
  {
    sound: isSoundOpen,
    drill: isDrillOpen,
    help: isHelpOpen,
    song: showsSong,
    pianoKeys: toggleKeys,
    fullscreen: () => void toggleFullscreen(),
    review: id => void navigateTo(`/passes/${id}`),
  },
  () => meter.value,
  () => {
    isChoosing.value = true
  },
)
const { takes } = useStandKeys(
  () => keys.value,
  actions,
  () => settings.controls,
)

provideStand({
  part: props.part,
  practice,
  marked,
  ownPart,
  stopped,
  meter,
  showsKeys: showKeys,
  showsSong,
  isHelpOpen,
  toggleKeys,
  toggleFullscreen: () => void toggleFullscreen(),
  tap,
  stepTempo,
})

const soundKey = useKeysSound()
/** Back to where the player came from: the song, or the first steps. */
const way = computed(() =>
  query.steps === '1'
    ? { to: { path: '/first-steps', query: { step: 'sentence', song: props.part.song.id } }, label: 'First steps' }
    : { to: `/songs/${props.part.song.id}`, label: props.part.song.title },
)

const { claim } = useOneListener(() => `${name.value}, ${props.part.song.title}`, {
  taken: page => practice.yieldTo(page),
  mine: () => practice.takeBack(),
})

onMounted(() => {
  claim()
  void settings.load().then(() => {
    if (!coachSet.value.advance) isLed.value = false
  })
  void coach.load()
  void recording.load()
  const unhear = keyboards.hear((message, source) => {
    if (state.value.at === 'elsewhere' || takes(message)) return
    practice.hear(message)
    soundKey(message, source)
  })
  onBeforeUnmount(() => {
    unhear()
    keyboards.simulated.rest()
  })
})

function toggleKeys() {
  showKeys.value = !showKeys.value
  keyboards.choose('on-screen', showKeys.value)
}

/** Somebody without a keyboard plays on these. */
function playOn(id: 'on-screen' | 'computer-keys') {
  keyboards.choose(id, true)
  if (id === 'on-screen') showKeys.value = true
  practice.begin()
}

/** What the treads beside it say already. */
const COUNTED = new Set(['in-a-row', 'no-wrong-key', 'spot-in-a-row'])
/** Why the coach moves on or stays. */
const why = computed(() => {
  const next = coach.next.value
  const because = moved.value?.because ?? (next && isNow(next) ? next.because : undefined)
  const words = because && !(gate.value && COUNTED.has(because.kind)) ? sentence(reasonText(because, meter.value)) : ''
  const isFiner = mode.value === 'steady' && isCountedFiner(bpm.value, meter.value)
  return `${words}${isFiner ? ` The click divides the beat${isCompound(meter.value) ? ' in three' : ''}.` : ''}`
})
const isAlert = computed(() => ['no-keyboard', 'interrupted', 'elsewhere', 'silence'].includes(isExpected.value.kind))
const aloneWords = computed(() =>
  alone.value
    ? isolatedPassageText(
        alone.value,
        describeStretch(arrangement, alone.value.stretch),
        barAt(arrangement, alone.value.stretch.from).meter,
      )
    : '',
)

function playAlone() {
  isChoosing.value = true
  choose({ ...alone.value!, mode: 'steady' })
  practice.begin()
}
</script>

<template>
  <div class="stand" :class="{ 'without-fingers': coachSet.fingering === 'free' }">
    <header>
      <Tip :text="`To ${way.label}`"
        ><NuxtLink :to="way.to" class="back">
          <UIcon name="i-lucide-arrow-left" class="icon" /> <span class="title">{{ way.label }}</span>
        </NuxtLink></Tip
      >
      <h1>
        {{ name }} <span>{{ place }}</span>
      </h1>
      <div class="end">
        <OutboxNote />
        <KeyboardChooser />
        <SoundPanel
          v-model:open="isSoundOpen"
          :along="along"
          :sound="settings.sound"
          :hands="hands"
          :meter="meter"
          :roles="arrangement.others.filter(role => !role.silent).map(role => role.name)"
          :is-on="playAlong.isOn.value || recording.state.value === 'ready'"
          :recording="recording"
          @along="along = { ...along, ...$event }"
          @sound="settings.changeSound"
        />
        <DrillPanel
          v-model:open="isDrillOpen"
          :part="part"
          :stretch="stretch"
          :hands="hands"
          :target-bpm="targetBpm"
          :may-open="stopped"
        />
        <StandLookMenu />
      </div>
    </header>

    <LazySungWords v-if="along.guide && words.length > 0" :lines="words" :at-ms="atMs" />
    <StandPage
      v-bind="notation"
      class="notation"
      :passage="shownPassage"
      :is-whole="isWhole"
      :bpm="clockBpm"
      :breaks="breaks"
      :size="size"
      :parts="otherParts"
      :fingers="fingers"
      :has-fingers="coachSet.fingering !== 'free'"
      :at-ms="atMs"
      :marked="isOwn ? stretch : undefined"
      :may-mark="stopped"
      @mark="marked.mark"
      @drawn="isDrawn = true"
    >
      <CautionNote v-if="stopped || coach.cautions.value.length" class="care" :cautions="coach.cautions.value" />
    </StandPage>

    <OnScreenKeyboard v-if="showKeys" :keys="keyboards.onScreen" :expected="expected" :wanted="ownTime.wanted.value" />

    <StandLine
      :expected="expectedWords"
      :why="why"
      :outcome="outcome"
      :last="lastRound"
      :pass-count="passes.length"
      :problem="loop.problem.value || ownPart.problem.value"
      :is-resting="stopped"
      :is-alert="isAlert"
      :review="stopped ? lastPassId : ''"
      :alone="alone"
      :alone-words="aloneWords"
      :may-hear="stopped && lastRound !== undefined && lastRound.take.notes.length > 0"
      @alone="playAlone"
      @hear="hearAgain"
    >
      <template #sign>
        <StateSign :state="state" :beat="loop.beat.value" :arrangement="arrangement" :stretch="stretch" />
      </template>
      <div v-if="isExpected.kind === 'no-keyboard'" class="choices">
        <UButton variant="outline" @click="playOn('on-screen')"> Keys on the screen </UButton>
        <UButton variant="outline" @click="playOn('computer-keys')"> Computer keyboard </UButton>
      </div>
      <UButton v-if="state.at === 'elsewhere'" variant="outline" @click="claim"> Listen here </UButton>
      <GateSteps v-if="gate" v-bind="gate" />
      <span v-if="count" class="count">{{ count }}</span>
      <span v-if="chord" class="chord"
        >{{ chord.isNow ? '' : 'next ' }}<b>{{ chord.symbol }}</b></span
      >
    </StandLine>

    <LazyLoopBar v-if="isOwn || isChoosing">
      <Tip v-if="!isOwn" text="The coach goes on by itself (F9)"><USwitch v-model="isLed" label="Coach leads" /></Tip>
    </LazyLoopBar>
    <CoachLine v-else @own="leaveCoach" />

    <StandControlBar />
    <LazyStandKeysHelp v-if="isHelpOpen" v-model:open="isHelpOpen" />
  </div>
</template>

<style scoped>
.stand {
  height: 100dvh;
  display: flex;
  flex-direction: column;
  overflow: hidden;
  padding: env(safe-area-inset-top) env(safe-area-inset-right) env(safe-area-inset-bottom) env(safe-area-inset-left);
}
.notation {
  flex: 1;
}
.without-fingers :deep(.fing) {
  display: none;
}
.care {
  position: absolute;
  left: calc(2 * var(--step));
  right: calc(2 * var(--step));
  bottom: var(--step);
  max-width: 60rem;
  margin: 0 auto;
  z-index: 3;
}
.count,
.chord {
  font-size: 1.1em;
  color: var(--ink-soft);
  white-space: nowrap;
}
.chord b {
  font-size: 1.4em;
  color: var(--ink);
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  justify-content: end;
}
header {
  display: flex;
  align-items: center;
  gap: calc(2 * var(--step));
  padding: 0 calc(2 * var(--step));
  min-height: 3.1rem;
  background: var(--sheet);
  border-bottom: 1px solid var(--rule);
}
.back {
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
  color: var(--ink-soft);
  min-height: 2.75rem;
  min-width: 2.75rem;
  max-width: 16rem;
  flex: 0 1 auto;
}
.back .title,
h1 {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
h1 {
  font-size: 1.25rem;
  font-weight: 600;
  flex: 1 1 0;
  min-width: 0;
}
h1 span {
  color: var(--ink-soft);
  font-weight: 400;
  font-size: 1rem;
  margin-left: 0.5rem;
}
.end {
  display: flex;
  align-items: center;
  gap: var(--step);
  flex: none;
}
@media (max-width: 46rem), (max-height: 32rem) {
  .stand {
    font-size: 0.86em;
  }
  header {
    gap: var(--step);
    padding: 0 var(--step);
    min-height: 2.75rem;
  }
  .back .title {
    display: none;
  }
  h1 {
    font-size: 1rem;
  }
}
@media (max-width: 46rem) {
  h1 span {
    font-size: 0.85rem;
  }
  .end :deep(.text) {
    display: none;
  }
}
</style>
