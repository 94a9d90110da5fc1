<script setup lang="ts">
import { tempoAt, type Arrangement, type Hands } from '#core/music/arrangement'
import { keyEvent } from '#core/ear/take'
import { describeStretch, expectedNotes, stretchPassage, type Stretch } from '#core/music/passage'
import { tempoSteps } from '#core/coach/tempo-steps'
import type { EndedPass } from '~/composables/usePracticeLoop'

const props = defineProps<{
  part: { id: string, name: string, stretch: Stretch, song: { id: string, title: string }, arrangementId: string, arrangement: Arrangement, musicXml: string }
}>()
const { arrangement, stretch } = props.part
const route = useRoute()
const keyboards = useKeyboardsStore()
const outbox = useOutboxStore()
const settings = useSettingsStore()

const targetBpm = tempoAt(arrangement, stretch.from)
const steps = tempoSteps(targetBpm)
const LEAST_BPM = 20
const MOST_BPM = 300
const asked = Number(route.query.bpm)
const bpm = ref(asked >= LEAST_BPM && asked <= MOST_BPM ? asked : steps[0]!)
const hands = ref<Hands>((['right', 'left', 'both'] as const).find(one => one === route.query.hands) ?? 'right')
const metronome = ref(true)
const showKeys = ref(false)
const passes = shallowRef<EndedPass[]>([])
const lastRound = shallowRef<EndedPass>()
const lastPassId = ref('')
/** Nobody is at the keys any more. */
const MOST_SILENT_ROUNDS = 4
let silentRounds = 0

const loop = usePracticeLoop({
  arrangement, stretch,
  choice: () => ({ hands: hands.value, bpm: bpm.value, strictness: settings.strictness, keyboardDelayMs: settings.keyboardDelayMs }),
  metronome: () => metronome.value,
  roundBegins: ({ expected: due, startMs }) => keyboards.simulated.prepare(due, startMs),
  passEnded: (pass) => {
    lastRound.value = pass
    silentRounds = pass.take.notes.length > 0 ? 0 : silentRounds + 1
    if (silentRounds >= MOST_SILENT_ROUNDS) loop.stop()
    // A round in which no key was struck is not a pass.
    if (silentRounds > 0) return
    passes.value = [...passes.value, pass]
    lastPassId.value = crypto.randomUUID()
    void outbox.keep({
      id: lastPassId.value, partId: props.part.id, hands: pass.hands, bpm: pass.bpm, lengthMs: pass.lengthMs, offsetMs: pass.keyboardDelayMs,
      strictness: pass.strictness, take: pass.take,
      startedAt: new Date(pass.endedAt.getTime() - pass.lengthMs).toISOString(),
    })
  },
})
const stopped = computed(() => loop.phase.value === 'stopped')
const shownHands = computed(() => stopped.value ? hands.value : loop.current.value?.hands ?? hands.value)
const expected = computed(() => !stopped.value && loop.current.value
  ? loop.current.value.expected
  : expectedNotes(arrangement, stretchPassage(stretch.from, stretch.to, shownHands.value), bpm.value))
/** The last pass, if it is of the notes now shown. */
const lastHere = computed(() => lastRound.value?.hands === hands.value ? lastRound.value : undefined)
const place = describeStretch(arrangement, stretch)

onMounted(() => {
  void settings.load()
  const unhear = keyboards.hear((message, source) => {
    loop.hear(message)
    if (!source.silent) return
    const event = keyEvent(message)
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

function toggle() {
  if (stopped.value) void loop.start()
  else {
    loop.stop()
    keyboards.simulated.rest()
  }
}

function changeTempo(by: number) {
  bpm.value = Math.min(MOST_BPM, Math.max(LEAST_BPM, Math.round(bpm.value) + by))
}

const HANDS_IN_TURN: Hands[] = ['left', 'both', 'right']
const KEYS: Record<string, () => void> = {
  ' ': toggle,
  'ArrowUp': () => changeTempo(4),
  'ArrowDown': () => changeTempo(-4),
  'ArrowRight': () => { hands.value = HANDS_IN_TURN[(HANDS_IN_TURN.indexOf(hands.value) + 1) % 3]! },
  'ArrowLeft': () => { hands.value = HANDS_IN_TURN[(HANDS_IN_TURN.indexOf(hands.value) + 2) % 3]! },
  'F2': () => { metronome.value = !metronome.value },
  'F4': () => { toggleKeys() },
  'F6': () => { if (stopped.value && lastPassId.value) void navigateTo(`/passes/${lastPassId.value}`) },
}

/** A control that was reached with the keyboard keeps the keys it needs itself; one that was clicked does not. */
function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  if (event.key === 'Escape' && stopped.value) return
  const act = event.key === 'Escape' ? toggle : Object.hasOwn(KEYS, event.key) ? KEYS[event.key] : undefined
  const target = event.target as HTMLElement | null
  if (!act || target?.closest('input, select, textarea, [role="dialog"]')) return
  if (event.key === ' ' && target?.closest('button, a')?.matches(':focus-visible')) return
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
      <h1>{{ part.name }} <span>{{ place }}</span></h1>
      <div class="end">
        <OutboxNote />
        <KeyboardChooser />
        <UColorModeButton />
      </div>
    </header>

    <PartNotation
      class="notation"
      :arrangement="arrangement"
      :music-xml="part.musicXml"
      :score-id="part.arrangementId"
      :stretch="stretch"
      :expected="expected"
      :marks="loop.marks.value"
      :assessment="stopped ? lastHere?.assessment : undefined"
      :tolerance-ms="(stopped ? lastHere?.assessment.summary.onTimeMs : loop.current.value?.toleranceMs) ?? 0"
    />

    <OnScreenKeyboard
      v-if="showKeys"
      :keys="keyboards.onScreen"
      :expected="expected"
    />

    <PassSentence
      :passes="passes"
      :last="lastRound"
      :phase="loop.phase.value"
      :problem="loop.problem.value"
      :review="stopped ? lastPassId : ''"
    />

    <footer>
      <BeatStairs
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
      <HandsChoice v-model="hands" />
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
      <USwitch
        v-model="metronome"
        label="Metronome"
        size="lg"
      />
      <UButton
        variant="ghost"
        icon="i-lucide-keyboard-music"
        :aria-pressed="showKeys"
        @click="toggleKeys"
      >
        Keys
      </UButton>
    </footer>
    <p class="keys">
      <kbd>Space</kbd> start and stop · <kbd>↑</kbd> <kbd>↓</kbd> tempo · <kbd>←</kbd> <kbd>→</kbd> hands · <kbd>F2</kbd> metronome · <kbd>F4</kbd> keys on the screen · <kbd>F6</kbd> review the last pass. Tempo and hands change with the next pass.
    </p>
  </div>
</template>

<style scoped>
.stand { min-height: 100vh; display: grid; grid-template-rows: auto 1fr auto auto auto; }
header { display: flex; flex-wrap: wrap; align-items: center; gap: calc(3 * var(--step)); padding: var(--step) calc(3 * var(--step)); background: var(--sheet); border-bottom: 1px solid var(--rule); }
.back { display: inline-flex; align-items: center; gap: 0.4rem; color: var(--ink-soft); padding: 0.3rem 0; }
h1 { font-size: 1.35rem; font-weight: 600; }
h1 span { color: var(--ink-soft); font-weight: 400; font-size: 1rem; margin-left: 0.5rem; }
.end { margin-left: auto; display: flex; align-items: center; gap: calc(1.5 * var(--step)); }
footer { display: flex; flex-wrap: wrap; align-items: center; justify-content: center; gap: calc(2 * var(--step)) calc(4 * var(--step)); padding: calc(1.5 * var(--step)) calc(3 * var(--step)); background: var(--sheet); border-top: 1px solid var(--rule); }
.start { min-width: 10.5rem; justify-content: center; }
.tempo { display: flex; align-items: center; gap: calc(1.5 * var(--step)); }
.tempo output { min-width: 8.5rem; text-align: center; color: var(--ink-soft); }
.tempo strong { font-size: 2rem; color: var(--ink); }
.keys { background: var(--sheet); text-align: center; color: var(--ink-soft); font-size: 0.9rem; padding: 0 calc(2 * var(--step)) var(--step); }
kbd { font: inherit; font-size: 0.85em; border: 1px solid currentColor; border-radius: 0.25rem; padding: 0 0.35em; }
</style>
