<script setup lang="ts">
import { barAt, tempoAt } from '#core/music/arrangement'
import { tempoBeatQuarters } from '#core/music/meter'
import { dottedBeats, tempoFigure } from '#core/words/amounts'
import { keyEvent } from '#core/ear/take'
import { tempoSteps } from '#core/coach/tempo-steps'
import type { StandPart } from '~/composables/useStandPractice'

const props = defineProps<{ part: StandPart }>()
const { arrangement } = props.part
const { query } = useRoute()
const keyboards = useKeyboardsStore()
const settings = useSettingsStore()

const asked = { stretch: stretchFrom(query), bpm: Number(query.bpm) }
const practice = useStandPractice(props.part, {
  stretch: asked.stretch, hands: (['right', 'left', 'both'] as const).find(one => one === query.hands), mode: query.mode === 'own-time' ? 'own-time' : 'steady',
  bpm: isTempo(asked.bpm) ? asked.bpm : tempoSteps(tempoAt(arrangement, (asked.stretch ?? props.part.stretch).from))[0]!, isLed: query.coach === '1',
})
const { stretch, hands, mode, bpm, targetBpm, isLed, metronome, coach, coachSet, loop, ownTime, isRunning, passes, lastRound, lastPassId, isNow, toggle, again, changeTempo, changeMode, turnHands, goNext } = practice
const { expected, marks, lastHere, atMs, rows, isPaged, shownStretch, name, place, gate, count, chord } = useStandView(props.part, practice)
const stopped = computed(() => !isRunning.value)
/** Tempos are shown and changed in the beats of this meter. */
const meter = computed(() => barAt(arrangement, stretch.value.from).meter)
const TEMPO_STEP = 4
const changeBeats = (by: number) => changeTempo(by * tempoBeatQuarters(meter.value))
const showKeys = ref(false)

/** What the notation shows of the notes, in one page or in turning ones. */
const notation = computed(() => ({
  arrangement, musicXml: props.part.musicXml, scoreId: props.part.arrangementId, expected: expected.value, marks: marks.value, due: ownTime.due.value,
  assessment: stopped.value ? lastHere.value?.assessment : undefined,
  toleranceMs: (stopped.value ? lastHere.value?.assessment.summary.onTimeMs : loop.current.value?.toleranceMs) ?? 0,
}))

const KEYS: Record<string, () => void> = {
  ' ': toggle,
  'Enter': again,
  'ArrowUp': () => changeBeats(TEMPO_STEP),
  'ArrowDown': () => changeBeats(-TEMPO_STEP),
  'PageUp': () => changeTempo(bpm.value),
  'PageDown': () => changeTempo(-bpm.value / 2),
  'ArrowRight': () => turnHands(1),
  'ArrowLeft': () => turnHands(2),
  'F2': () => { metronome.value = !metronome.value },
  'F4': () => { toggleKeys() },
  'F6': () => { if (stopped.value && lastPassId.value) void navigateTo(`/passes/${lastPassId.value}`) },
  'F7': () => { changeMode(mode.value === 'steady' ? 'own-time' : 'steady') },
  'F8': goNext,
  'F9': () => { isLed.value = !isLed.value },
}
const { takes } = useStandKeys(
  () => stopped.value ? KEYS : { ...KEYS, Escape: toggle },
  { start: toggle, again, slower: () => changeBeats(-TEMPO_STEP), faster: () => changeBeats(TEMPO_STEP), next: goNext },
)

onMounted(() => {
  void settings.load().then(() => { if (!coachSet.value.advance) isLed.value = false })
  void coach.load()
  const unhear = keyboards.hear((message, source) => {
    if (takes(message)) return
    ownTime.hear(message)
    loop.hear(message)
    if (!source.silent) return
    const event = keyEvent(message)
    void useSound().start().then((sound) => {
      if (event?.kind === 'down') sound.press(event.pitch, event.velocity)
      if (event?.kind === 'up') sound.release(event.pitch)
    })
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
</script>

<template>
  <div class="stand">
    <header>
      <NuxtLink
        :to="`/songs/${part.song.id}`"
        class="back"
      >
        <UIcon name="i-lucide-arrow-left" /> {{ part.song.title }}
      </NuxtLink>
      <h1>{{ name }} <span>{{ place }}</span></h1>
      <div class="end">
        <OutboxNote />
        <KeyboardChooser />
        <UColorModeButton />
      </div>
    </header>

    <PagedNotation
      v-if="isPaged"
      v-bind="notation"
      class="notation"
      :class="{ 'without-fingers': coachSet.fingering === 'free' }"
      :rows="rows"
      :at-ms="atMs"
    />
    <PartNotation
      v-else
      v-bind="notation"
      class="notation"
      :class="{ 'without-fingers': coachSet.fingering === 'free' }"
      :stretch="shownStretch"
    />

    <OnScreenKeyboard
      v-if="showKeys"
      :keys="keyboards.onScreen"
      :expected="expected"
      :wanted="ownTime.wanted.value"
    />

    <PassSentence
      :passes="passes"
      :last="lastRound"
      :phase="ownTime.isRunning.value ? 'waiting' : loop.phase.value"
      :problem="loop.problem.value"
      :review="stopped ? lastPassId : ''"
    >
      <GateSteps
        v-if="gate"
        v-bind="gate"
      />
      <span
        v-if="count"
        class="count"
      >{{ count }}</span>
      <span
        v-if="chord"
        class="chord"
      >{{ chord.isNow ? '' : 'next ' }}<b>{{ chord.symbol }}</b></span>
    </PassSentence>
    <CautionNote
      v-if="stopped || coach.cautions.value.length"
      class="care"
      :cautions="coach.cautions.value"
    />
    <CoachLine
      v-model="isLed"
      :next="coach.next.value"
      :meter="coach.next.value && barAt(arrangement, coach.next.value.stretch.from).meter"
      :is-here="coach.next.value !== undefined && isNow(coach.next.value)"
      :turn="coach.turn.value"
      :is-loaded="coach.plan.value !== undefined"
      @follow="goNext"
    />

    <footer>
      <BeatStairs
        v-if="mode === 'steady'"
        :beat="loop.beat.value"
        :arrangement="arrangement"
        :stretch="stretch"
        :phase="loop.phase.value"
      />
      <UButton
        size="xl"
        :icon="stopped ? 'i-lucide-play' : 'i-lucide-square'"
        class="start"
        @click="toggle"
      >
        {{ stopped ? 'Start' : 'Stop' }} <kbd>Space</kbd>
      </UButton>
      <UButton
        size="xl"
        variant="outline"
        icon="i-lucide-rotate-ccw"
        @click="again"
      >
        Again
      </UButton>
      <HandsChoice v-model="hands" />
      <fieldset class="mode">
        <legend class="sr-only">
          Time
        </legend>
        <label
          v-for="[value, label] in ([['own-time', 'Own time'], ['steady', 'Click']] as const)"
          :key="value"
          :class="{ on: mode === value }"
        ><input
          type="radio"
          name="mode"
          :value="value"
          :checked="mode === value"
          @change="changeMode(value)"
        >{{ label }}</label>
      </fieldset>
      <div
        class="tempo"
        role="group"
        aria-label="Tempo"
      >
        <UButton
          size="xl"
          variant="outline"
          icon="i-lucide-minus"
          aria-label="Slower"
          @click="changeBeats(-TEMPO_STEP)"
        />
        <output
          class="figure"
          aria-live="off"
        ><strong>{{ tempoFigure(bpm, meter) }}</strong> <span>of {{ tempoFigure(targetBpm, meter) }}{{ dottedBeats(meter) ? '' : ' bpm' }}</span><span
          v-if="dottedBeats(meter)"
          class="beats"
        >{{ dottedBeats(meter) }}</span></output>
        <UButton
          size="xl"
          variant="outline"
          icon="i-lucide-plus"
          aria-label="Faster"
          @click="changeBeats(TEMPO_STEP)"
        />
      </div>
      <UButton
        v-if="mode === 'steady'"
        size="xl"
        :variant="metronome ? 'soft' : 'ghost'"
        icon="i-lucide-metronome"
        aria-label="Metronome"
        title="Metronome (F2)"
        :aria-pressed="metronome"
        @click="metronome = !metronome"
      />
      <UButton
        size="xl"
        :variant="showKeys ? 'soft' : 'ghost'"
        icon="i-lucide-keyboard-music"
        aria-label="Keys on the screen"
        title="Keys on the screen (F4)"
        :aria-pressed="showKeys"
        @click="toggleKeys"
      />
    </footer>
    <p class="keys">
      <kbd>Space</kbd> start and stop · <kbd>Enter</kbd> again · <kbd>↑</kbd> <kbd>↓</kbd> tempo, <kbd>Page ↑</kbd> <kbd>Page ↓</kbd> double and half · <kbd>←</kbd> <kbd>→</kbd> hands · <kbd>F2</kbd> metronome · <kbd>F4</kbd> keys on the screen · <kbd>F6</kbd> review the last pass · <kbd>F7</kbd> own time or click · <kbd>F8</kbd> next · <kbd>F9</kbd> let the coach lead.
    </p>
  </div>
</template>

<style scoped>
.stand { min-height: 100vh; display: flex; flex-direction: column; }
.notation { flex: 1; }
.without-fingers :deep(.fing) { display: none; }
.care { margin: 0 auto var(--step); max-width: 60rem; }
.count, .chord { font-size: 1.25rem; color: var(--ink-soft); }
.chord b { font-size: 1.75rem; color: var(--ink); }
.mode { display: flex; gap: 2px; border: none; }
.mode label { position: relative; padding: 0.55rem 0.9rem; background: var(--tread); cursor: pointer; min-height: 2.75rem; }
.mode .on { background: var(--ink); color: var(--sheet); font-weight: 600; }
.mode input { position: absolute; opacity: 0; inset: 0; cursor: pointer; }
.mode label:focus-within { outline: 3px solid var(--together); outline-offset: 2px; }
header { display: flex; flex-wrap: wrap; align-items: center; gap: calc(3 * var(--step)); padding: var(--step) calc(3 * var(--step)); background: var(--sheet); border-bottom: 1px solid var(--rule); }
.back { display: inline-flex; align-items: center; gap: 0.4rem; color: var(--ink-soft); padding: 0.3rem 0; }
h1 { font-size: 1.35rem; font-weight: 600; }
h1 span { color: var(--ink-soft); font-weight: 400; font-size: 1rem; margin-left: 0.5rem; }
.end { margin-left: auto; display: flex; align-items: center; gap: calc(1.5 * var(--step)); }
footer { display: flex; flex-wrap: wrap; align-items: center; justify-content: center; gap: var(--step) calc(2 * var(--step)); padding: var(--step) calc(3 * var(--step)); background: var(--sheet); border-top: 1px solid var(--rule); }
.start { min-width: 9.5rem; justify-content: center; }
.tempo { display: flex; align-items: center; gap: calc(1.5 * var(--step)); }
.tempo output { min-width: 8rem; text-align: center; color: var(--ink-soft); }
.tempo strong { font-size: 2rem; color: var(--ink); }
.beats { display: block; font-size: 0.8rem; line-height: 1.1; }
.keys { background: var(--sheet); text-align: center; color: var(--ink-soft); font-size: 0.8rem; padding: 0 calc(2 * var(--step)) 0.25rem; }
kbd { font: inherit; font-size: 0.85em; border: 1px solid currentColor; border-radius: 0.25rem; padding: 0 0.35em; }
</style>
