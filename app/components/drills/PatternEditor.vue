<script setup lang="ts">
import { choicesFrom, choicesOf } from '~/utils/ui/choices'
import { usePatternsWorker } from '~/composables/songs/usePatternsWorker'
import { useHearPattern } from '~/composables/sound/useHearPattern'
import { useSettingsStore } from '~/stores/settings'
import { useAction } from '~/composables/ui/useAction'
import type { Hand } from '#core/music/arrangement'
import { pulses } from '#core/music/meter'
import type { HandDifficulty } from '#core/hands/difficulty'
import { barOf, type HandPattern } from '#core/patterns/hand-pattern'
import { CHORD_TONES, type ChordTone } from '#core/patterns/pattern'
import { difficultyReasons, difficultyText } from '#core/words/patterns'
import {
  gridOf,
  meterOfGrid,
  patternOfGrid,
  STROKES,
  TONE_WORDS,
  toggled,
  withDivision,
  type Grid,
  type StrokeSign,
} from '~/utils/songs/patternGrid'

/**
 * A pattern on a grid: a row for each note of the chord, a column for each step. A cell goes from rest to struck to
 * held; what is drawn is heard over four chords.
 */
const props = defineProps<{ pattern: HandPattern; /** Of one that is kept already. */ id?: string }>()
const emit = defineEmits<{ saved: []; close: [] }>()

/** Tones that reach into the next octave. */
const HIGHER: readonly ChordTone[] = ['third', 'fifth', 'octave']
const METERS = ['2/4', '3/4', '4/4', '6/8', '12/8']
const DIVISIONS = { 1: 'beats', 2: 'halves of a beat', 3: 'thirds of a beat', 4: 'quarters of a beat' } as const
const settings = useSettingsStore()
const grid = shallowRef<Grid>(gridOf(props.pattern))
const name = ref(props.id ? props.pattern.name : '')
const { act, problem, isBusy: busy } = useAction()
const bpm = ref(90)
const cell = ref({ row: 0, step: 0 })
const stroke = ref<StrokeSign>('x')

const beats = computed(() => pulses(meterOfGrid(grid.value)).length)
const columns = computed(() => Array.from({ length: beats.value * grid.value.division }, (_, step) => step))
/** Tones that have no row yet. */
const free = computed(() =>
  [...CHORD_TONES.map(tone => ({ tone, octave: 0 })), ...HIGHER.map(tone => ({ tone, octave: 1 }))].filter(
    ({ tone, octave }) => !grid.value.rows.some(one => one.tone === tone && one.octave === octave),
  ),
)
const drawn = computed(() => patternOfGrid(grid.value, name.value.trim() || 'My pattern'))
const isEmpty = computed(() => grid.value.rows.every(row => row.steps.every(sign => sign === '.')))

const difficulty = shallowRef<HandDifficulty>()
let asked = 0
watchDebounced(
  drawn,
  async now => {
    const request = ++asked
    if (isEmpty.value) return void (difficulty.value = undefined)
    const [found] = await usePatternsWorker()
      .difficulties([toRaw(now)], {
        hand: 'left',
        meter: meterOfGrid(grid.value),
        bpm: bpm.value,
        reach: settings.reachHalfSteps,
      })
      .catch(() => [])
    if (request === asked) difficulty.value = found
  },
  { debounce: 200, immediate: import.meta.client },
)

const change = (what: Partial<Grid>) => {
  grid.value = { ...grid.value, ...what }
}
const toggle = (row: number, step: number) => {
  grid.value = toggled(grid.value, row, step, stroke.value)
}
function addRow(index: number) {
  const found = free.value[index]
  if (found) change({ rows: [...grid.value.rows, { ...found, steps: columns.value.map(() => '.') }] })
}
function removeRow(index: number) {
  change({ rows: grid.value.rows.filter((_, row) => row !== index) })
}

/** Arrow keys go from cell to cell. */
function move(event: KeyboardEvent) {
  const [down, right] = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[event.key] ?? []
  if (down === undefined) return
  event.preventDefault()
  const clamp = (at: number, count: number) => Math.max(0, Math.min(count - 1, at))
  cell.value = {
    row: clamp(cell.value.row + down, grid.value.rows.length),
    step: clamp(cell.value.step + right!, columns.value.length),
  }
  void nextTick(() => document.getElementById(`cell-${cell.value.row}-${cell.value.step}`)?.focus())
}

const WORDS: Record<string, string> = {
  x: 'struck',
  X: 'accented',
  o: 'soft',
  '/': 'slid into',
  '-': 'held',
  '.': 'rest',
}
const wordOf = (sign: string) => WORDS[sign] ?? sign
const beatOf = (step: number) =>
  `beat ${Math.floor(step / grid.value.division) + 1}${grid.value.division > 1 ? `, step ${(step % grid.value.division) + 1}` : ''}`

const hearing = useHearPattern()
const hear = () =>
  hearing.toggle('drawn', toRaw(drawn.value), meterOfGrid(grid.value), {
    bpm: bpm.value,
    hand: 'left' as Hand,
    reach: settings.reachHalfSteps,
  })

async function save() {
  await act(async () => {
    for (const cycle of drawn.value.cycles) for (const rows of cycle.bars) barOf(cycle, rows)
    await $fetch(props.id ? `/api/patterns/${props.id}` : '/api/patterns', {
      method: props.id ? 'PUT' : 'POST',
      body: drawn.value,
    })
    emit('saved')
  })
}
</script>

<template>
  <section class="editor" aria-labelledby="pattern-editor">
    <h2 id="pattern-editor">
      {{ id ? 'Change a pattern' : 'A pattern of your own' }}
    </h2>
    <div class="fields">
      <TextField v-model="name" label="Name" maxlength="60" placeholder="My pattern" />
      <ChoiceField
        label="Meter"
        :model-value="grid.meter"
        :choices="choicesOf(METERS)"
        @update:model-value="change({ meter: $event })"
      />
      <ChoiceField
        label="Steps"
        :model-value="grid.division"
        :choices="choicesOf([1, 2, 3, 4] as const, one => DIVISIONS[one])"
        @update:model-value="grid = withDivision(grid, $event)"
      />
      <TextField v-model.number="bpm" label="Heard at" type="number" min="30" max="240" />
    </div>
    <div class="frame" role="group" aria-label="The grid" @keydown="move">
      <table>
        <thead>
          <tr>
            <th scope="col">
              <span class="sr-only">Note of the chord</span>
            </th>
            <th
              v-for="step in columns"
              :key="step"
              scope="col"
              class="figure"
              :class="{ beat: step % grid.division === 0 }"
            >
              {{ step % grid.division === 0 ? step / grid.division + 1 : '' }}
            </th>
            <td />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, index) in grid.rows" :key="`${row.tone} ${row.octave}`">
            <th scope="row">
              {{ TONE_WORDS[row.tone]
              }}<template v-if="row.octave">
                {{ row.octave > 0 ? ', octave up' : ', octave down' }}
              </template>
            </th>
            <td v-for="step in columns" :key="step" :class="{ beat: step % grid.division === 0 }">
              <button
                :id="`cell-${index}-${step}`"
                type="button"
                :class="['cell', { struck: 'xXo/'.includes(row.steps[step] ?? '.'), held: row.steps[step] === '-' }]"
                :tabindex="cell.row === index && cell.step === step ? 0 : -1"
                :aria-label="`${TONE_WORDS[row.tone]}, ${beatOf(step)}: ${wordOf(row.steps[step] ?? '.')}`"
                @focus="cell = { row: index, step }"
                @click="toggle(index, step)"
              >
                <span aria-hidden="true">{{
                  { x: '●', X: '◆', o: '○', '/': '⟋', '-': '—' }[row.steps[step] ?? '.'] ?? ''
                }}</span>
              </button>
            </td>
            <td>
              <UButton
                size="xs"
                variant="ghost"
                color="neutral"
                icon="i-lucide-x"
                :aria-label="`Remove the row ${TONE_WORDS[row.tone]}`"
                @click="removeRow(index)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="fields">
      <ChoiceField
        label="Add a row"
        placeholder="choose"
        :model-value="-1"
        :choices="
          free.map((one, value) => ({ value, label: `${TONE_WORDS[one.tone]}${one.octave ? ', octave up' : ''}` }))
        "
        @update:model-value="addRow"
      />
      <ChoiceField v-model="stroke" label="A click strikes" :choices="choicesFrom(STROKES)" />
      <USwitch
        :model-value="grid.isOneRhythm"
        label="The rhythm goes on when the chord changes within the bar"
        @update:model-value="change({ isOneRhythm: $event })"
      />
    </div>
    <p v-if="problem || hearing.problem.value" role="alert" class="problem">
      {{ problem || hearing.problem.value }}
    </p>
    <p class="soft" role="status">
      {{
        isEmpty
          ? 'Nothing is played yet.'
          : difficulty
            ? `In the left hand at ${bpm}: ${[difficultyText(difficulty), difficultyReasons(difficulty)].filter(one => one !== '').join('; ')}.`
            : ''
      }}
    </p>
    <div class="acts">
      <UButton :disabled="isEmpty" :loading="busy" @click="save"> Save the pattern </UButton>
      <UButton
        variant="outline"
        :disabled="isEmpty"
        :icon="hearing.playing.value ? 'i-lucide-square' : 'i-lucide-volume-2'"
        @click="hear"
      >
        {{ hearing.playing.value ? 'Stop' : 'Hear it' }}
      </UButton>
      <UButton variant="ghost" @click="emit('close')"> Cancel </UButton>
    </div>
  </section>
</template>

<style scoped>
.editor {
  display: grid;
  gap: calc(2 * var(--step));
  padding: calc(2 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
}
h2 {
  font-weight: 700;
  font-size: 1.25rem;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step) calc(3 * var(--step));
  align-items: center;
}
.frame {
  overflow-x: auto;
  padding: 2px;
}
table {
  border-collapse: collapse;
}
th[scope='row'] {
  text-align: left;
  font-weight: 400;
  padding-right: calc(2 * var(--step));
  white-space: nowrap;
}
thead th {
  font-weight: 600;
  color: var(--ink-soft);
  text-align: left;
  padding-left: 0.35rem;
}
.beat {
  border-left: 2px solid var(--ink-soft);
}
.cell {
  width: 2.5rem;
  height: 2.5rem;
  border: 1px solid var(--rule);
  background: var(--ground);
  display: block;
  font-size: 1.1rem;
}
.cell.struck {
  background: var(--left-hand);
  color: var(--sheet);
}
.cell.held {
  background: var(--tread);
  color: var(--left-hand);
  font-weight: 700;
}
.soft {
  color: var(--ink-soft);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
</style>
