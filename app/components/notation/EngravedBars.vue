<script setup lang="ts">
import { useEngraver } from '~/composables/notation/useEngraver'
import type { Drawn, Fingers } from '#core/formats/musicxml/excerpt'

/** Bars of a score as notation. What stands over it is the caller's: `drawn` tells when and where the notes are. */
const props = defineProps<{
  musicXml: string
  scoreId: string
  firstBar: number
  lastBar: number
  label: string
  /**
   * All on one row of this width at this staff space, smaller where it would be too high. Otherwise on rows as wide as
   * the room.
   */
  row?: { widthPx: number; spacePx: number; mostHeightPx: number }
  /** To be read from further away. */
  isLarge?: boolean
  /** No marks will be drawn at its notes, so the rows stand close together. */
  isUnmarked?: boolean
  /** Parts of the score, by id, that are not drawn as they stand. */
  parts?: Readonly<Record<string, Drawn>>
  /** Fingers to be written at notes that have none: only on a row. */
  fingers?: Fingers
}>()
const emit = defineEmits<{ drawn: [sheet: HTMLElement] }>()

const sheet = useTemplateRef<HTMLElement>('sheet')
const engraving = useTemplateRef<HTMLElement>('engraving')
const { width } = useElementSize(sheet)
const problem = ref('')
const engraved = ref(false)
const engraver = useEngraver()
let asked = 0

/**
 * Width from which on a scale (percent) is used, widest first: as large as four bars across allow, smaller on a narrow
 * page.
 */
const SCALES = {
  large: [
    [1000, 62],
    [700, 52],
    [0, 42],
  ],
  usual: [
    [900, 48],
    [0, 40],
  ],
} as const

async function engrave(): Promise<string | undefined> {
  const bars = { firstBar: props.firstBar, lastBar: props.lastBar, drawn: { ...props.parts } }
  if (props.row) return (await engraver.row(props, { ...bars, ...props.row, fingers: { ...props.fingers } })).svg
  const widthPx = Math.floor(width.value)
  if (widthPx < 100) return undefined
  const scale = SCALES[props.isLarge ? 'large' : 'usual'].find(([least]) => widthPx > least)![1]
  return await engraver.sheet(props, {
    ...bars,
    widthPx,
    scale,
    belowPx: props.isUnmarked ? 0 : 2 * scale,
    isBare: props.isLarge,
  })
}

async function draw() {
  if (props.musicXml === '') return
  const request = ++asked
  try {
    const svg = await engrave()
    // A later request has overtaken this one.
    if (svg === undefined || request !== asked) return
    // Parsed as a document of its own: nothing in a score can run as a script or break out of the page's markup.
    const page = new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement
    engraving.value?.replaceChildren(document.importNode(page, true))
    // The first sheet is laid out in a task of its own; a redrawn one has its marks at once.
    if (!engraved.value && !props.row) await new Promise(resolve => requestAnimationFrame(() => setTimeout(resolve)))
    engraved.value = true
    problem.value = ''
    await nextTick()
    if (sheet.value) emit('drawn', sheet.value)
  } catch (error) {
    problem.value = `The notation could not be drawn (${error instanceof Error ? error.message : 'unknown'}).`
  }
}
watchDebounced(
  width,
  () => {
    if (!props.row) void draw()
  },
  { debounce: 100 },
)
watch(() => [props.scoreId, props.firstBar, props.lastBar, props.row, props.parts, props.fingers], draw)
onMounted(() => {
  if (props.row) void draw()
})
</script>

<template>
  <div ref="sheet" class="sheet">
    <div ref="engraving" class="engraving" role="img" :aria-label="label" />
    <p v-if="!engraved && !problem">Engraving …</p>
    <p v-if="problem" role="alert">
      {{ problem }}
    </p>
    <slot />
  </div>
</template>

<style scoped>
.sheet {
  position: relative;
  width: 100%;
  min-height: 8rem;
}
.engraving :deep(svg) {
  width: 100%;
  height: auto;
  color: var(--ink);
  fill: currentColor;
  overflow: visible;
}
.engraving :deep(text) {
  font-family: var(--font-sans);
}
.engraving :deep(.label),
.engraving :deep(.labelAbbr) {
  display: none;
}
/* In the engraving's own units: small enough to stand clear of the chord symbols. */
.engraving :deep(.mNum tspan) {
  font-size: 270px;
  fill: var(--ink-soft);
}
/* The engraver spaces the words for a narrower face. */
.engraving :deep(.verse tspan) {
  font-size: 335px;
}
</style>
