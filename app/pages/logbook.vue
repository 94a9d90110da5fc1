<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
import { trendOf } from '#core/coach/trend'
import { itemText } from '#core/words/coach'
import { minutesText, trendTexts } from '#core/words/logbook'
import type { Hands } from '#core/music/arrangement'

useHead({ title: 'Logbook · Half Step' })
const PAGE = 7
const SPANS = [
  { value: 30, label: '30 days' },
  { value: 182, label: 'half a year' },
  { value: 0, label: 'all' },
]
const DAY_MS = 86_400_000

const { query: asked } = useRoute()
const song = ref(typeof asked.song === 'string' ? asked.song : '')
const part = ref(typeof asked.part === 'string' ? asked.part : '')
watch(
  song,
  () => {
    part.value = ''
  },
  { flush: 'sync' },
)
const hands = ref<Hands | ''>('')
const span = ref<number>(182)
const opened = Date.now()
const filter = computed(() => ({
  ...(song.value ? { song: song.value } : {}),
  ...(part.value ? { part: part.value } : {}),
  ...(hands.value ? { hands: hands.value } : {}),
}))
const query = computed(() => ({
  ...filter.value,
  ...(span.value ? { from: new Date(opened - span.value * DAY_MS).toISOString() } : {}),
}))
const { data: log, error } = await useFetch('/api/logbook', { query, deep: false })
throwIfUnavailable(error)
const dates = useDates()
const { data: said } = await useFetch('/api/days', { query: { limit: 400 }, deep: false })

const { data: sessions } = await useFetch('/api/logbook/sessions', {
  query: computed(() => ({ limit: PAGE, ...filter.value })),
  deep: false,
})
const older = shallowRef<NonNullable<typeof sessions.value>>([])
watch(sessions, () => {
  older.value = []
})
const all = computed(() => [...(sessions.value ?? []), ...older.value])
const hasMore = computed(() => all.value.length > 0 && all.value.length % PAGE === 0)
const chosen = ref<string[]>([])

const totals = computed(() => {
  const days = log.value?.days ?? []
  const sum = (of: (day: (typeof days)[number]) => number) => days.reduce((total, day) => total + of(day), 0)
  return {
    days: days.length,
    minutes: sum(day => day.minutes),
    passes: sum(day => day.passes),
    clean: sum(day => day.clean),
  }
})
const trend = computed(() =>
  trendTexts(
    trendOf(
      (log.value?.days ?? []).map(day => ({ ...day, unsteadinessMs: day.unsteadinessMs ?? null })),
      log.value?.today ?? '',
    ),
  ),
)
const wordsOf = (day: string) => said.value?.find(one => one.day === day)
const skippedOf = (day: string) =>
  wordsOf(day)
    ?.skipped.map(one => (one.what ? itemText(one.what) : one.text))
    .join('; ')

async function showMore() {
  const oldest = all.value.at(-1)
  if (!oldest) return
  older.value = [
    ...older.value,
    ...(await $fetch('/api/logbook/sessions', { query: { limit: PAGE, before: oldest.day, ...filter.value } })),
  ]
}

function choose(id: string, on: boolean) {
  chosen.value = on ? [...chosen.value, id].slice(-2) : chosen.value.filter(one => one !== id)
}
</script>

<template>
  <div class="logbook">
    <header>
      <h1>Logbook</h1>
      <form class="fields filters" aria-label="What is shown" @submit.prevent>
        <ChoiceField
          v-model="song"
          label="Song"
          :choices="[
            { value: '', label: 'all songs' },
            ...(log?.songs ?? []).map(one => ({
              value: one.songId,
              label: `${one.title}${one.edition ? ` (${one.edition})` : ''}`,
            })),
          ]"
        />
        <ChoiceField
          v-if="log?.parts.length"
          v-model="part"
          label="Part"
          :choices="[{ value: '', label: 'all parts' }, ...log.parts.map(one => ({ value: one.id, label: one.name }))]"
        />
        <ChoiceField
          v-model="hands"
          label="Hands"
          :choices="[
            { value: '', label: 'all' },
            { value: 'left', label: 'left' },
            { value: 'right', label: 'right' },
            { value: 'both', label: 'together' },
          ]"
        />
        <ChoiceField v-model="span" label="Time" :choices="SPANS" />
      </form>
    </header>
    <div v-if="!all.length" class="none">
      <p>Nothing here yet{{ song || hands ? ' for this choice' : '' }}. Each pass will appear here.</p>
      <UButton v-if="!song && !hands" to="/" variant="outline" icon="i-lucide-play"> Go to today’s session </UButton>
    </div>
    <template v-else>
      <p class="totals figure">
        <span
          ><b>{{ minutesText(totals.minutes) }}</b> at the keys</span
        >
        <span
          ><b>{{ totals.days }}</b> {{ totals.days === 1 ? 'day' : 'days' }}</span
        >
        <span
          ><b>{{ dates.number(totals.passes) }}</b> passes</span
        >
        <span
          ><b>{{ dates.number(totals.clean) }}</b> clean</span
        >
      </p>
      <section v-if="trend.length" class="trend" aria-label="Lately">
        <p v-for="text in trend" :key="text">
          {{ text }}
        </p>
      </section>
      <ClientOnly>
        <section aria-labelledby="sessions">
          <h2 id="sessions">Sessions</h2>
          <SessionLine
            v-for="session in all"
            :key="`${session.day} ${JSON.stringify(filter)}`"
            :session="session"
            :note="wordsOf(session.day)?.note"
            :skipped="skippedOf(session.day)"
            :filter="filter"
            :chosen="chosen"
            @choose="choose"
          />
          <UButton v-if="hasMore" variant="outline" size="sm" class="more" @click="showMore"> Earlier days </UButton>
        </section>
        <p v-if="chosen.length === 2" class="compare">
          <UButton :to="{ path: '/passes/compare', query: { a: chosen[0], b: chosen[1] } }">
            Compare selected passes
          </UButton>
        </p>
        <h2>{{ song ? 'This song in pictures' : 'In pictures' }}</h2>
        <p v-if="!song" class="soft">
          Choose a song above to see where mistakes happen, what comes early or late, and how many passes each step
          took.
        </p>
        <div v-if="log" class="pictures">
          <TempoChart :tempos="log.tempos" />
          <SteadinessChart :days="log.days" />
          <template v-if="song">
            <ErrorMapChart :filter="{ ...filter, song }" />
            <NotesChart :filter="{ ...filter, song }" />
            <GatesChart :song-id="song" :hands="hands" />
          </template>
          <DaysChart :days="log.days" />
        </div>
      </ClientOnly>
      <div class="acts">
        <p>
          Export everything: <a href="/api/logbook/export?format=csv">CSV</a> ·
          <a href="/api/logbook/export?format=json">JSON</a>
        </p>
      </div>
    </template>
  </div>
</template>

<style scoped>
.logbook {
  max-width: 80rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
}
header,
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step) calc(3 * var(--step));
  align-items: end;
  justify-content: space-between;
}
.filters {
  justify-content: start;
}
h1 {
  font-size: 2.25rem;
  line-height: 1.2;
}
h2 {
  font-weight: 700;
  font-size: 1.15rem;
  margin: calc(4 * var(--step)) 0 var(--step);
}
.totals {
  display: flex;
  flex-wrap: wrap;
  gap: calc(1 * var(--step)) calc(5 * var(--step));
  margin: calc(2 * var(--step)) 0;
  color: var(--ink-soft);
}
.totals b {
  color: var(--ink);
  font-size: 1.35rem;
}
.pictures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 32rem), 1fr));
  gap: calc(2 * var(--step));
}
.more {
  margin-top: calc(1.5 * var(--step));
}
.pictures {
  margin-top: var(--step);
}
.trend {
  margin: calc(2 * var(--step)) 0 calc(3 * var(--step));
  border-left: 4px solid var(--together);
  padding-left: calc(2 * var(--step));
  font-size: 1.1rem;
  max-width: 60rem;
}
.none {
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
  padding: calc(3 * var(--step)) 0;
  color: var(--ink-soft);
}
.compare {
  position: sticky;
  bottom: var(--step);
  z-index: 2;
  margin-top: var(--step);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: calc(2 * var(--step));
  margin-top: calc(3 * var(--step));
}
.acts a {
  text-decoration: underline;
}
</style>
