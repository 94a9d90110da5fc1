<script setup lang="ts">
import type { ExpectedNote } from '#core/music/passage'
import { spellInKey } from '#core/music/pitch'
import { displayName } from '#core/words/note-names'
import type { OnScreenKeys } from '~/keyboards/on-screen'

const props = defineProps<{ keys: OnScreenKeys; expected: readonly ExpectedNote[]; wanted: readonly number[] }>()
const BLACK = [1, 3, 6, 8, 10]
const isBlack = (pitch: number) => BLACK.includes(pitch % 12)

/** From the C below the part's lowest note to the B above its highest. */
const range = computed(() => {
  const pitches = props.expected.map(note => note.pitch)
  const lowest = Math.max(21, Math.floor(Math.min(60, ...pitches) / 12) * 12)
  const highest = Math.min(108, Math.floor(Math.max(71, ...pitches) / 12) * 12 + 11)
  return Array.from({ length: highest - lowest + 1 }, (_, step) => lowest + step)
})
const whites = computed(() => range.value.filter(pitch => !isBlack(pitch)))
const whitePlace = (pitch: number) => whites.value.filter(white => white < pitch).length
const down = ref(new Set<number>())

function press(pitch: number, event: PointerEvent) {
  if (event.button !== 0) return
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
  down.value = new Set(down.value).add(pitch)
  props.keys.press(pitch, event.timeStamp)
}

function release(pitch: number, event: PointerEvent) {
  const next = new Set(down.value)
  next.delete(pitch)
  down.value = next
  props.keys.release(pitch, event.timeStamp)
}
</script>

<template>
  <div class="keyboard" role="group" aria-label="Keys" :style="{ '--whites': whites.length }">
    <button
      v-for="pitch in range"
      :key="pitch"
      type="button"
      tabindex="-1"
      :class="[isBlack(pitch) ? 'black' : 'white', { down: down.has(pitch), wanted: wanted.includes(pitch) }]"
      :style="{ '--place': whitePlace(pitch) }"
      :aria-label="displayName(spellInKey(pitch, 0))"
      @pointerdown="press(pitch, $event)"
      @pointerup="release(pitch, $event)"
      @pointercancel="release(pitch, $event)"
    >
      <span v-if="pitch % 12 === 0">{{ displayName(spellInKey(pitch, 0)) }}</span>
    </button>
  </div>
</template>

<style scoped>
.keyboard {
  position: relative;
  height: 7rem;
  margin: 0 auto;
  width: min(100%, calc(var(--whites) * 3rem));
  touch-action: none;
  user-select: none;
}
button {
  position: absolute;
  top: 0;
  border: 1px solid #51626b;
  border-radius: 0 0 0.25rem 0.25rem;
}
.white {
  left: calc(100% / var(--whites) * var(--place));
  width: calc(100% / var(--whites));
  height: 100%;
  background: #fbfcfb;
  color: #4a5c64;
  display: flex;
  align-items: end;
  justify-content: center;
  font-size: 0.8rem;
}
.black {
  left: calc(100% / var(--whites) * (var(--place) - 0.3));
  width: calc(60% / var(--whites));
  height: 62%;
  background: #1b272d;
  z-index: 1;
}
/* The keys that are waited for: a mark, not only a colour. */
.wanted::after {
  content: '●';
  position: absolute;
  bottom: 1.4rem;
  left: 0;
  right: 0;
  text-align: center;
  color: var(--color-petrol-600);
}
.black.wanted::after {
  bottom: 0.2rem;
  color: #fbfcfb;
}
.down {
  background: var(--color-petrol-400);
}
</style>
