<script setup lang="ts">
import { tempoAt, type Arrangement, type Hands } from '#core/music/arrangement'
import { keyEvent } from '#core/ear/take'
import { chordAhead } from '#core/music/chord-ahead'
import { countBar, subdivisionOf } from '#core/music/counting'
import { barAt } from '#core/music/arrangement'
import { describeStretch, expectedNotes, isSameStretch, notesWithin, stretchPassage, type Stretch } from '#core/music/passage'
import { compare, subtract } from '#core/music/quarters'
import type { NextPass } from '#core/coach/song-plan'
import { gateOf } from '#core/coach/gate'
import { COACH_DEFAULTS } from '#core/coach/settings'
import { tempoSteps } from '#core/coach/tempo-steps'
import type { EndedPass, LoopChoice } from '~/composables/usePracticeLoop'

const props = defineProps<{
  part: { id: string, name: string, stretch: Stretch, song: { id: string, title: string }, arrangementId: string, arrangement: Arrangement, musicXml: string }
}>()
const { arrangement } = props.part
const route = useRoute()
const keyboards = useKeyboardsStore()
const outbox = useOutboxStore()
const settings = useSettingsStore()

const LEAST_BPM = 20
const MOST_BPM = 300
/** What is played now; it holds from the next pass on. */
const stretch = shallowRef<Stretch>(stretchFrom(route.query) ?? props.part.stretch)
const hands = ref<Hands>((['right', 'left', 'both'] as const).find(one => one === route.query.hands) ?? 'right')
const mode = ref<'steady' | 'own-time'>(route.query.mode === 'own-time' ? 'own-time' : 'steady')
const targetBpm = computed(() => tempoAt(arrangement, stretch.value.from))
const asked = Number(route.query.bpm)
const bpm = ref(asked >= LEAST_BPM && asked <= MOST_BPM ? asked : tempoSteps(targetBpm.value)[0]!)
const coach = useCoach(props.part.song.id, arrangement, stage => isSameStretch(stage.unit.stretch, stretch.value) && stage.hands === hands.value)
/** The coach goes on by itself. Whoever came for one tread stays on it. */
const isLed = ref(route.query.coach === '1')

const metronome = ref(true)
const showKeys = ref(false)
const passes = shallowRef<EndedPass[]>([])
const lastRound = shallowRef<EndedPass>()
const lastPassId = ref('')
/** Nobody is at the keys any more. */
const MOST_SILENT_ROUNDS = 4
let silentRounds = 0

const choice = (): LoopChoice => ({
  stretch: stretch.value, hands: hands.value, bpm: bpm.value, restBars: coachSet.value.restBars, strictness: settings.strictness, keyboardDelayMs: settings.keyboardDelayMs,
})
const loop = usePracticeLoop({
  arrangement, choice,
  metronome: () => metronome.value,
  roundBegins: ({ expected: due, startMs }) => keyboards.simulated.prepare(due, startMs),
  passEnded,
})
const ownTime = useOwnTime({ arrangement, choice, waitsFor: pitches => keyboards.simulated.answer(pitches), passEnded })
const coachSet = computed(() => ({ ...COACH_DEFAULTS, ...settings.coach }))

function passEnded(pass: EndedPass) {
  lastRound.value = pass
  silentRounds = pass.take.notes.length > 0 ? 0 : silentRounds + 1
  if (silentRounds >= MOST_SILENT_ROUNDS) loop.stop()
  // A round in which no key was struck is not a pass.
  if (silentRounds > 0) return
  passes.value = [...passes.value, pass]
  lastPassId.value = crypto.randomUUID()
  const part = partAt(pass.stretch)
  const isPart = isSameStretch(pass.stretch, part?.stretch ?? props.part.stretch)
  void outbox.keep({
    id: lastPassId.value, partId: part?.id ?? props.part.id, hands: pass.hands, mode: pass.mode, bpm: pass.bpm, lengthMs: pass.lengthMs, offsetMs: pass.keyboardDelayMs,
    ...(isPart ? {} : { stretch: pass.stretch }), strictness: pass.strictness, take: pass.take,
    startedAt: new Date(pass.endedAt.getTime() - pass.lengthMs).toISOString(),
  })
  coach.hear(pass)
  const next = coach.next.value
  if (isLed.value && next && !isNow(next)) follow(next, true)
  else if (pass.mode === 'own-time') ownTime.start()
}

/** The part that a stretch begins in: where its passes are kept. */
function partAt({ from }: Stretch) {
  const found = coach.plan.value?.parts.findLast(part => compare(part.from, from) <= 0 && compare(from, part.to) < 0)
  return found && { id: found.id, name: found.name, stretch: { from: found.from, to: found.to } }
}
const isNow = (next: NextPass) => isSameStretch(next.stretch, stretch.value) && next.hands === hands.value && next.mode === mode.value && (next.mode === 'own-time' || Math.abs(next.bpm - bpm.value) < 0.5)

/** Goes where the coach points; what was running goes on there, after a soft cue. */
function follow(next: NextPass, wasRunning: boolean) {
  const isSamePlace = isSameStretch(next.stretch, stretch.value) && next.hands === hands.value && next.mode === mode.value
  const cue = !isSamePlace ? 'other' as const : next.bpm > bpm.value ? 'up' as const : 'down' as const
  const before = mode.value
  stretch.value = next.stretch
  hands.value = next.hands
  mode.value = next.mode
  bpm.value = next.bpm
  if (!wasRunning) return
  if (before === 'steady' && next.mode === 'steady') return loop.moveOn(cue)
  loop.stop()
  ownTime.stop()
  void useSound().start().then(sound => sound.cue(cue))
  begin()
}

const isRunning = computed(() => loop.phase.value !== 'stopped' || ownTime.isRunning.value)
const stopped = computed(() => !isRunning.value)
const shownHands = computed(() => loop.phase.value === 'stopped' ? hands.value : loop.current.value?.hands ?? hands.value)
/** The part around what is played, so that the page stays where it is when a place in it is practised. */
const shownStretch = computed<Stretch>(() => {
  const part = partAt(stretch.value)?.stretch ?? props.part.stretch
  return compare(stretch.value.from, part.from) >= 0 && compare(stretch.value.to, part.to) <= 0 ? part : stretch.value
})
const expected = computed(() => ownTime.isRunning.value
  ? ownTime.current.value!.expected
  : loop.phase.value !== 'stopped' && loop.current.value
    ? loop.current.value.expected
    : expectedNotes(arrangement, stretchPassage(stretch.value.from, stretch.value.to, shownHands.value), bpm.value))
const marks = computed(() => ownTime.isRunning.value ? ownTime.marks.value : loop.marks.value)
/** The last pass, if it is of the notes now shown. */
const lastHere = computed(() => lastRound.value?.hands === hands.value && isSameStretch(lastRound.value.stretch, stretch.value) ? lastRound.value : undefined)
const name = computed(() => {
  const part = partAt(stretch.value)
  if (!part) return props.part.name
  if (isSameStretch(part.stretch, stretch.value)) return part.name
  const unit = coach.plan.value?.stages.find(stage => isSameStretch(stage.unit.stretch, stretch.value))?.unit
  return unit ? sentence(unit.name).replace(/\.$/, '') : `A place in ${part.name}`
})
const place = computed(() => describeStretch(arrangement, stretch.value))

/** How near the gate is, of what is played now. */
const gate = computed(() => coach.plan.value && gateOf(coach.plan.value, coach.standing.value, stretch.value, hands.value, mode.value === 'own-time'))

/** The count of a bar, as fine as these notes need it. */
const count = computed(() => {
  if (!coachSet.value.counting) return ''
  const bar = barAt(arrangement, stretch.value.from)
  const notes = notesWithin(arrangement, stretch.value).filter(note => hands.value === 'both' || note.hand === hands.value)
  return countBar(bar.meter, subdivisionOf(bar.meter, notes.map(note => subtract(note.onset, arrangement.bars[note.barIndex]!.start)))).join(' ')
})
/** The chord to come, called before the change. */
const chord = computed(() => {
  if (!coachSet.value.chordNames) return undefined
  if (ownTime.isRunning.value) {
    const id = expected.value[ownTime.due.value[0] ?? 0]?.id
    return chordAhead(arrangement, arrangement.notes.find(note => note.id === id)?.onset ?? stretch.value.from, stretch.value)
  }
  const [round, beat] = [loop.current.value, loop.beat.value]
  if (!round || !beat || loop.phase.value === 'stopped') return undefined
  const intoMs = beat.atMs - round.startMs
  const at = expected.value.findLast(note => note.onsetMs <= intoMs + 1)
  return chordAhead(arrangement, at ? arrangement.notes.find(note => note.id === at.id)!.onset : stretch.value.from, stretch.value, !at)
})

const chordText = (symbol: string) => symbol.replace(/([A-G])#/g, '$1♯').replace(/([A-G])b/g, '$1♭')

onMounted(() => {
  void settings.load().then(() => { if (!coachSet.value.advance) isLed.value = false })
  void coach.load()
  const unhear = keyboards.hear((message, source) => {
    const event = keyEvent(message)
    if (takesControl(message)) return
    ownTime.hear(message)
    loop.hear(message)
    if (!source.silent) return
    void useSound().start().then((sound) => {
      if (event?.kind === 'down') sound.press(event.pitch, event.velocity)
      if (event?.kind === 'up') sound.release(event.pitch)
    })
  })
  window.addEventListener('keydown', onKey)
  onBeforeUnmount(() => {
    unhear()
    window.removeEventListener('keydown', onKey)
    keyboards.simulated.rest()
  })
})

/** Keys and pedals of the piano that the player has given to the Stand. */
function takesControl({ bytes }: { bytes: ArrayLike<number> }): boolean {
  const [status = 0, first = 0, second = 0] = [bytes[0], bytes[1], bytes[2]]
  const kind = status & 0xF0
  const trigger = kind === 0x90 || kind === 0x80 ? { key: first } : kind === 0xB0 && (first === 64 || first === 66 || first === 67) ? { pedal: first as 64 } : undefined
  const action = STAND_ACTIONS.find(one => isSameTrigger(settings.controls[one], trigger))
  if (!action) return false
  if (kind === 0x90 ? second > 0 : kind === 0xB0 && second >= 64) ACTIONS[action]()
  return true
}

function begin() {
  if (mode.value === 'own-time') ownTime.start()
  else void loop.start()
}

function toggle() {
  if (stopped.value) return begin()
  loop.stop()
  ownTime.stop()
  keyboards.simulated.rest()
}

/** From the beginning, as it is set now. */
function again() {
  if (loop.phase.value !== 'stopped' && mode.value === 'steady') return loop.moveOn('other')
  loop.stop()
  begin()
}

function changeTempo(by: number) {
  bpm.value = Math.min(MOST_BPM, Math.max(LEAST_BPM, Math.round(bpm.value) + by))
}

function changeMode(to: 'steady' | 'own-time') {
  if (mode.value === to) return
  const wasRunning = isRunning.value
  loop.stop()
  ownTime.stop()
  keyboards.simulated.rest()
  mode.value = to
  if (wasRunning) begin()
}

/** Where the coach would go; the same again where it would stay. */
function goNext() {
  const next = coach.next.value
  if (next && !isNow(next)) follow(next, isRunning.value)
  else again()
}

const ACTIONS: Record<StandAction, () => void> = { start: toggle, again, slower: () => changeTempo(-4), faster: () => changeTempo(4), next: goNext }
const HANDS_IN_TURN: Hands[] = ['left', 'both', 'right']
function turnHands(by: number) {
  hands.value = HANDS_IN_TURN[(HANDS_IN_TURN.indexOf(hands.value) + by) % 3]!
  if (ownTime.isRunning.value) ownTime.start()
}
const KEYS: Record<string, () => void> = {
  ' ': toggle,
  'Enter': again,
  'ArrowUp': () => changeTempo(4),
  'ArrowDown': () => changeTempo(-4),
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

/** A control that was reached with the keyboard keeps the keys it needs itself; one that was clicked does not. */
function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  if (event.key === 'Escape' && stopped.value) return
  const act = event.key === 'Escape' ? toggle : Object.hasOwn(KEYS, event.key) ? KEYS[event.key] : undefined
  const target = event.target as HTMLElement | null
  if (!act || target?.closest('input, select, textarea, [role="dialog"]')) return
  if ((event.key === ' ' || event.key === 'Enter') && target?.closest('button, a')?.matches(':focus-visible')) return
  event.preventDefault()
  if (!event.repeat || event.key.startsWith('Arrow')) act()
}

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

    <PartNotation
      class="notation"
      :class="{ 'without-fingers': coachSet.fingering === 'free' }"
      :arrangement="arrangement"
      :music-xml="part.musicXml"
      :score-id="part.arrangementId"
      :stretch="shownStretch"
      :expected="expected"
      :marks="marks"
      :due="ownTime.due.value"
      :assessment="stopped ? lastHere?.assessment : undefined"
      :tolerance-ms="(stopped ? lastHere?.assessment.summary.onTimeMs : loop.current.value?.toleranceMs) ?? 0"
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
      >{{ chord.isNow ? '' : 'next ' }}<b>{{ chordText(chord.symbol) }}</b></span>
    </PassSentence>
    <CautionNote
      v-if="stopped || coach.cautions.value.length"
      class="care"
      :cautions="coach.cautions.value"
    />
    <CoachLine
      v-model="isLed"
      :next="coach.next.value"
      :is-here="coach.next.value !== undefined && isNow(coach.next.value)"
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
          @click="changeTempo(-4)"
        />
        <output
          class="figure"
          aria-live="off"
        ><strong>{{ Math.round(bpm) }}</strong> <span>of {{ Math.round(targetBpm) }} bpm</span></output>
        <UButton
          size="xl"
          variant="outline"
          icon="i-lucide-plus"
          aria-label="Faster"
          @click="changeTempo(4)"
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
.keys { background: var(--sheet); text-align: center; color: var(--ink-soft); font-size: 0.8rem; padding: 0 calc(2 * var(--step)) 0.25rem; }
kbd { font: inherit; font-size: 0.85em; border: 1px solid currentColor; border-radius: 0.25rem; padding: 0 0.35em; }
</style>
