<script setup lang="ts">
import { ARROW_STEPS, nearestPlace, systemFrames } from '~/utils/notation/systems'
import { positionIn, type Arrangement } from '#core/music/arrangement'
import { toDecimal } from '#core/music/quarters'
import { placeWords } from '#core/words/places'

/** The first bars of a recording, whose bar lines can be dragged to another note. */
const props = defineProps<{ arrangement: Arrangement; musicXml: string; scoreId: string; lastBar: number }>()
const emit = defineEmits<{ move: [at: number] }>()

interface Place {
  at: number
  x: number
  top: number
  bottom: number
}
const lines = shallowRef<(Place & { bar: number; words: string })[]>([])
const notes = shallowRef<Place[]>([])
let sheet: HTMLElement | undefined

function settle(element: HTMLElement) {
  sheet = element
  const origin = element.getBoundingClientRect()
  const heads = new Map([...element.querySelectorAll('.engraving .note')].map(note => [note.id, note]))
  const frames = systemFrames(element)
  const frameOf = (one: Element) => frames.find(({ system }) => system.contains(one))
  const found = new Map<number, Place>()
  for (const note of props.arrangement.notes) {
    if (note.barIndex > props.lastBar) break
    const head = heads.get(note.id)
    const frame = head && frameOf(head)
    const box = (head?.querySelector('.notehead') ?? head)?.getBoundingClientRect()
    const at = toDecimal(note.onset)
    if (frame && box && !found.has(at))
      found.set(at, { at, x: box.left - origin.left - 8, top: frame.top, bottom: frame.bottom })
  }
  notes.value = [...found.values()].sort((a, b) => a.at - b.at)
  const measures = [...element.querySelectorAll('.engraving .measure')]
  lines.value = props.arrangement.bars.slice(1, props.lastBar + 1).flatMap((bar, index) => {
    const measure = measures[index + 1]
    const frame = measure && frameOf(measure)
    return measure && frame
      ? [
          {
            bar: bar.number,
            words: placeWords(positionIn(bar, bar.start)),
            at: toDecimal(bar.start),
            x: measure.getBoundingClientRect().left - origin.left,
            top: frame.top,
            bottom: frame.bottom,
          },
        ]
      : []
  })
}

const dragged = ref<number>()
const target = shallowRef<Place>()

function grab(index: number, event: PointerEvent) {
  dragged.value = index
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
}

function drag(event: PointerEvent) {
  if (dragged.value !== undefined && sheet) target.value = nearestPlace(notes.value, sheet, event)
}

function drop() {
  const line = dragged.value === undefined ? undefined : lines.value[dragged.value]
  if (line && target.value && target.value.at !== line.at) emit('move', target.value.at)
  dragged.value = undefined
  target.value = undefined
}

/** To the note before or after the line. */
function step(index: number, event: KeyboardEvent) {
  const by = ARROW_STEPS[event.key]
  if (by === undefined) return
  event.preventDefault()
  const { at } = lines.value[index]!
  const next =
    by > 0 ? notes.value.find(note => note.at > at + 1e-6) : notes.value.findLast(note => note.at < at - 1e-6)
  if (next) emit('move', next.at)
}
</script>

<template>
  <EngravedBars
    :music-xml="musicXml"
    :score-id="scoreId"
    :first-bar="0"
    :last-bar="lastBar"
    label="The first bars"
    @drawn="settle"
  >
    <div class="over" @pointermove="drag" @pointerup="drop" @pointercancel="drop">
      <button
        v-for="(line, index) in lines"
        :key="line.bar"
        type="button"
        class="line"
        :class="{ dragged: dragged === index }"
        role="slider"
        :aria-label="`Bar line before bar ${line.bar}`"
        :aria-valuetext="line.words"
        aria-valuemin="0"
        :aria-valuemax="Math.ceil(notes.at(-1)?.at ?? 0)"
        :aria-valuenow="line.at"
        :style="{
          left: `${(dragged === index && target ? target : line).x}px`,
          top: `${(dragged === index && target ? target : line).top - 30}px`,
          height: `${line.bottom - line.top + 40}px`,
        }"
        @pointerdown.stop="grab(index, $event)"
        @keydown="step(index, $event)"
      />
    </div>
  </EngravedBars>
</template>

<style scoped>
.over {
  position: absolute;
  inset: 0;
}
/* Grabbed anywhere along the bar line; a tread on top says that it moves. */
.line {
  position: absolute;
  width: 1.5rem;
  margin-left: -0.75rem;
  cursor: ew-resize;
  touch-action: none;
  border-radius: 0.25rem;
}
.line::before {
  content: '';
  position: absolute;
  left: 50%;
  top: 0.4rem;
  bottom: 0;
  border-left: 2px dashed transparent;
}
.line::after {
  content: '';
  position: absolute;
  left: calc(50% - 0.45rem);
  top: 0;
  width: 0.9rem;
  height: 0.4rem;
  background: var(--ink-soft);
  border-radius: 0.15rem;
}
.line:is(:hover, :focus-visible, .dragged)::before {
  border-color: var(--together);
}
.line:is(:hover, :focus-visible, .dragged)::after {
  background: var(--together);
}
</style>
