<script setup lang="ts">
import { ARROW_STEPS, nearestPlace, systemFrames } from '~/utils/notation/systems'
import type { Arrangement, Hand } from '#core/music/arrangement'
import { barAt } from '#core/music/arrangement'
import type { ScoreDocument } from '#core/formats/musicxml/document'
import type { Coincidence } from '#core/hands/together'
import { beatLength } from '#core/music/meter'
import type { ScoreSpan } from '#core/music/passage'
import { describeStretch } from '#core/words/places'
import { add, compare, multiply, quarters, subtract, toDecimal, type Quarters } from '#core/music/quarters'
import { median } from 'simple-statistics'

/** A part as notation with a bar before and after it: its edges, fingers, counts and chosen notes. */
const props = defineProps<{
  arrangement: Arrangement
  /** As it is saved: corrections are drawn into it. Nothing is drawn without it. */
  document?: ScoreDocument
  stretch: ScoreSpan
  name: string
  /** Digits over and under the notes, by note id; `kept` ones are written in the score, the others suggested. */
  fingers: ReadonlyMap<string, { finger: number; kept: boolean }>
  moments: readonly Coincidence[]
  chosen: readonly string[]
  /** Notes that the program plays now. */
  sounding: ReadonlySet<string>
}>()
const emit = defineEmits<{
  choose: [ids: string[], more: boolean]
  edge: [edge: 'from' | 'to', at: Quarters]
  step: [edge: 'from' | 'to', by: number]
}>()

const firstBar = computed(() => Math.max(0, barAt(props.arrangement, props.stretch.from).index - 1))
const lastBar = computed(() =>
  Math.min(
    props.arrangement.bars.length - 1,
    props.arrangement.bars.findLastIndex(bar => compare(bar.start, props.stretch.to) < 0) + 1,
  ),
)
/**
 * Only these bars are engraved, so that a correction is seen at once in a long song too. What was engraved before is
 * known by its text.
 */
const written = computed(
  () => props.document?.bars(withoutFingers(props.arrangement), firstBar.value, lastBar.value) ?? '',
)

/** Fingers stand in a line of their own, where they can be changed. */
const withoutFingers = (arrangement: Arrangement): Arrangement => ({
  ...arrangement,
  notes: arrangement.notes.map(({ finger: _finger, ...note }) => note),
})

interface Place {
  id: string
  hand: Hand
  x: number
  y: number
  system: number
  top: number
  bottom: number
  digits: number
}
interface Moment {
  at: Quarters
  x: number
  system: number
  top: number
  bottom: number
}
const places = shallowRef(new Map<string, Place>())
const beats = shallowRef<Moment[]>([])
let sheet: HTMLElement | undefined
let heads = new Map<string, Element>()

function settle(element: HTMLElement) {
  sheet = element
  heads = new Map([...element.querySelectorAll('.engraving .note')].map(note => [note.id, note]))
  const origin = element.getBoundingClientRect()
  const drawn = systemFrames(element)
  const systems = drawn.map(one => one.system)
  const frames = drawn.map(({ system, top, bottom }) => {
    // Digits stand over chord symbols, counts under everything that hangs below. (The sharp in a symbol is a glyph of
    // the music font, whose box is far taller than its ink: the usual one is taken.)
    const symbols = [...system.querySelectorAll('.harm')].map(symbol => symbol.getBoundingClientRect().top)
    return { top, bottom, digits: symbols.length > 0 ? Math.min(top, median(symbols) - origin.top) : top }
  })
  const found = new Map<string, Place>()
  for (const note of props.arrangement.notes) {
    const head = heads.get(note.id)
    const box = (head?.querySelector('.notehead') ?? head)?.getBoundingClientRect()
    const system = systems.findIndex(one => head && one.contains(head))
    if (!box || system < 0) continue
    found.set(note.id, {
      id: note.id,
      hand: note.hand,
      x: box.left + box.width / 2 - origin.left,
      y: box.top + box.height / 2 - origin.top,
      system,
      ...frames[system]!,
    })
  }
  places.value = found
  beats.value = beatPlaces(systems, frames, origin, found)
  mark()
}

/** Where each beat lies: at its notes, else between what stands around it. */
function beatPlaces(
  systems: Element[],
  frames: { top: number; bottom: number }[],
  origin: DOMRect,
  found: ReadonlyMap<string, Place>,
): Moment[] {
  const moments: Moment[] = []
  const measures = systems.flatMap((system, index) =>
    [...system.querySelectorAll('.measure')].map(measure => ({ box: measure.getBoundingClientRect(), system: index })),
  )
  for (let index = firstBar.value; index <= lastBar.value; index++) {
    const bar = props.arrangement.bars[index]!
    const measure = measures[index - firstBar.value]
    if (!measure) continue
    const [left, right] = [measure.box.left - origin.left, measure.box.right - origin.left]
    const known: { at: number; x: number }[] = []
    for (const note of props.arrangement.notes) {
      const place = note.barIndex === index && !note.grace ? found.get(note.id) : undefined
      if (place && !known.some(one => one.at === toDecimal(note.onset)))
        known.push({ at: toDecimal(note.onset), x: place.x - 16 })
    }
    const end = toDecimal(add(bar.start, bar.length))
    const anchors = [
      ...(known.some(one => one.at === toDecimal(bar.start)) ? [] : [{ at: toDecimal(bar.start), x: left + 8 }]),
      ...known,
      { at: end, x: right },
    ].sort((a, b) => a.at - b.at)
    const beat = beatLength(bar.meter)
    const count = Math.ceil(toDecimal(bar.length) / toDecimal(beat) - 1e-9)
    const offBeat = toDecimal(bar.offset) % toDecimal(beat)
    for (let step = 0; step <= count; step++) {
      const at =
        step === 0
          ? bar.start
          : add(
              subtract(bar.start, bar.offset),
              multiply(beat, quarters(Math.round((toDecimal(bar.offset) - offBeat) / toDecimal(beat)) + step)),
            )
      if (compare(at, add(bar.start, bar.length)) > 0) continue
      const value = toDecimal(at)
      const after = anchors.findIndex(one => one.at >= value - 1e-9)
      const [a, b] = [anchors[Math.max(0, after - 1)]!, anchors[after]!]
      const share = b.at === a.at ? 1 : (value - a.at) / (b.at - a.at)
      // A bar line belongs to the bar that begins there, but at the end of a system.
      const isEnd = Math.abs(value - end) < 1e-9
      if (isEnd && measures[index - firstBar.value + 1]?.system === measure.system) continue
      moments.push({
        at,
        x: isEnd ? right : a.x + share * (b.x - a.x),
        system: measure.system,
        ...frames[measure.system]!,
      })
    }
  }
  return moments
}

const edges = computed(() =>
  (['from', 'to'] as const).flatMap(edge => {
    const wanted = props.stretch[edge]
    const all = beats.value.filter(beat => Math.abs(toDecimal(beat.at) - toDecimal(wanted)) < 1e-6)
    // An end that is also the next system's beginning is shown at the end of its own.
    const exact = edge === 'from' ? all.at(-1) : all[0]
    const near = exact ?? beats.value.findLast(beat => compare(beat.at, wanted) <= 0)
    return near ? [{ edge, ...near }] : []
  }),
)

const dragged = ref<'from' | 'to'>()
const dragPlace = shallowRef<Moment>()

function grab(edge: 'from' | 'to', event: PointerEvent) {
  dragged.value = edge
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
}

function drag(event: PointerEvent) {
  if (dragged.value && sheet) dragPlace.value = nearestPlace(beats.value, sheet, event)
}

function drop() {
  if (dragged.value && dragPlace.value) emit('edge', dragged.value, dragPlace.value.at)
  dragged.value = undefined
  dragPlace.value = undefined
}

function step(edge: 'from' | 'to', event: KeyboardEvent) {
  const by = ARROW_STEPS[event.key]
  if (by === undefined) return
  event.preventDefault()
  event.stopPropagation()
  emit('step', edge, by)
}

/** A click this near a notehead means it. */
const CLICK_REACH_PX = 28

function choose(event: MouseEvent) {
  if (!sheet) return
  const origin = sheet.getBoundingClientRect()
  const [x, y] = [event.clientX - origin.left, event.clientY - origin.top]
  let nearest: Place | undefined
  for (const place of places.value.values()) {
    if (
      Math.hypot(place.x - x, place.y - y) <
      Math.min(CLICK_REACH_PX, nearest ? Math.hypot(nearest.x - x, nearest.y - y) : CLICK_REACH_PX)
    )
      nearest = place
  }
  emit('choose', nearest ? [nearest.id] : [], event.shiftKey || event.ctrlKey || event.metaKey)
}

const isInside = (onset: Quarters) => compare(onset, props.stretch.from) >= 0 && compare(onset, props.stretch.to) < 0

function mark() {
  const chosen = new Set(props.chosen)
  for (const note of props.arrangement.notes) {
    const head = heads.get(note.id)
    head?.classList.toggle('outside', !isInside(note.onset))
    head?.classList.toggle('chosen', chosen.has(note.id))
  }
}
watch(
  () => [props.chosen, props.stretch],
  () => nextTick(mark),
)

let shown: ReadonlySet<string> = new Set()
watch(
  () => props.sounding,
  now => {
    for (const id of shown) if (!now.has(id)) heads.get(id)?.classList.remove('sounding')
    for (const id of now) heads.get(id)?.classList.add('sounding')
    shown = now
  },
)

const DIGIT_PX = 17
/** Digits of the right hand over its notes' staff, of the left under it, chords as a stack. */
const digits = computed(() => {
  const stacks = new Map<string, { place: Place; id: string }[]>()
  for (const note of props.arrangement.notes) {
    const place = props.fingers.has(note.id) ? places.value.get(note.id) : undefined
    if (!place || note.grace) continue
    const key = `${note.hand}:${note.onset.n}/${note.onset.d}`
    stacks.set(key, [...(stacks.get(key) ?? []), { place, id: note.id }])
  }
  return [...stacks.values()].flatMap(stack => {
    const isRight = stack[0]!.place.hand === 'right'
    const sorted = [...stack].sort((a, b) => (isRight ? b.place.y - a.place.y : a.place.y - b.place.y))
    const { x, digits: line, bottom } = stack[0]!.place
    const edge = isRight
      ? Math.min(line, ...stack.map(one => one.place.y - 8)) - 12
      : Math.max(bottom, ...stack.map(one => one.place.y + 8)) + 14
    return sorted.map(({ id }, index) => ({
      id,
      x,
      y: edge + (isRight ? -1 : 1) * index * DIGIT_PX,
      ...props.fingers.get(id)!,
    }))
  })
})

const SIGNS = { together: '◆', right: '▵', left: '▿' }
const counted = computed(() => {
  return props.moments.flatMap(moment => {
    const place = places.value.get(moment.rightIds[0] ?? moment.leftIds[0]!)
    return place
      ? [
          {
            key: `${moment.onset.n}/${moment.onset.d}`,
            x: place.x,
            y: place.bottom + 62,
            sign: SIGNS[moment.hands],
            hands: moment.hands,
            count: moment.count,
          },
        ]
      : []
  })
})
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events -->
  <div class="work" @click="choose">
    <EngravedBars
      :music-xml="written"
      :score-id="written"
      :first-bar="0"
      :last-bar="lastBar - firstBar"
      :label="`${name}, ${describeStretch(arrangement, stretch)}`"
      @drawn="settle"
    >
      <div class="over" @pointermove="drag" @pointerup="drop" @pointercancel="drop">
        <button
          v-for="one in edges"
          :key="one.edge"
          type="button"
          class="edge"
          :class="{ dragged: dragged === one.edge }"
          role="slider"
          :aria-label="one.edge === 'from' ? 'Beginning of the part' : 'End of the part'"
          :aria-valuetext="describeStretch(arrangement, stretch)"
          aria-valuemin="0"
          :aria-valuemax="Math.round(toDecimal(arrangement.bars.at(-1)!.start) + 4)"
          :aria-valuenow="toDecimal(stretch[one.edge])"
          :style="{
            left: `${(dragged === one.edge && dragPlace ? dragPlace : one).x}px`,
            top: `${(dragged === one.edge && dragPlace ? dragPlace : one).top - 14}px`,
            height: `${one.bottom - one.top + 28}px`,
          }"
          @pointerdown.stop="grab(one.edge, $event)"
          @click.stop
          @keydown="step(one.edge, $event)"
        />
        <span
          v-for="digit in digits"
          :key="digit.id"
          class="digit"
          :class="{ kept: digit.kept }"
          :data-note="digit.id"
          :style="{ left: `${digit.x}px`, top: `${digit.y}px` }"
          >{{ digit.finger }}</span
        >
        <ol class="counts" aria-label="Counts, and which hands fall together">
          <li
            v-for="one in counted"
            :key="one.key"
            :class="one.hands"
            :style="{ left: `${one.x}px`, top: `${one.y}px` }"
          >
            <b aria-hidden="true">{{ one.sign }}</b><span class="sr-only">{{ one.hands }}</span>
            <span>{{ one.count || '·' }}</span>
          </li>
        </ol>
      </div>
    </EngravedBars>
  </div>
</template>

<style scoped>
.work {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(5 * var(--step)) calc(2 * var(--step)) calc(3 * var(--step));
  cursor: default;
}
/* The song's marks stand in the list and in the fields; here they would be in the way. */
.work :deep(.tempo),
.work :deep(.reh) {
  display: none;
}
.work :deep(.outside) {
  opacity: 0.38;
}
.work :deep(.note) {
  cursor: pointer;
}
.work :deep(.note.chosen .notehead) {
  stroke: var(--together);
  stroke-width: 110px;
  paint-order: stroke;
  stroke-linejoin: round;
}
/* What sounds stands out by shape as well: its head grows a rim. */
.work :deep(.note.sounding .notehead) {
  fill: var(--together);
  stroke: var(--together);
  stroke-width: 70px;
}
.over {
  position: absolute;
  inset: 0;
}
/* The tread of a stair: grabbed anywhere along its riser. */
.edge {
  position: absolute;
  width: 1.5rem;
  margin-left: -0.75rem;
  cursor: ew-resize;
  touch-action: none;
  border-radius: 0.25rem;
}
.edge::before {
  content: '';
  position: absolute;
  left: 50%;
  top: 0;
  bottom: 0;
  border-left: 3px solid var(--together);
}
.edge::after {
  content: '';
  position: absolute;
  left: calc(50% - 0.55rem);
  top: -0.35rem;
  width: 1.1rem;
  height: 0.55rem;
  background: var(--together);
  border-radius: 0.15rem;
}
.edge.dragged::before {
  border-left-style: dashed;
}
.digit {
  position: absolute;
  transform: translate(-50%, -50%);
  font-weight: 600;
  font-size: 0.95rem;
  line-height: 1;
  color: var(--ink-soft);
  pointer-events: none;
  font-style: italic;
}
.digit.kept {
  color: var(--ink);
  font-style: normal;
  font-weight: 700;
}
.counts {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.counts li {
  position: absolute;
  transform: translateX(-50%);
  display: grid;
  justify-items: center;
  line-height: 1.1;
  font-size: 0.9rem;
  color: var(--ink-soft);
}
.counts b {
  font-size: 0.8rem;
}
.counts .together b {
  color: var(--together);
}
.counts .right b {
  color: var(--right-hand);
}
.counts .left b {
  color: var(--left-hand);
}
</style>
