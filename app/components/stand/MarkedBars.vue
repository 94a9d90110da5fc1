<script setup lang="ts">
import { barPlaces, barUnder, beatPlaces, placeOfMoment } from '~/utils/notation/barPlaces'
import { ARROW_STEPS, nearestPlace } from '~/utils/notation/systems'
import type { Arrangement } from '#core/music/arrangement'
import { barsMarked, barsOfSpan, withEdge } from '#core/music/marked'
import type { ScoreSpan } from '#core/music/passage'
import { beatNear } from '#core/parts/edit'
import { describeStretch } from '#core/words/places'
import type { NotationRow } from '~/composables/notation/useNotationLayout'

/**
 * Bars marked on the page: tapped, or drawn from the first to the last; their edges are then moved by a beat, dragged
 * or with the arrow keys.
 */
const props = defineProps<{
  arrangement: Arrangement
  rows: readonly { place: number; row: NotationRow }[]
  marked?: ScoreSpan
  mayMark: boolean
  /** Changes when the notation is redrawn. */
  drawn: number
}>()
const emit = defineEmits<{ mark: [stretch: ScoreSpan] }>()
const over = useTemplateRef<HTMLElement>('over')
/** While a pointer draws: from which bar to which. */
const drawing = shallowRef<{ from: number; to: number }>()
const dragged = shallowRef<{ edge: 'from' | 'to'; at: ScoreSpan['from'] }>()

const shown = computed((): ScoreSpan | undefined => {
  if (drawing.value) return barsMarked(props.arrangement, drawing.value.from, drawing.value.to)
  if (dragged.value && props.marked)
    return withEdge(props.arrangement, props.marked, dragged.value.edge, dragged.value.at)
  return props.marked
})

const places = () =>
  props.rows.flatMap(({ place, row }) => {
    const element = over.value?.parentElement?.querySelector(`[data-row="${place}"]`)
    return element ? barPlaces(element, row.firstBar).filter(one => one.bar <= row.lastBar) : []
  })

interface Band {
  key: number
  left: number
  top: number
  width: number
  height: number
  edges: { edge: 'from' | 'to'; x: number }[]
}
const bands = shallowRef<Band[]>([])

function lay() {
  const origin = over.value?.getBoundingClientRect()
  const stretch = shown.value
  if (!origin || !stretch) {
    bands.value = []
    return
  }
  const { arrangement } = props
  const [first, last] = barsOfSpan(arrangement, stretch)
  const all = places()
  bands.value = props.rows.flatMap(({ place, row }): Band[] => {
    const own = all.filter(
      one => one.bar >= row.firstBar && one.bar <= row.lastBar && one.bar >= first && one.bar <= last,
    )
    const [begin, end] = [own[0], own.at(-1)]
    if (!begin || !end) return []
    const [left, right] = [placeOfMoment(arrangement, begin, stretch.from), placeOfMoment(arrangement, end, stretch.to)]
    const edges = [
      ...(begin.bar === first ? [{ edge: 'from' as const, x: 0 }] : []),
      ...(end.bar === last ? [{ edge: 'to' as const, x: right - left }] : []),
    ]
    return [
      {
        key: place,
        left: left - origin.left,
        top: begin.top - origin.top - 14,
        width: right - left,
        height: begin.bottom - begin.top + 28,
        edges,
      },
    ]
  })
}
watch([shown, () => props.rows, () => props.drawn], () => void nextTick(lay), { immediate: true })

/** Further than this, a press is no tap but drawn. */
let pressedBar: number | undefined

function press(event: PointerEvent) {
  if (!props.mayMark || event.button !== 0) return
  const found = barUnder(places(), event)
  if (!found) return
  pressedBar = found.bar
  drawing.value = { from: found.bar, to: found.bar }
  over.value!.setPointerCapture(event.pointerId)
}

function move(event: PointerEvent) {
  if (dragged.value) {
    const origin = over.value!.getBoundingClientRect()
    const near = nearestPlace(
      beatPlaces(props.arrangement, places()).map(one => ({
        ...one,
        x: one.x - origin.left,
        top: one.top - origin.top,
        bottom: one.bottom - origin.top,
      })),
      over.value!,
      event,
    )
    if (near) dragged.value = { ...dragged.value, at: near.at }
  } else if (pressedBar !== undefined) {
    const found = barUnder(places(), event)
    if (found) drawing.value = { from: pressedBar, to: found.bar }
  }
}

function release(event: PointerEvent) {
  const stretch = shown.value
  const isTap = drawing.value !== undefined && drawing.value.from === drawing.value.to
  if (dragged.value && stretch) emit('mark', stretch)
  else if (drawing.value && stretch) emit('mark', isTap ? tapped(drawing.value.from, event) : stretch)
  drawing.value = undefined
  dragged.value = undefined
  pressedBar = undefined
}

/** A tap means that bar; with one marked already, on to that one. */
function tapped(bar: number, { shiftKey }: PointerEvent): ScoreSpan {
  const { arrangement, marked } = props
  if (!marked) return barsMarked(arrangement, bar, bar)
  const [first, last] = barsOfSpan(arrangement, marked)
  if (!shiftKey && bar >= first && bar <= last) return barsMarked(arrangement, bar, bar)
  return barsMarked(arrangement, Math.min(first, bar), Math.max(last, bar))
}

function cancel() {
  drawing.value = undefined
  dragged.value = undefined
  pressedBar = undefined
}

function grab(edge: 'from' | 'to', event: PointerEvent) {
  dragged.value = { edge, at: props.marked![edge] }
  over.value!.setPointerCapture(event.pointerId)
}

function step(edge: 'from' | 'to', event: KeyboardEvent) {
  const by = ARROW_STEPS[event.key]
  if (by === undefined || event.shiftKey) return
  event.preventDefault()
  event.stopPropagation()
  emit('mark', withEdge(props.arrangement, props.marked!, edge, beatNear(props.arrangement, props.marked![edge], by)))
}
</script>

<template>
  <div
    ref="over"
    class="over"
    :class="{ may: mayMark }"
    @pointerdown="press"
    @pointermove="move"
    @pointerup="release"
    @pointercancel="cancel"
  >
    <div
      v-for="band in bands"
      :key="band.key"
      class="band"
      :class="{ drawing }"
      :style="{ left: `${band.left}px`, top: `${band.top}px`, width: `${band.width}px`, height: `${band.height}px` }"
    >
      <button
        v-for="{ edge, x } in band.edges"
        :key="edge"
        type="button"
        class="edge"
        role="slider"
        :aria-label="edge === 'from' ? 'Where the marked bars begin' : 'Where the marked bars end'"
        :aria-valuetext="shown ? describeStretch(arrangement, shown) : ''"
        :aria-valuenow="shown ? barsOfSpan(arrangement, shown)[edge === 'from' ? 0 : 1] : 0"
        aria-valuemin="0"
        :aria-valuemax="arrangement.bars.length"
        :style="{ left: `${x}px` }"
        @pointerdown.stop="grab(edge, $event)"
        @keydown="step(edge, $event)"
      />
    </div>
  </div>
</template>

<style scoped>
.over {
  position: absolute;
  inset: 0;
  z-index: 1;
  pointer-events: none;
}
.over.may {
  pointer-events: auto;
  touch-action: pan-y;
  cursor: cell;
}
.band {
  position: absolute;
  background: color-mix(in srgb, var(--together) 7%, transparent);
  pointer-events: none;
}
.edge {
  position: absolute;
  top: -4px;
  bottom: -4px;
  width: 2.75rem;
  margin-left: -1.375rem;
  cursor: ew-resize;
  touch-action: none;
  pointer-events: auto;
}
.edge::before {
  content: '';
  position: absolute;
  left: calc(50% - 2px);
  top: 0;
  bottom: 0;
  border-left: 4px solid var(--together);
}
.edge::after {
  content: '';
  position: absolute;
  left: calc(50% - 0.55rem);
  top: 0;
  width: 1.1rem;
  height: 0.45rem;
  background: var(--together);
  border-radius: 0.15rem;
}
.drawing .edge {
  visibility: hidden;
}
</style>
