<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { messageOf } from '~/utils/ui/messageOf'
import type { Hands } from '#core/music/arrangement'
import { plural } from '#core/words/amounts'
import { minutesText } from '#core/words/logbook'

interface Session {
  day: string
  minutes: number
  passes: number
  clean: number
  songs: {
    songId: string
    title: string
    edition: string
    parts: string[]
    passes: number
    clean: number
    minutes: number
  }[]
}
/** A day of practice: what was played on it; its passes on demand. `filter`: which of them the page is about. */
const props = defineProps<{
  session: Session
  note?: string
  skipped?: string
  filter: { song?: string; part?: string; hands?: Hands }
  chosen: readonly string[]
}>()
defineEmits<{ choose: [id: string, on: boolean] }>()

const MAX_PASSES = 500
const MAX_PARTS = 4
const dates = useDates()
const isOpen = ref(false)
const {
  data: passes,
  error,
  execute,
  status,
} = useLazyFetch('/api/passes', {
  key: `passes ${props.session.day} ${JSON.stringify(props.filter)}`,
  query: { limit: MAX_PASSES, day: props.session.day, ...props.filter },
  immediate: false,
  watch: false,
  deep: false,
})
function toggled(event: Event) {
  isOpen.value = (event.target as HTMLDetailsElement).open
  if (isOpen.value && !passes.value) void execute()
}
const partsText = (parts: readonly string[]) =>
  parts.length > MAX_PARTS
    ? `${parts.slice(0, MAX_PARTS).join('; ')} and ${plural(parts.length - MAX_PARTS, 'more part')}`
    : parts.join('; ')
</script>

<template>
  <details @toggle="toggled">
    <summary>
      <b class="day">{{ dates.dayName(session.day) }}</b>
      <span class="what">
        <span v-for="song in session.songs" :key="song.songId"
          ><i>{{ song.title }}{{ song.edition ? ` (${song.edition})` : '' }}</i
          >{{ ' ' }}<span class="soft">{{ partsText(song.parts) }}</span></span
        >
        <span v-if="note" class="note">“{{ note }}”</span>
        <span v-if="skipped" class="soft">Skipped: {{ skipped }}</span>
      </span>
      <span class="figure amount">{{ minutesText(session.minutes) }}</span>
      <span class="figure amount soft">{{ session.clean }} of {{ session.passes }} clean</span>
    </summary>
    <template v-if="isOpen">
      <p v-if="error">
        {{ messageOf(error) }}
      </p>
      <p v-else-if="status === 'pending'" class="soft">Loading …</p>
      <PassTable v-else-if="passes" :passes="passes" :chosen="chosen" @choose="(id, on) => $emit('choose', id, on)" />
    </template>
  </details>
</template>

<style scoped>
details {
  border-top: 1px solid var(--rule);
}
summary {
  display: grid;
  grid-template-columns: 1rem 9rem minmax(0, 1fr) 6rem 8rem;
  gap: 0 calc(2 * var(--step));
  align-items: baseline;
  padding: var(--step) 0;
  cursor: pointer;
  list-style: none;
}
summary::-webkit-details-marker {
  display: none;
}
summary::before {
  content: '▸';
  color: var(--ink-soft);
}
details[open] > summary::before {
  content: '▾';
}
summary:hover {
  background: var(--sheet);
}
.day::first-letter {
  text-transform: uppercase;
}
.what > span {
  display: block;
}
.note {
  white-space: pre-line;
}
.amount {
  text-align: right;
}
@media (max-width: 52rem) {
  summary {
    grid-template-columns: 1rem minmax(0, 1fr) auto;
  }
  .what {
    grid-column: 2 / -1;
    grid-row: 2;
  }
  .amount.soft {
    grid-column: 2 / -1;
    text-align: left;
  }
}
</style>
