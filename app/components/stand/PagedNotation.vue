<script setup lang="ts">
import type { Arrangement } from '#core/music/arrangement'
import type { Assessment } from '#core/ear/assessment'
import type { LiveMark } from '#core/ear/live'
import type { ExpectedNote } from '#core/music/passage'
import { describeStretch } from '#core/words/places'
import { rowAt, type Row } from '#core/music/rows'

/**
 * Something long, two rows of bars at a time. While one is played the other one turns: the eye goes down, up, down, and what comes next always
 * stands there before it is needed. While nothing is played the rows can be leafed through.
 */
const props = defineProps<{
  arrangement: Arrangement
  musicXml: string
  scoreId: string
  rows: readonly Row[]
  /** How far the pass has come, ms from its beginning; undefined while nothing is played. */
  atMs?: number
  expected: readonly ExpectedNote[]
  marks: ReadonlyMap<number, LiveMark>
  due: readonly number[]
  assessment?: Assessment
  toleranceMs: number
}>()

const { slots, playing, leaf } = usePageTurn(() => props.rows, () => props.atMs)

/** The notes of each row with their places among all of them. */
const notesOf = computed(() => {
  const found = props.rows.map((): number[] => [])
  props.expected.forEach((note, index) => found[rowAt(props.rows, note.momentMs)]!.push(index))
  return found
})

/** What stands on the page: the same until a row turns, whatever is marked in it. */
const placed = computed(() => slots.value.map((place, slot) => {
  const [row, indices] = [props.rows[place]!, notesOf.value[place]!]
  const expected = indices.map(index => props.expected[index]!)
  return { slot, place, row, indices, expected, label: `${describeStretch(props.arrangement, row.stretch)}${expected.some(note => note.time > 1) ? ', again' : ''}` }
}))

const shown = computed(() => placed.value.map((one) => {
  const { assessment } = props
  const { place, indices } = one
  return {
    ...one, isPlaying: playing.value === place, marks: new Map(indices.flatMap((index, own) => props.marks.has(index) ? [[own, props.marks.get(index)!] as const] : [])), due: indices.flatMap((index, own) => props.due.includes(index) ? [own] : []),
    assessment: assessment && { ...assessment, notes: indices.map(index => assessment.notes[index]!), extras: assessment.extras.filter(extra => rowAt(props.rows, extra.atMs) === place) },
  }
}))
</script>

<template>
  <section
    class="pages"
    aria-label="Notation, two rows at a time"
  >
    <nav
      v-if="playing === undefined"
      aria-label="Rows"
    >
      <UButton
        variant="ghost"
        size="sm"
        icon="i-lucide-chevron-up"
        :disabled="slots[0] === 0"
        @click="leaf(-2)"
      >
        Earlier
      </UButton>
      <span class="figure">{{ slots[0] + 1 }} and {{ slots[1] + 1 }} of {{ rows.length }} rows</span>
      <UButton
        variant="ghost"
        size="sm"
        icon="i-lucide-chevron-down"
        :disabled="slots[1] === rows.length - 1"
        @click="leaf(2)"
      >
        Later
      </UButton>
    </nav>
    <div
      v-for="one in shown"
      :key="one.slot"
      class="row"
      :class="{ playing: one.isPlaying }"
      :data-row="one.place"
    >
      <p class="bars">
        {{ one.label }}
      </p>
      <PartNotation
        :arrangement="arrangement"
        :music-xml="musicXml"
        :score-id="scoreId"
        :stretch="one.row.stretch"
        :expected="one.expected"
        :marks="one.marks"
        :due="one.due"
        :assessment="one.assessment"
        :tolerance-ms="toleranceMs"
        is-row
      />
    </div>
  </section>
</template>

<style scoped>
.pages { position: relative; background: var(--sheet); display: flex; flex-direction: column; justify-content: space-evenly; }
.row { position: relative; border-left: 0.4rem solid transparent; }
.row.playing { border-color: var(--together); }
.row :deep(.sheet) { min-height: 8rem; }
.bars { position: absolute; left: calc(2 * var(--step)); bottom: 0.5rem; font-size: 0.9rem; color: var(--ink-soft); z-index: 1; }
nav { position: absolute; top: 0; right: calc(3 * var(--step)); display: flex; align-items: center; gap: var(--step); color: var(--ink-soft); font-size: 0.9rem; z-index: 1; }
</style>
