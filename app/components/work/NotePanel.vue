<script setup lang="ts">
import { HAND_CHOICES, choicesOf } from '~/utils/ui/choices'
import { useKeyboardsStore } from '~/stores/keyboards'
import type { Change } from '#core/edit/change'
import { keyEvent } from '#core/ear/take'
import { barAt, positionIn, type Arrangement, type Hand, type Note } from '#core/music/arrangement'
import { displayName, type NoteNames } from '#core/words/note-names'
import { barText, beatText } from '#core/words/places'
import { add, compare, equal, multiply, quarters, subtract, type Quarters } from '#core/music/quarters'

/** Corrections of the chosen notes, and of the marks that stand at them. */
const props = defineProps<{ arrangement: Arrangement; chosen: readonly string[]; names: NoteNames }>()
const emit = defineEmits<{ change: [change: Change] }>()
const keyboards = useKeyboardsStore()

const notes = computed(() => props.arrangement.notes.filter(note => props.chosen.includes(note.id)))
const note = computed((): Note | undefined => notes.value[0])
const ids = computed(() => notes.value.map(one => one.id))
const place = computed(() => {
  if (!note.value) return ''
  const { bar, beat } = positionIn(barAt(props.arrangement, note.value.onset), note.value.onset)
  return `${barText(bar)}, ${beatText(beat)}`
})
const LENGTHS: { label: string; value: Quarters }[] = [
  { label: 'sixteenth', value: quarters(1, 4) },
  { label: 'triplet eighth', value: quarters(1, 3) },
  { label: 'eighth', value: quarters(1, 2) },
  { label: 'dotted eighth', value: quarters(3, 4) },
  { label: 'quarter', value: quarters(1) },
  { label: 'dotted quarter', value: quarters(3, 2) },
  { label: 'half', value: quarters(2) },
  { label: 'dotted half', value: quarters(3) },
  { label: 'whole', value: quarters(4) },
]
const lengthOf = (at: Quarters) => `${at.n}/${at.d}`
const isOther = computed(() => note.value && !LENGTHS.some(one => equal(one.value, note.value!.duration)))
/** The next note of the same key, to tie to. */
const following = computed(
  () =>
    note.value &&
    props.arrangement.notes.find(
      one =>
        one.pitch === note.value!.pitch &&
        one.hand === note.value!.hand &&
        equal(one.onset, add(note.value!.onset, note.value!.duration)),
    ),
)

const at = computed(() => note.value?.onset ?? quarters(0))
const symbol = computed(() => props.arrangement.chords.find(chord => equal(chord.onset, at.value))?.symbol ?? '')
const lyric = computed(
  () => props.arrangement.lyrics.find(one => one.noteId === note.value?.id && one.verse === '1')?.text ?? '',
)
const dynamic = computed(
  () => props.arrangement.dynamics.find(mark => equal(mark.onset, at.value) && !mark.hand)?.mark ?? '',
)
const pedal = computed(() => props.arrangement.pedals.find(mark => equal(mark.onset, at.value))?.kind ?? '')
const tempo = computed(() => props.arrangement.tempos.find(mark => equal(mark.onset, at.value))?.quarterBpm ?? '')
const swing = computed(() => props.arrangement.swings?.find(mark => equal(mark.onset, at.value))?.ratio ?? '')
const textOf = (event: Event) => (event.target as HTMLInputElement).value

function setLength(text: string) {
  const [n, d] = text.split('/').map(Number)
  emit('change', { kind: 'length', id: note.value!.id, duration: quarters(n!, d!) })
}

function setNumber(kind: 'tempo' | 'swing', text: string) {
  const value = text.trim() === '' ? null : Number(text)
  if (value !== null && !Number.isFinite(value)) return
  emit(
    'change',
    kind === 'tempo' ? { kind, onset: at.value, quarterBpm: value } : { kind, onset: at.value, ratio: value },
  )
}

// Notes put in from the piano: struck keys are written behind the chosen note, or at the beginning.
const inserting = ref(false)
const insertHand = ref<Hand>('right')
const insertLength = ref('1/1')
const cursor = ref<Quarters>(quarters(0))
let unhear: (() => void) | undefined
let lastMs = Number.NEGATIVE_INFINITY
/** Keys struck this soon after each other are one chord. */
const CHORD_MS = 70

function toggleInserting() {
  inserting.value = !inserting.value
  unhear?.()
  if (!inserting.value) return
  cursor.value = note.value ? add(note.value.onset, note.value.duration) : quarters(0)
  if (note.value) insertHand.value = note.value.hand
  unhear = keyboards.hear(message => {
    const event = keyEvent(message)
    if (event?.kind !== 'down') return
    const [n, d] = insertLength.value.split('/').map(Number)
    const duration = quarters(n!, d!)
    const onset = event.atMs - lastMs < CHORD_MS ? subtract(cursor.value, duration) : cursor.value
    lastMs = event.atMs
    emit('change', { kind: 'insert', hand: insertHand.value, onset, duration, pitches: [event.pitch] })
    cursor.value = add(onset, duration)
  })
}
onBeforeUnmount(() => unhear?.())

const cursorText = computed(() => {
  const last = props.arrangement.bars.at(-1)!
  if (compare(cursor.value, add(last.start, last.length)) >= 0) return 'the end'
  const { bar, beat } = positionIn(barAt(props.arrangement, cursor.value), cursor.value)
  return `${barText(bar)}, ${beatText(beat)}`
})
</script>

<template>
  <div class="notes fields">
    <p v-if="!note">
      Choose a note in the music (with Shift, several) to correct it. ← and → go from note to note, ↑ and ↓ move a note
      by half steps, Delete removes it.
    </p>
    <template v-else>
      <p>
        <b>{{ notes.map(one => displayName(one.spelled, true, names)).join(', ') }}</b>, {{ note.hand }} hand,
        {{ place }}
      </p>
      <div class="row">
        <UButton
          variant="outline"
          icon="i-lucide-chevron-down"
          @click="emit('change', { kind: 'pitch', ids, halfSteps: -1 })"
        >
          Half step down
        </UButton>
        <UButton
          variant="outline"
          icon="i-lucide-chevron-up"
          @click="emit('change', { kind: 'pitch', ids, halfSteps: 1 })"
        >
          Half step up
        </UButton>
        <UButton
          variant="outline"
          @click="emit('change', { kind: 'hand', ids, hand: note.hand === 'right' ? 'left' : 'right' })"
        >
          Move to the {{ note.hand === 'right' ? 'left' : 'right' }} hand
        </UButton>
        <ChoiceField
          label="Length"
          :model-value="lengthOf(note.duration)"
          :disabled="notes.length > 1"
          :choices="[
            ...(isOther ? [{ value: lengthOf(note.duration), label: `${lengthOf(note.duration)} of a quarter` }] : []),
            ...LENGTHS.map(one => ({ value: lengthOf(one.value), label: one.label })),
          ]"
          @update:model-value="setLength"
        />
        <UButton
          variant="outline"
          :disabled="!following"
          @click="emit('change', { kind: 'join', ids: [note.id, following!.id] })"
        >
          Tie to next note
        </UButton>
        <UButton
          variant="outline"
          @click="
            emit('change', {
              kind: 'divide',
              id: note.id,
              at: add(note.onset, multiply(note.duration, quarters(1, 2))),
            })
          "
        >
          Divide
        </UButton>
        <UButton variant="outline" icon="i-lucide-trash-2" @click="emit('change', { kind: 'delete', ids })">
          Delete
        </UButton>
      </div>
      <div class="row">
        <TextField
          label="Chord"
          :model-value="symbol"
          @change="emit('change', { kind: 'chord', onset: at, symbol: textOf($event).trim() || null })"
        />
        <TextField
          label="Words"
          :model-value="lyric"
          @change="
            emit('change', {
              kind: 'lyric',
              id: note.id,
              text: textOf($event).replace(/-$/, ''),
              hyphen: textOf($event).endsWith('-'),
            })
          "
        />
        <ChoiceField
          label="Dynamic"
          :model-value="dynamic"
          :choices="[
            { value: '', label: 'none' },
            ...choicesOf(['pp', 'p', 'mp', 'mf', 'f', 'ff', 'crescendo', 'diminuendo', 'wedge end'], mark => mark),
          ]"
          @update:model-value="emit('change', { kind: 'dynamic', onset: at, mark: $event || null })"
        />
        <ChoiceField
          label="Pedal"
          :model-value="pedal"
          :choices="[
            { value: '', label: 'none' },
            { value: 'down', label: 'down' },
            { value: 'change', label: 'change' },
            { value: 'up', label: 'up' },
          ]"
          @update:model-value="emit('change', { kind: 'pedal', onset: at, mark: ($event || null) as 'down' | null })"
        />
        <TextField
          label="Tempo"
          :model-value="tempo"
          type="number"
          min="5"
          max="1000"
          class="figure"
          @change="setNumber('tempo', textOf($event))"
        />
        <TextField
          label="Swing, long to short"
          :model-value="swing"
          type="number"
          min="1"
          max="5"
          step="0.05"
          class="figure"
          @change="setNumber('swing', textOf($event))"
        />
      </div>
    </template>
    <div class="row">
      <UButton
        :variant="inserting ? 'solid' : 'soft'"
        icon="i-lucide-piano"
        :aria-pressed="inserting"
        @click="toggleInserting"
      >
        {{ inserting ? 'Stop entering' : 'Enter from the piano' }}
      </UButton>
      <KeyboardChooser v-if="inserting" />
      <ChoiceField
        v-if="inserting"
        v-model="insertLength"
        label="Length of what is inserted"
        :choices="LENGTHS.map(one => ({ value: lengthOf(one.value), label: one.label }))"
      />
      <ChoiceField v-if="inserting" v-model="insertHand" label="Hand" :choices="HAND_CHOICES" />
      <span v-if="inserting" role="status">next at {{ cursorText }}</span>
    </div>
    <div class="row">
      <span>Whole song</span>
      <UButton variant="outline" @click="emit('change', { kind: 'transpose', halfSteps: -1 })">
        A half step lower
      </UButton>
      <UButton variant="outline" @click="emit('change', { kind: 'transpose', halfSteps: 1 })">
        A half step higher
      </UButton>
    </div>
  </div>
</template>

<style scoped>
.notes {
  display: grid;
  gap: calc(2 * var(--step));
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: calc(1.5 * var(--step));
  align-items: end;
}
</style>
