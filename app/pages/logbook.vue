<script setup lang="ts">
import { itemText } from '#core/words/coach'
import type { Hands } from '#core/music/arrangement'

useHead({ title: 'Logbook · Half Step' })
const PAGE = 40
const SPANS = [{ days: 30, label: '30 days' }, { days: 182, label: 'half a year' }, { days: 0, label: 'all' }] as const
const DAY_MS = 86_400_000

const { query: asked } = useRoute()
const song = ref(typeof asked.song === 'string' ? asked.song : '')
const part = ref('')
watch(song, () => { part.value = '' }, { flush: 'sync' })
const hands = ref<Hands | ''>('')
const span = ref<number>(182)
const opened = Date.now()
const filter = computed(() => ({ ...(song.value ? { song: song.value } : {}), ...(part.value ? { part: part.value } : {}), ...(hands.value ? { hands: hands.value } : {}) }))
const query = computed(() => ({ ...filter.value, ...(span.value ? { from: new Date(opened - span.value * DAY_MS).toISOString() } : {}) }))
const { data: log } = await useFetch('/api/logbook', { query, deep: false })
const { data: passes } = await useFetch('/api/passes', { query: computed(() => ({ limit: PAGE, ...filter.value })), deep: false })
const { data: said } = await useFetch('/api/days', { query: { limit: 60 }, deep: false })
const older = shallowRef<NonNullable<typeof passes.value>>([])
watch(passes, () => { older.value = [] })
const all = computed(() => [...passes.value ?? [], ...older.value])
const more = computed(() => all.value.length > 0 && all.value.length % PAGE === 0)
const chosen = ref<string[]>([])

const totals = computed(() => {
  const days = log.value?.days ?? []
  const sum = (of: (day: (typeof days)[number]) => number) => days.reduce((total, day) => total + of(day), 0)
  return { days: days.length, minutes: sum(day => day.minutes), passes: sum(day => day.passes), clean: sum(day => day.clean) }
})
const days = computed(() => {
  const groups = new Map<string, NonNullable<typeof passes.value>>()
  for (const pass of all.value) {
    const day = dayName(pass.startedAt)
    groups.set(day, [...groups.get(day) ?? [], pass])
  }
  return [...groups].map(([day, some]) => ({ day, passes: some, minutes: Math.round(some.reduce((sum, pass) => sum + pass.lengthMs, 0) / 60_000) }))
})
const words = computed(() => (said.value ?? []).filter(day => day.note || day.skipped.length))

async function showMore() {
  const oldest = all.value.at(-1)
  if (!oldest) return
  older.value = [...older.value, ...await $fetch('/api/passes', { query: { limit: PAGE, before: oldest.startedAt, ...filter.value } })]
}

function choose(id: string, on: boolean) {
  chosen.value = on ? [...chosen.value, id].slice(-2) : chosen.value.filter(one => one !== id)
}
const hoursText = (minutes: number) => minutes < 90 ? `${Math.round(minutes)} min` : `${Math.floor(minutes / 60)} h ${Math.round(minutes % 60)} min`
</script>

<template>
  <div class="logbook">
    <header>
      <h1>Logbook</h1>
      <form
        class="fields filters"
        aria-label="What is shown"
        @submit.prevent
      >
        <label>Song <select v-model="song"><option value="">all songs</option><option
          v-for="one in log?.songs ?? []"
          :key="one.songId"
          :value="one.songId"
        >{{ one.title }}{{ one.edition ? ` (${one.edition})` : '' }}</option></select></label>
        <label v-if="log?.parts.length">Part <select v-model="part"><option value="">all parts</option><option
          v-for="one in log.parts"
          :key="one.id"
          :value="one.id"
        >{{ one.name }}</option></select></label>
        <label>Hands <select v-model="hands"><option value="">all</option><option value="left">left</option><option value="right">right</option><option value="both">together</option></select></label>
        <label>Time <select v-model.number="span"><option
          v-for="one in SPANS"
          :key="one.days"
          :value="one.days"
        >{{ one.label }}</option></select></label>
      </form>
    </header>
    <p
      v-if="!all.length"
      class="soft"
    >
      No pass has been kept yet{{ song || hands ? ' of these' : '' }}. Every time through a loop will stand here.
    </p>
    <template v-else>
      <p class="totals figure">
        <span><b>{{ hoursText(totals.minutes) }}</b> at the keys</span>
        <span><b>{{ totals.days }}</b> {{ totals.days === 1 ? 'day' : 'days' }}</span>
        <span><b>{{ totals.passes.toLocaleString('en-GB') }}</b> passes</span>
        <span><b>{{ totals.clean.toLocaleString('en-GB') }}</b> clean</span>
      </p>
      <ClientOnly>
        <div
          v-if="log"
          class="pictures"
        >
          <DaysChart :days="log.days" />
          <TempoChart :tempos="log.tempos" />
          <SteadinessChart :days="log.days" />
          <template v-if="song">
            <ErrorMapChart :filter="{ ...filter, song }" />
            <NotesChart :filter="{ ...filter, song }" />
            <GatesChart
              :song-id="song"
              :hands="hands"
            />
          </template>
          <p
            v-else
            class="soft hint"
          >
            Choose a song to see where it fails, what comes early or late, and how many passes its gates took.
          </p>
        </div>
        <section
          v-if="words.length"
          aria-labelledby="words"
        >
          <h2 id="words">
            In your own words
          </h2>
          <ul class="words">
            <li
              v-for="day in words"
              :key="day.day"
            >
              <b>{{ dayName(`${day.day}T12:00:00`) }}</b> {{ day.note }}<span
                v-if="day.skipped.length"
                class="soft"
              > Skipped: {{ day.skipped.map(one => one.what ? itemText(one.what) : one.text).join('; ') }}</span>
            </li>
          </ul>
        </section>
        <p
          v-if="chosen.length === 2"
          class="compare"
        >
          <UButton :to="{ path: '/passes/compare', query: { a: chosen[0], b: chosen[1] } }">
            Compare the two chosen
          </UButton>
        </p>
        <section
          v-for="{ day, passes: dayPasses, minutes } in days"
          :key="day"
        >
          <h2>{{ day }} <span class="figure">{{ dayPasses.length }} {{ dayPasses.length === 1 ? 'pass' : 'passes' }}, {{ minutes < 1 ? 'under a minute' : `${minutes} min` }}</span></h2>
          <PassTable
            :passes="dayPasses"
            :chosen="chosen"
            @choose="choose"
          />
        </section>
      </ClientOnly>
      <div class="acts">
        <UButton
          v-if="more"
          variant="outline"
          @click="showMore"
        >
          Earlier passes
        </UButton>
        <p>
          Everything as a file: <a href="/api/logbook/export?format=csv">CSV</a> · <a href="/api/logbook/export?format=json">JSON</a>
        </p>
      </div>
    </template>
  </div>
</template>

<style scoped>
.logbook { max-width: 80rem; margin: 0 auto; padding: calc(4 * var(--step)) calc(3 * var(--step)); }
header, .filters { display: flex; flex-wrap: wrap; gap: var(--step) calc(3 * var(--step)); align-items: end; justify-content: space-between; }
.filters { justify-content: start; }
h1 { font-size: 2.25rem; line-height: 1.2; }
h2 { font-weight: 700; font-size: 1.15rem; margin: calc(4 * var(--step)) 0 var(--step); }
h2::first-letter { text-transform: uppercase; }
h2 span { color: var(--ink-soft); font-weight: 400; margin-left: var(--step); }
.totals { display: flex; flex-wrap: wrap; gap: calc(1 * var(--step)) calc(5 * var(--step)); margin: calc(2 * var(--step)) 0; color: var(--ink-soft); }
.totals b { color: var(--ink); font-size: 1.35rem; }
.pictures { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(100%, 32rem), 1fr)); gap: calc(2 * var(--step)); }
.hint { align-self: center; text-align: center; }
.words { display: grid; gap: 0.35rem; }
.words li { border-top: 1px solid var(--rule); padding-top: 0.35rem; white-space: pre-line; }
.words b::first-letter { text-transform: uppercase; }
.compare { position: sticky; bottom: var(--step); z-index: 2; margin-top: var(--step); }
.acts { display: flex; flex-wrap: wrap; justify-content: space-between; align-items: center; gap: calc(2 * var(--step)); margin-top: calc(3 * var(--step)); }
.acts a { text-decoration: underline; }
</style>
