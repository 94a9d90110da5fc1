<script setup lang="ts">
import { useRelearnBars } from '~/composables/coach/useRelearnBars'
import { useListening } from '~/composables/sound/useListening'
import { useSound } from '~/composables/sound/useSound'
import { useFingers } from '~/composables/workbench/useFingers'
import { useWorkbench } from '~/composables/workbench/useWorkbench'
import { useSettingsStore } from '~/stores/settings'
import { chordsOfPart } from '#core/hands/part-chords'
import { ScoreDocument } from '#core/formats/musicxml/document'
import { otherFingers } from '#core/hands/part-fingering'
import { coincidences, inWords } from '#core/hands/together'
import { barAt, handsIn, tempoAt, type Hand, type Hands, EACH_HAND } from '#core/music/arrangement'
import { spanPassage, wholePassage, type ScoreSpan } from '#core/music/passage'
import { add, compare, ZERO, type Quarters } from '#core/music/quarters'
import { beatNear, moveEdge } from '#core/parts/edit'
import { formOf, likenessOf, newMaterialShare, saidLikeness } from '#core/parts/likeness'
import { renderPassage } from '#core/sound/of-score'
import AskFirst from '~/components/controls/AskFirst.vue'
import type { WorkSong } from '~/composables/workbench/useWorkbench'

const props = defineProps<{ song: WorkSong }>()
const settings = useSettingsStore()
const work = useWorkbench(props.song)
/** The saved score's document, taken apart once, when the page is there. */
const isThere = ref(false)
const savedDocument = computed(() =>
  isThere.value ? new ScoreDocument({ arrangement: work.saved.value, musicXml: work.musicXml.value }) : undefined,
)
useTimeoutFn(() => {
  isThere.value = true
}, 0)
const { arrangement, parts, problem, isSaved, saving, canUndo, canRedo } = work
const again = useRelearnBars(props.song.id, work)
const route = useRoute()

const chosenPart = ref(
  Math.max(
    0,
    props.song.parts.findIndex(part => part.id === route.query.part),
  ),
)
const part = computed(() => parts.value[Math.min(chosenPart.value, parts.value.length - 1)]!)
const chosen = ref<string[]>([])
const TABS = [
  { value: 'fingers', slot: 'fingers' as const, label: 'Fingers' },
  { value: 'chords', slot: 'chords' as const, label: 'Chords' },
  { value: 'notes', slot: 'notes' as const, label: 'Notes' },
  { value: 'likeness', slot: 'likeness' as const, label: 'Likeness' },
  { value: 'roles', slot: 'roles' as const, label: 'Who plays' },
  { value: 'play', slot: 'play' as const, label: 'Play in' },
]
const tab = ref('fingers')

watch(parts, list => {
  chosenPart.value = Math.min(chosenPart.value, list.length - 1)
})
watch(chosenPart, () => {
  chosen.value = []
})

const inside = computed(() =>
  arrangement.value.notes.filter(
    note => compare(note.onset, part.value.from) >= 0 && compare(note.onset, part.value.to) < 0,
  ),
)
const fingerings = useFingers(() => ({
  arrangement: arrangement.value,
  stretch: { from: part.value.from, to: part.value.to },
  reach: settings.reachHalfSteps,
}))
const fingers = computed(
  () =>
    new Map(
      EACH_HAND.flatMap(hand =>
        fingerings.value[hand].notes.map(({ id, finger, locked }) => [id, { finger, kept: locked }] as const),
      ),
    ),
)
/** The bars of the chosen notes. */
const selected = computed((): ScoreSpan | undefined => {
  const bars = inside.value
    .filter(note => chosen.value.includes(note.id))
    .map(note => arrangement.value.bars[note.barIndex]!)
  if (bars.length === 0) return undefined
  const last = bars.at(-1)!
  return { from: bars[0]!.start, to: add(last.start, last.length) }
})
/** What the chosen note could be played with instead. */
const otherFingersOfChosen = computed(() => {
  const note = chosen.value.length === 1 ? inside.value.find(one => one.id === chosen.value[0]) : undefined
  return note
    ? otherFingers(arrangement.value, part.value, note.hand, fingerings.value[note.hand], note.id, {
        reach: settings.reachHalfSteps,
      })
    : []
})
const moments = computed(() => coincidences(arrangement.value, part.value))
const chords = computed(() =>
  chordsOfPart(
    arrangement.value,
    part.value,
    new Map([...fingers.value].map(([id, { finger }]) => [id, finger])),
    settings.noteNames,
  ),
)
const likeness = computed(() => ({
  right: likenessOf(arrangement.value, parts.value, 'right', saidLikeness(parts.value, 'right')),
  left: likenessOf(arrangement.value, parts.value, 'left', saidLikeness(parts.value, 'left')),
}))
const form = computed(() => formOf(parts.value, likeness.value.right, likeness.value.left))
const share = computed(() => ({
  right: newMaterialShare(likeness.value.right),
  left: newMaterialShare(likeness.value.left),
}))

/** How a note touched on the page sounds. */
const TOUCHED = { id: 'keys', name: 'Touched', instrument: { kind: 'piano' } } as const
const [TOUCHED_MS, TOUCHED_VELOCITY, TOUCHED_LEAD_MS] = [900, 74, 10]

// To hear it before touching a key.
const listening = useListening()
const listenHands = ref<Hands>('both')
const listenPercent = ref(100)
const listenWhole = ref(false)
const listenFrom = computed(() => (listenWhole.value ? ZERO : part.value.from))
const targetBpm = computed(() => tempoAt(arrangement.value, listenFrom.value))

function listen() {
  if (listening.playing.value) {
    listening.stop()
    return
  }
  const passage = listenWhole.value
    ? wholePassage(arrangement.value, listenHands.value)
    : spanPassage(part.value.from, part.value.to, listenHands.value)
  void listening.play(
    renderPassage(
      arrangement.value,
      passage,
      { hands: handsIn(listenHands.value) },
      (targetBpm.value * listenPercent.value) / 100,
    ),
  )
}

/** While the whole song plays, the part that sounds is the one that is seen. */
watch(listening.last, note => {
  if (!listenWhole.value || !note) return
  const written = arrangement.value.notes.find(one => one.id === note.noteId)
  const place = written
    ? parts.value.findIndex(one => compare(one.from, written.onset) <= 0 && compare(one.to, written.onset) > 0)
    : -1
  if (place >= 0 && listening.playing.value) chosenPart.value = place
})
watch([arrangement, listenHands, listenWhole], () => {
  listening.stop()
})
watch(chosenPart, () => {
  if (!listenWhole.value) listening.stop()
})

/** A touched note or chord sounds. */
function touch(ids: readonly string[]) {
  if (!settings.sound.keysSound || listening.playing.value) return
  const pitches = arrangement.value.notes.filter(note => ids.includes(note.id)).map(note => note.pitch)
  void useSound()
    .start()
    .then(async sound => {
      await sound.prepare([TOUCHED])
      sound.line().add(
        pitches.map(pitch => ({ voice: TOUCHED.id, atMs: 0, lengthMs: TOUCHED_MS, pitch, velocity: TOUCHED_VELOCITY })),
        performance.now() + TOUCHED_LEAD_MS,
      )
    })
    .catch(() => {})
}

function choose(ids: string[], more: boolean) {
  touch(ids)
  chosen.value = more
    ? ids.every(id => chosen.value.includes(id))
      ? chosen.value.filter(id => !ids.includes(id))
      : [...chosen.value, ...ids]
    : ids
}

const setEdge = (edge: 'from' | 'to', at: Quarters) =>
  work.setParts(moveEdge(arrangement.value, parts.value, chosenPart.value, edge, at))
const stepEdge = (edge: 'from' | 'to', by: number) => setEdge(edge, beatNear(arrangement.value, part.value[edge], by))

function keep(hand: Hand) {
  work.correct({ kind: 'fingers', fingers: fingerings.value[hand].notes.map(({ id, finger }) => ({ id, finger })) })
}

/** To the next note of the hand that is looked at, or of the right hand. */
function walk(by: number) {
  const current = inside.value.find(note => note.id === chosen.value.at(-1))
  const line = inside.value.filter(note => note.hand === (current?.hand ?? 'right'))
  const place = current ? line.indexOf(current) + by : by > 0 ? 0 : line.length - 1
  const next = line[Math.max(0, Math.min(line.length - 1, place))]
  if (next) chosen.value = [next.id]
}

function setFinger(finger: number) {
  if (chosen.value.length !== 1) return
  if (work.correct({ kind: 'finger', id: chosen.value[0]!, finger: finger === 0 ? null : finger }) && finger > 0)
    walk(1)
}

function remove() {
  if (chosen.value.length > 0 && work.correct({ kind: 'delete', ids: chosen.value })) chosen.value = []
}

const shiftPitch = (halfSteps: number) => {
  if (chosen.value.length > 0) work.correct({ kind: 'pitch', ids: chosen.value, halfSteps })
}
const KEYS: Record<string, () => void> = {
  ArrowRight: () => walk(1),
  ArrowLeft: () => walk(-1),
  ArrowUp: () => shiftPitch(1),
  ArrowDown: () => shiftPitch(-1),
  Delete: remove,
  Backspace: remove,
  Escape: () => {
    chosen.value = []
  },
}

function onKey(event: KeyboardEvent) {
  const target = event.target as HTMLElement | null
  const isText = Boolean(
    target?.closest?.(
      'input, textarea, [role="dialog"], [role="slider"], [role="tablist"], [role="combobox"], [role="listbox"]',
    ),
  )
  const isCommand = event.ctrlKey || event.metaKey
  if (isCommand && event.key.toLowerCase() === 's') {
    event.preventDefault()
    void work.save()
  } else if (isCommand && event.key.toLowerCase() === 'z' && !isText) {
    event.preventDefault()
    if (event.shiftKey) work.redo()
    else work.undo()
  } else if (isCommand && event.key.toLowerCase() === 'y' && !isText) {
    event.preventDefault()
    work.redo()
  } else if (!isCommand && !event.altKey && !isText) {
    if (event.key === ' ' && !target?.closest?.('button, a')) {
      event.preventDefault()
      listen()
    } else if (/^[0-5]$/.test(event.key)) setFinger(Number(event.key))
    else if (Object.hasOwn(KEYS, event.key) && (chosen.value.length > 0 || target === document.body)) {
      event.preventDefault()
      KEYS[event.key]!()
    }
  }
}

function sayLikeness(hand: Hand, like: string | null | undefined) {
  work.setParts(
    parts.value.map((one, index) => {
      if (index !== chosenPart.value) return one
      const { [hand]: _before, ...others } = one.ownLikeness
      return { ...one, ownLikeness: like === undefined ? others : { ...others, [hand]: like } }
    }),
  )
}

function beforeLeaving(event: BeforeUnloadEvent) {
  if (!isSaved.value) event.preventDefault()
}
onMounted(() => {
  work.keepIn(sessionStorage)
  void settings.load()
  window.addEventListener('keydown', onKey)
  window.addEventListener('beforeunload', beforeLeaving)
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', onKey)
  window.removeEventListener('beforeunload', beforeLeaving)
})
const overlay = useOverlay()
onBeforeRouteLeave(
  async () =>
    isSaved.value ||
    (await overlay.create(AskFirst, { destroyOnClose: true }).open({
      title: 'Leave without saving?',
      description: 'The song stays as it was last saved. Your changes wait here until this tab is closed.',
      yes: 'Leave without saving',
      no: 'Stay',
    })),
)
</script>

<template>
  <div class="bench">
    <header>
      <div>
        <NuxtLink :to="`/songs/${song.id}`" class="back">
          <UIcon name="i-lucide-arrow-left" /> {{ song.title }}
        </NuxtLink>
        <h1>Workbench</h1>
      </div>
      <div class="acts">
        <UButton variant="ghost" icon="i-lucide-undo-2" :disabled="!canUndo" @click="work.undo()"> Undo </UButton>
        <UButton variant="ghost" icon="i-lucide-redo-2" :disabled="!canRedo" @click="work.redo()"> Redo </UButton>
        <UButton
          v-if="part.id"
          variant="outline"
          icon="i-lucide-play"
          :to="{ path: `/stand/${part.id}`, query: { hands: 'both' } }"
          :aria-label="`Practise ${part.name}`"
        >
          Practise
        </UButton>
        <UButton icon="i-lucide-save" :loading="saving" :disabled="isSaved" @click="work.save()"> Save </UButton>
        <span role="status" class="soft">{{
          isSaved
            ? `Saved, revision ${work.revision.value}`
            : again
              ? `Unsaved changes. What you have learned stays; to be played again: ${again}.`
              : 'Unsaved changes'
        }}</span>
      </div>
    </header>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
    <aside v-if="work.offer.value" class="offer" aria-label="A new split">
      <p>
        An earlier version of the program split this song. Today it would be {{ work.offer.value.parts.length }} parts{{
          work.offer.value.sections.length > 1 ? ` in ${work.offer.value.sections.length} sections` : ''
        }}; yours stay as they are until you save the new ones.
      </p>
      <UButton size="sm" @click="work.answerOffer(true)"> Try the new parts </UButton>
      <UButton size="sm" variant="outline" @click="work.answerOffer(false)"> Keep mine </UButton>
    </aside>
    <div class="columns">
      <PartList
        v-model:chosen="chosenPart"
        :arrangement="arrangement"
        :parts="parts"
        :selected="selected"
        @change="work.setParts($event)"
      />
      <div class="main">
        <ListenBar
          v-model:hands="listenHands"
          v-model:percent="listenPercent"
          v-model:whole="listenWhole"
          :playing="listening.playing.value"
          :problem="listening.problem.value"
          :target-bpm="targetBpm"
          :meter="barAt(arrangement, listenFrom).meter"
          @toggle="listen"
        />
        <WorkSheet
          class="sheet"
          tabindex="0"
          :arrangement="arrangement"
          :document="savedDocument"
          :stretch="part"
          :name="part.name"
          :fingers="fingers"
          :moments="moments"
          :chosen="chosen"
          :sounding="listening.sounding.value"
          @choose="choose"
          @edge="setEdge"
          @step="stepEdge"
        />
        <p class="legend soft">
          ◆ both hands together · ▵ right alone · ▿ left alone. The upright bars are the edges of the part: drag them,
          or press Tab to reach them and move them with the arrow keys.
        </p>
        <UTabs v-model="tab" :items="TABS" :ui="{ content: 'py-4' }">
          <template #fingers
            ><FingerPanel
              :arrangement="arrangement"
              :fingerings="fingerings"
              :chosen="chosen"
              :others="otherFingersOfChosen"
              :reach="settings.reachHalfSteps"
              :names="settings.noteNames"
              @finger="(id, finger) => work.correct({ kind: 'finger', id, finger })"
              @keep="keep"
          /></template>
          <template #chords
            ><ChordPanel
              :arrangement="arrangement"
              :parts="parts"
              :part="part"
              :names="settings.noteNames"
              :chords="chords"
              :words="inWords(moments)"
          /></template>
          <template #notes
            ><NotePanel
              :arrangement="arrangement"
              :chosen="chosen"
              :names="settings.noteNames"
              @change="work.correct($event)"
          /></template>
          <template #likeness
            ><LikenessPanel
              :parts="parts"
              :chosen="chosenPart"
              :likeness="likeness"
              :form="form"
              :share="share"
              @say="sayLikeness"
          /></template>
          <template #roles
            ><RolesPanel
              :score="{ arrangement: work.saved.value, musicXml: work.musicXml.value }"
              :is-saved="isSaved"
              :saving="saving"
              @give="work.giveRoles($event)"
          /></template>
          <template #play
            ><PlayInPanel
              :arrangement="arrangement"
              :count="parts.length"
              @accept="
                (notes, name) => {
                  if (work.appendPhrase(notes, name)) chosenPart = parts.length - 1
                }
              "
          /></template>
        </UTabs>
      </div>
    </div>
  </div>
</template>

<style scoped>
.bench {
  max-width: 96rem;
  margin: 0 auto;
  padding: calc(2 * var(--step)) calc(3 * var(--step)) calc(6 * var(--step));
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: calc(2 * var(--step));
  margin-bottom: calc(2 * var(--step));
}
h1 {
  font-size: 1.75rem;
  line-height: 1.2;
}
.back {
  display: inline-flex;
  align-items: center;
  gap: 0.35rem;
  color: var(--ink-soft);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
  align-items: center;
}
.problem {
  color: var(--heard-wrong);
  margin-bottom: var(--step);
}
.offer {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--step);
  padding: var(--step) calc(2 * var(--step));
  margin-bottom: calc(2 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
}
.offer p {
  flex: 1 1 28rem;
}
.columns {
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  gap: calc(3 * var(--step));
}
/* What is done to the music stays in sight below it. */
.sheet {
  max-height: max(19rem, calc(100vh - 28rem));
  overflow: auto;
}
.legend {
  font-size: 0.9rem;
  margin: var(--step) 0;
}
@media (max-width: 60rem) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
