<script setup lang="ts">
import type { SungLine } from '#core/music/sung-words'

/** The words to sing, large: the line that is sung with its syllable, and the next one. */
const props = defineProps<{
  lines: readonly SungLine[]
  /** How far the music has come, ms; undefined while nothing is played. */
  atMs?: number
}>()
const place = computed(() => {
  const at = props.atMs ?? 0
  const found = props.lines.findIndex(line => at < line.toMs)
  return found < 0 ? props.lines.length - 1 : found
})
const now = computed(() => props.lines[place.value])
const next = computed(() => props.lines[place.value + 1])
const sung = computed(() =>
  props.atMs === undefined ? -1 : (now.value?.syllables.findLastIndex(one => one.atMs <= props.atMs! + 1) ?? -1),
)
const plain = (line: SungLine) => line.syllables.map(({ text, hyphen }) => (hyphen ? text : `${text} `)).join('')
</script>

<template>
  <section v-if="now" class="words" aria-label="Words">
    <p class="now">
      <template v-for="({ text, hyphen }, index) in now.syllables" :key="index">
        <span :class="{ sung: index === sung }">{{ text }}</span>{{ hyphen ? '' : ' ' }}
      </template>
    </p>
    <p v-if="next" class="next">
      {{ plain(next) }}
    </p>
  </section>
</template>

<style scoped>
.words {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  justify-content: center;
  gap: 0 calc(4 * var(--step));
  height: 3.6rem;
  overflow: hidden;
  padding: 0.3rem calc(2 * var(--step));
  background: var(--sheet);
  border-bottom: 1px solid var(--rule);
}
.now {
  font-family: var(--font-serif);
  font-size: 2.1rem;
  line-height: 1.3;
  white-space: pre-wrap;
}
.next {
  font-family: var(--font-serif);
  font-size: 1.3rem;
  color: var(--ink-soft);
}
.sung {
  text-decoration: underline;
  text-decoration-thickness: 4px;
  text-underline-offset: 6px;
  text-decoration-color: var(--together);
}
@media (max-width: 46rem), (max-height: 32rem) {
  .words {
    height: 2.4rem;
  }
  .now {
    font-size: 1.3rem;
  }
  .next {
    display: none;
  }
}
</style>
