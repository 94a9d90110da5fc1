<script setup lang="ts">
import { useSettingsStore } from '~/stores/settings'
import { barAt, type Arrangement, type Hand } from '#core/music/arrangement'
import type { Assessment } from '#core/ear/assessment'
import { markOf } from '#core/words/marks'
import type { LiveMark } from '#core/ear/live'
import type { Drawn, Fingers } from '#core/formats/musicxml/excerpt'
import { spellInKey } from '#core/music/pitch'
import { displayName } from '#core/words/note-names'
import type { ExpectedNote, ScoreSpan } from '#core/music/passage'
import { compare } from '#core/music/quarters'
import { LANE_TOP_PX } from '~/utils/notation/lanes'
import { UNITS_A_SPACE } from '~/workers/bar-sizes'

const props = defineProps<{
  arrangement: Arrangement
  musicXml: string
  scoreId: string
  stretch: ScoreSpan
  expected: readonly ExpectedNote[]
  /** Live marks of the running pass, by index of the expected note. */
  marks: ReadonlyMap<number, LiveMark>
  /** While stopped: the last pass, to be read in peace. */
  assessment?: Assessment
  /** A right note further from its time than this shows its direction and ms. */
  toleranceMs: number
  /** The note looked at, by id; notes can be chosen when `choosable`. */
  chosen?: string
  choosable?: boolean
  /** In the player's own time: the notes that are waited for, by index of the expected note. */
  due?: readonly number[]
  /**
   * One row of a page: which bars are drawn, how, and how high a lane of marks under it is. Otherwise rows as wide as
   * there is room.
   */
  bars?: { firstBar: number; lastBar: number }
  row?: { widthPx: number; spacePx: number; mostHeightPx: number }
  lanePx?: number
  /** Parts of the score, by id, that are not drawn as they stand. */
  parts?: Readonly<Record<string, Drawn>>
  /** Fingers to be written at notes that have none. */
  fingers?: Fingers
}>()
const emit = defineEmits<{ choose: [id: string]; settled: [] }>()

const settings = useSettingsStore()
let sheet: HTMLElement | undefined
const places = shallowRef(new Map<string, { x: number; y: number }>())

const firstBar = computed(() => props.bars?.firstBar ?? barAt(props.arrangement, props.stretch.from).index)
const lastBar = computed(
  () => props.bars?.lastBar ?? props.arrangement.bars.findLastIndex(bar => compare(bar.start, props.stretch.to) < 0),
)
const fifths = computed(() => props.arrangement.bars[firstBar.value]!.fifths)

/** The engraved notes by id, looked up once for each engraving. */
let drawn = new Map<string, SVGElement>()
const element = (id: string) => drawn.get(id)

function engraved(element: HTMLElement) {
  sheet = element
  settle()
}

/**
 * A staff of a single line is one of which only the words are drawn; one whose lines lie nearer than the engraver's
 * units a space is small.
 */
function markRoles(sheet: HTMLElement) {
  for (const staff of sheet.querySelectorAll('.engraving .staff')) {
    const [first, second] = [...staff.querySelectorAll(':scope > path')].map(path =>
      Number(/^M-?\d+ (-?\d+)/.exec(path.getAttribute('d') ?? '')?.[1]),
    )
    staff.classList.toggle('words-only', second === undefined)
    staff.classList.toggle('small', second !== undefined && second - first! < 0.9 * UNITS_A_SPACE)
  }
}

/** What is not to be played steps back, and each note's place in its lane under the system is found. */
function settle() {
  if (!sheet) return
  markRoles(sheet)
  drawn = new Map([...sheet.querySelectorAll<SVGElement>('.engraving .note')].map(note => [note.id, note]))
  const origin = sheet.getBoundingClientRect()
  const own = new Set(props.expected.map(note => note.id))
  for (const note of props.arrangement.notes) {
    if (note.barIndex < firstBar.value - 1 || note.barIndex > lastBar.value) continue
    for (const id of [note.id, ...note.tiedIds]) element(id)?.classList.toggle('not-now', !own.has(note.id))
  }
  const inRow = props.row && sheet.querySelector('.engraving svg')!.getBoundingClientRect().bottom
  const bottoms = new Map(
    [...sheet.querySelectorAll('.engraving .system')].map(system => [
      system,
      inRow ?? Math.max(...[...system.querySelectorAll('.staff')].map(staff => staff.getBoundingClientRect().bottom)),
    ]),
  )
  const found = new Map<string, { x: number; y: number }>()
  for (const { id } of props.expected) {
    const note = element(id)
    const head = note?.querySelector('.notehead') ?? note
    const system = note?.closest('.system')
    if (!head || !system) continue
    const box = head.getBoundingClientRect()
    found.set(id, { x: box.left + box.width / 2 - origin.left, y: bottoms.get(system)! - origin.top })
  }
  places.value = found
  colour()
  point()
  emit('settled')
}
watch(
  () => props.expected,
  () => nextTick(settle),
)

interface Heard {
  outcome: LiveMark['outcome']
  deviationMs: number | null
  playedPitch: number | null
}

const heard = computed(() => (props.assessment ? heardIn(props.assessment) : new Map<number, Heard>(props.marks)))

/** What a pass has of each expected note; nothing of a repeat that was not taken. */
function heardIn({ notes }: Assessment): Map<number, Heard> {
  const judged = new Map(notes.map(note => [`${note.id}:${note.time ?? 1}`, note]))
  return new Map(
    props.expected.flatMap(({ id, time }, index): [number, Heard][] => {
      const note = judged.get(`${id}:${time}`)
      // A key that the other hand had is no missing note.
      return note ? [[index, note.sharedKey ? { ...note, outcome: 'right', deviationMs: 0 } : note]] : []
    }),
  )
}

function colour() {
  props.expected.forEach((note, index) => {
    const target = element(note.id)
    const outcome = heard.value.get(index)?.outcome
    if (!target || target.dataset.heard === outcome) return
    if (outcome) target.dataset.heard = outcome
    else delete target.dataset.heard
  })
}
watch(heard, colour, { flush: 'post' })

function point() {
  const due = new Set(props.due?.map(index => props.expected[index]?.id))
  for (const [id, note] of drawn) {
    note.classList.toggle('chosen', id === props.chosen)
    note.classList.toggle('due', due.has(id))
  }
}
watch(() => [props.chosen, props.due], point, { flush: 'post' })

/** A click this near a notehead means it: heads are small, and hollow ones have nothing to hit in their middle. */
const CLICK_REACH_PX = 30

function choose({ clientX, clientY }: MouseEvent) {
  if (!props.choosable) return
  let [nearest, distance] = ['', CLICK_REACH_PX]
  for (const { id } of props.expected) {
    const head = element(id)?.querySelector('.notehead')?.getBoundingClientRect()
    const away = head
      ? Math.hypot(head.left + head.width / 2 - clientX, head.top + head.height / 2 - clientY)
      : Infinity
    if (away < distance) [nearest, distance] = [id, away]
  }
  if (nearest) emit('choose', nearest)
}

/** A row of marks with a word under its sign, from the staff downward, and a step to the side. */
const laneRowPx = computed(() => props.lanePx ?? 40)
const laneTopPx = computed(() => (props.row ? LANE_TOP_PX : 22))
/** Struck keys that stand for no note have a lane of their own where rows have the room. */
const extraLane = computed(() => (props.row ? handCount.value - 1 : handCount.value))
const BESIDE_PX = 14

interface LaneMark {
  key: string
  noteId?: string
  hand?: Hand
  x: number
  y: number
  kind: string
  sign: string
  text: string
}

/** A lane for each hand that plays here. */
const handCount = computed(() => new Set(props.expected.map(note => note.hand)).size)

/** One mark for all notes of a hand that are due together. */
const lane = computed(() => {
  const groups = new Map<string, { note: ExpectedNote; heard: Heard[] }>()
  props.expected.forEach((note, index) => {
    const mark = heard.value.get(index)
    if (!mark) return
    const key = `${note.hand}:${note.onsetMs.toFixed(1)}`
    const group = groups.get(key)
    if (group) group.heard.push(mark)
    else groups.set(key, { note, heard: [mark] })
  })
  return [...groups]
    .flatMap(([key, { note, heard: all }]): LaneMark[] => {
      const place = places.value.get(note.id)
      if (!place) return []
      const row = note.hand === 'left' && handCount.value > 1 ? 1 : 0
      return [
        {
          key,
          noteId: note.id,
          hand: note.hand,
          x: place.x,
          y: place.y + laneTopPx.value + row * laneRowPx.value,
          ...markOf(all, { fifths: fifths.value, toleranceMs: props.toleranceMs, noteNames: settings.noteNames }),
        },
      ]
    })
    .concat(extraMarks())
    .map((mark, index, all) => ({ ...mark, text: textThatFits(mark, all) }))
})

/**
 * Marks this near have room for the figure but not for its word; nearer still, for the sign alone, which says the same.
 */
const ROOM_FOR_WORDS_PX = 62
const ROOM_FOR_FIGURES_PX = 30

function textThatFits({ key, text, x, y, kind }: LaneMark, all: readonly LaneMark[]): string {
  if (kind !== 'stray') return text
  const nearest = Math.min(
    ...all.filter(other => other.key !== key && other.y === y && other.text !== '').map(other => Math.abs(other.x - x)),
  )
  return nearest < ROOM_FOR_FIGURES_PX ? '' : nearest < ROOM_FOR_WORDS_PX ? text.replace(/^\D+/, '') : text
}

/** Once a pass is read in peace: the keys that stand for no note, between the notes they were struck between. */
function extraMarks(): LaneMark[] {
  const placed = props.expected.flatMap(note => {
    const place = places.value.get(note.id)
    return place ? [{ ...place, onsetMs: note.onsetMs }] : []
  })
  const unexcused = (props.assessment?.extras ?? []).filter(
    extra => !extra.restart && !extra.ornament && !extra.doubled,
  )
  return unexcused.flatMap(({ played, pitch, atMs }): LaneMark[] => {
    const before = placed.findLast(note => note.onsetMs <= atMs) ?? placed[0]
    if (!before) return []
    const after = placed.find(note => note.onsetMs > atMs && note.y === before.y)
    const share = after ? (atMs - before.onsetMs) / (after.onsetMs - before.onsetMs) : 0.5
    const x = before.x + Math.max(0, share) * (after ? after.x - before.x : 2 * BESIDE_PX)
    const text = displayName(spellInKey(pitch, fifths.value), false)
    return [
      {
        key: `extra:${played}`,
        x,
        y: before.y + laneTopPx.value + extraLane.value * laneRowPx.value,
        kind: 'extra',
        sign: '+',
        text,
      },
    ]
  })
}
</script>

<template>
  <div class="paper" :class="{ one: row }" :style="lanePx ? { '--lane': `${lanePx}px` } : undefined">
    <EngravedBars
      class="sheet"
      :class="{ choosable }"
      :music-xml="musicXml"
      :score-id="scoreId"
      :first-bar="firstBar"
      :last-bar="lastBar"
      :label="`Notation of bars ${arrangement.bars[firstBar]!.number} to ${arrangement.bars[lastBar]!.number}`"
      :row="row"
      :parts="parts"
      :fingers="fingers"
      :style="row ? { width: `${row.widthPx}px` } : undefined"
      is-large
      @drawn="engraved"
      @click="choose"
    >
      <ul class="lane" aria-label="Marks">
        <li
          v-for="mark in lane"
          :key="mark.key"
          :class="mark.kind"
          :data-hand="mark.hand"
          :data-note="mark.noteId"
          :style="{ left: `${mark.x}px`, top: `${mark.y}px` }"
        >
          <b aria-hidden="true">{{ mark.sign }}</b><span class="sr-only">{{ mark.kind }} </span
          ><span>{{ mark.text }}</span>
        </li>
      </ul>
    </EngravedBars>
  </div>
</template>

<style scoped>
.paper {
  background: var(--sheet);
  padding: 0 calc(3 * var(--step));
  display: grid;
  align-items: center;
}
.sheet {
  max-width: 84rem;
  margin: 0 auto;
  min-height: min(18rem, 50vh);
}
.one {
  padding: 0;
}
.one .sheet {
  max-width: none;
  min-height: 0;
}
/* Of a staff that nobody here plays only the words are wanted. */
.sheet :deep(.words-only) > :not(.layer),
.sheet :deep(.words-only .rest),
.sheet :deep(.words-only .mRest) {
  visibility: hidden;
}
.sheet :deep(.words-only .note > :not(.verse)) {
  visibility: hidden;
}
.sheet :deep(.small .verse tspan) {
  font-size: 240px;
}
/* The tempo is the player's. */
.sheet :deep(.tempo) {
  display: none;
}
.sheet :deep(.not-now) {
  opacity: 0.38;
}
.sheet :deep([data-heard='right']) {
  color: var(--heard-right);
  fill: var(--heard-right);
  stroke: var(--heard-right);
}
.sheet :deep([data-heard='wrong']) {
  color: var(--heard-wrong);
  fill: var(--heard-wrong);
  stroke: var(--heard-wrong);
}
.sheet :deep([data-heard='missed']) {
  color: var(--heard-missed);
  fill: var(--heard-missed);
  stroke: var(--heard-missed);
  opacity: 0.75;
}
/* The words stay words: only what was played is marked. */
.sheet :deep([data-heard] .verse) {
  color: var(--ink);
  fill: var(--ink);
  stroke: none;
}
.choosable :deep(.note) {
  cursor: pointer;
}
.sheet :deep(.note.chosen .notehead) {
  stroke: var(--together);
  stroke-width: 110px;
  paint-order: stroke;
  stroke-linejoin: round;
}
/* What is waited for stands in a ring, as a chosen note does, and is bold. */
.sheet :deep(.note.due .notehead) {
  stroke: var(--together);
  stroke-width: 150px;
  paint-order: stroke;
  stroke-linejoin: round;
}
.lane {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.lane li {
  position: absolute;
  transform: translateX(-50%);
  display: grid;
  justify-items: center;
  line-height: 1;
  font-size: calc(0.38 * var(--lane, 40px));
  font-weight: 600;
  white-space: nowrap;
}
.lane b {
  font-size: calc(0.6 * var(--lane, 40px));
  line-height: 0.95;
}
.right {
  color: var(--heard-right);
}
/* An extra key is as wrong as a wrong one. */
.wrong,
.extra {
  color: var(--heard-wrong);
}
.missed,
.stray {
  color: var(--heard-missed);
}
</style>
