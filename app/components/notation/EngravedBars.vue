<script setup lang="ts">
/** Bars of a score as notation. What stands over it is the caller's: `drawn` tells when and where the notes are. */
const props = defineProps<{
  musicXml: string
  scoreId: string
  firstBar: number
  lastBar: number
  label: string
  /** `stand`: to be read from a metre away; `row`: so too, two rows at a time on a laptop's screen. */
  size?: 'stand' | 'row'
  /** Rows of marks that will stand under a `row`. */
  lanes?: number
}>()
const emit = defineEmits<{ drawn: [sheet: HTMLElement] }>()

const sheet = useTemplateRef<HTMLElement>('sheet')
const engraving = useTemplateRef<HTMLElement>('engraving')
const { width } = useElementSize(sheet)
const problem = ref('')
const engraved = ref(false)
const { engrave } = useEngraver()
let asked = 0

/** Width from which on a scale (percent) is used, widest first: as large as four bars across allow, smaller on a narrow page. */
const SCALES = { stand: [[1000, 62], [700, 52], [0, 42]], row: [[1000, 50], [700, 46], [0, 42]], page: [[900, 48], [0, 40]] } as const
/** A screen this high has room for two rows of full size. */
const HIGH_PX = 950
/** Room for a lane of marks under a row, and for their beginning. */
const LANE_PX = 34
const BELOW_PX = 14
function sizeFor(widthPx: number) {
  const size = props.size === 'row' && window.innerHeight > HIGH_PX ? 'stand' : props.size ?? 'page'
  const scale = SCALES[size].find(([least]) => widthPx > least)![1]
  return { scale, belowPx: props.size === 'row' ? BELOW_PX + LANE_PX * (props.lanes ?? 1) : 2 * scale, isBare: props.size !== undefined }
}

async function draw() {
  const widthPx = Math.floor(width.value)
  if (widthPx < 100 || props.musicXml === '') return
  const request = ++asked
  try {
    const svg = await engrave({ scoreId: props.scoreId, musicXml: props.musicXml, firstBar: props.firstBar, lastBar: props.lastBar, widthPx, ...sizeFor(widthPx) })
    // A later request has overtaken this one.
    if (request !== asked) return
    // Parsed as a document of its own: nothing in a score can run as a script or break out of the page's markup.
    const page = new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement
    engraving.value?.replaceChildren(document.importNode(page, true))
    engraved.value = true
    problem.value = ''
    await nextTick()
    if (sheet.value) emit('drawn', sheet.value)
  }
  catch (error) {
    problem.value = `The notation could not be drawn (${error instanceof Error ? error.message : 'unknown'}).`
  }
}
watchDebounced(width, draw, { debounce: 100 })
watch(() => [props.scoreId, props.firstBar, props.lastBar, props.lanes], draw)
</script>

<template>
  <div
    ref="sheet"
    class="sheet"
  >
    <div
      ref="engraving"
      class="engraving"
      role="img"
      :aria-label="label"
    />
    <p v-if="!engraved && !problem">
      Engraving …
    </p>
    <p
      v-if="problem"
      role="alert"
    >
      {{ problem }}
    </p>
    <slot />
  </div>
</template>

<style scoped>
.sheet { position: relative; width: 100%; min-height: 8rem; }
.engraving :deep(svg) { width: 100%; height: auto; color: var(--ink); fill: currentColor; overflow: visible; }
.engraving :deep(text) { font-family: var(--font-sans); }
.engraving :deep(.label), .engraving :deep(.labelAbbr) { display: none; }
/* In the engraving's own units: small enough to stand clear of the chord symbols. */
.engraving :deep(.mNum tspan) { font-size: 270px; fill: var(--ink-soft); }
/* The engraver spaces the words for a narrower face. */
.engraving :deep(.verse tspan) { font-size: 335px; }
</style>
