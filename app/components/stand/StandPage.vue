<script setup lang="ts">
import { useNotationLayout } from '~/composables/notation/useNotationLayout'
import { usePageTurn } from '~/composables/stand/usePageTurn'
import type { Arrangement } from '#core/music/arrangement'
import type { Assessment } from '#core/ear/assessment'
import type { LiveMark } from '#core/ear/live'
import type { Drawn, Fingers } from '#core/formats/musicxml/excerpt'
import type { NotationSize } from '#core/music/page'
import type { ExpectedNote, Passage, ScoreSpan } from '#core/music/passage'
import type { Quarters } from '#core/music/quarters'
import { rowAt } from '#core/music/rows'
import { describeStretch } from '#core/words/places'
import { lanePx, ROW_TOP_PX } from '~/utils/notation/lanes'

/**
 * The notation of a passage in rows, as large as the room allows; what does not fit is turned to while it is played, or
 * leafed through in peace.
 */
const props = defineProps<{
  arrangement: Arrangement
  musicXml: string
  scoreId: string
  /** What stands on the page, and what of it is played: the same, or a place in it. */
  passage: Passage
  isWhole: boolean
  bpm: number
  /** Beginnings of parts, where a row begins. */
  breaks: readonly Quarters[]
  size: NotationSize
  parts?: Readonly<Record<string, Drawn>>
  /** Fingers to be written at notes that have none, by note id; `hasFingers`: there is room for some. */
  fingers?: ReadonlyMap<string, number>
  hasFingers?: boolean
  /** How far the pass has come, ms from its beginning; undefined while nothing is played. */
  atMs?: number
  expected: readonly ExpectedNote[]
  marks: ReadonlyMap<number, LiveMark>
  due: readonly number[]
  assessment?: Assessment
  toleranceMs: number
  /** Bars that the player has marked, and whether some may be marked now. */
  marked?: ScoreSpan
  mayMark: boolean
}>()
const emit = defineEmits<{ mark: [stretch: ScoreSpan]; drawn: [] }>()

const page = useTemplateRef<HTMLElement>('page')
/** A lane for each hand that plays here. */
const handCount = computed(() => Math.max(1, new Set(props.expected.map(note => note.hand)).size))
const {
  layout,
  rows,
  drawn: drawnRows,
  parts: drawnParts,
  hasFingers: writesFingers,
  problem,
} = useNotationLayout(page, props, () => handCount.value)
const { slots, playing, leaf } = usePageTurn(
  () => rows.value,
  () => layout.value?.rowsAtOnce ?? 1,
  () => (props.isWhole ? props.atMs : undefined),
)
const isTurning = computed(() => layout.value !== undefined && layout.value.rowsAtOnce < rows.value.length)

/** Counts redraws, so that marks over the music are laid out again. */
const drawn = ref(0)
watch(drawn, () => emit('drawn'), { once: true })

/**
 * The notes of each row with their places among all of them: by their time where a bar may come round again, else by
 * their bar.
 */
const notesOf = computed(() => {
  const found = rows.value.map((): number[] => [])
  props.expected.forEach((note, index) => {
    const row = props.isWhole
      ? rowAt(rows.value, note.eventMs)
      : rows.value.findIndex(one => one.firstBar <= note.barIndex && note.barIndex <= one.lastBar)
    found[row]?.push(index)
  })
  return found
})

/** The fingers to be written in each row: the left hand's under its notes. */
const fingersOf = computed(() =>
  drawnRows.value.map((row): Fingers | undefined => {
    const { fingers, arrangement } = props
    if (!writesFingers.value || !fingers || fingers.size === 0) return undefined
    return Object.fromEntries(
      arrangement.notes.flatMap(({ id, hand, barIndex }) => {
        const finger = barIndex >= row.firstBar && barIndex <= row.lastBar ? fingers.get(id) : undefined
        return finger === undefined ? [] : [[id, { finger, isBelow: hand === 'left' }]]
      }),
    )
  }),
)

/** What stands on the page: the same until a row turns, whatever is marked in it. */
const placed = computed(() =>
  slots.value.flatMap((place, slot) => {
    const [row, indices] = [rows.value[place], notesOf.value[place]]
    if (!row || !indices) return []
    const expected = indices.map(index => props.expected[index]!)
    return [
      {
        slot,
        place,
        row,
        indices,
        expected,
        fingers: fingersOf.value[place],
        isAgain: expected.some(note => note.time > 1),
        label: describeStretch(props.arrangement, row.stretch),
      },
    ]
  }),
)

const shown = computed(() =>
  placed.value.map(one => {
    const { assessment } = props
    const { place, indices } = one
    return {
      ...one,
      isPlaying: isTurning.value && playing.value === place,
      marks: new Map(
        indices.flatMap((index, own) => (props.marks.has(index) ? [[own, props.marks.get(index)!] as const] : [])),
      ),
      due: indices.flatMap((index, own) => (props.due.includes(index) ? [own] : [])),
      assessment: assessment && {
        ...assessment,
        notes: indices.map(index => assessment.notes[index]!).filter(Boolean),
        extras: assessment.extras.filter(extra => !props.isWhole || rowAt(rows.value, extra.atMs) === place),
      },
    }
  }),
)
</script>

<template>
  <section
    ref="page"
    class="page"
    :aria-label="isTurning ? 'Notation, some rows at a time' : 'Notation'"
    :style="{ '--lane': `${lanePx(layout?.spacePx ?? 10)}px` }"
  >
    <p v-if="problem" role="alert">
      {{ problem }}
    </p>
    <div
      v-for="one in shown"
      :key="one.slot"
      class="row"
      :class="{ playing: one.isPlaying }"
      :data-row="one.place"
      :style="{ height: `${one.row.heightPx}px`, paddingTop: `${ROW_TOP_PX}px` }"
    >
      <p v-if="isTurning" :class="one.isAgain ? 'again' : 'sr-only'">
        {{ one.label }}{{ one.isAgain ? ', again' : '' }}
      </p>
      <PartNotation
        :arrangement="arrangement"
        :music-xml="musicXml"
        :score-id="scoreId"
        :stretch="one.row.stretch"
        :bars="one.row"
        :row="one.row.drawn"
        :parts="drawnParts"
        :fingers="one.fingers"
        :expected="one.expected"
        :marks="one.marks"
        :due="one.due"
        :assessment="one.assessment"
        :tolerance-ms="toleranceMs"
        :lane-px="lanePx(layout!.spacePx)"
        @settled="drawn++"
      />
    </div>
    <MarkedBars
      :arrangement="arrangement"
      :rows="placed"
      :marked="marked"
      :may-mark="mayMark"
      :drawn="drawn"
      @mark="$emit('mark', $event)"
    />
    <slot />
    <nav v-if="isTurning && atMs === undefined" aria-label="Rows">
      <PictureButton
        variant="soft"
        color="neutral"
        icon="i-lucide-chevron-up"
        label="Earlier"
        :disabled="slots[0] === 0"
        @click="leaf(-layout!.rowsAtOnce)"
      />
      <PictureButton
        variant="soft"
        color="neutral"
        icon="i-lucide-chevron-down"
        label="Later"
        :disabled="slots.at(-1) === rows.length - 1"
        @click="leaf(layout!.rowsAtOnce)"
      />
    </nav>
  </section>
</template>

<style scoped>
.page {
  position: relative;
  /* A pointer that marks bars selects no words: on a selection the next stroke would be a drag of it. */
  user-select: none;
  min-height: 0;
  overflow: clip;
  background: var(--sheet);
  display: flex;
  flex-direction: column;
  justify-content: space-evenly;
  align-items: center;
}
.row {
  position: relative;
  width: 100%;
  display: grid;
  justify-items: center;
  align-items: start;
  border-left: 0.35rem solid transparent;
  border-right: 0.35rem solid transparent;
}
.row.playing {
  border-left-color: var(--together);
}
.again {
  position: absolute;
  left: var(--step);
  bottom: 0;
  font-size: 0.8rem;
  color: var(--ink-soft);
  z-index: 1;
}
nav {
  position: absolute;
  right: 0;
  top: 50%;
  translate: 0 -50%;
  display: grid;
  gap: var(--step);
  z-index: 2;
}
nav button {
  min-width: 2.75rem;
  min-height: 2.75rem;
  justify-content: center;
}
</style>
