<script setup lang="ts">
import { useOfflineSongs } from '~/composables/songs/useOfflineSongs'
import { useHearPart } from '~/composables/sound/useHearPart'
import { usePreparedPart } from '~/composables/stand/usePreparedPart'
import { useDates } from '~/composables/ui/useDates'
import { describePass } from '~/utils/stand/describePass'
import { askedLink } from '~/utils/stand/standLink'
import { choicesOf } from '~/utils/ui/choices'
import { useAction } from '~/composables/ui/useAction'
import { messageOf } from '~/utils/ui/messageOf'
import { sentence } from '~/utils/ui/sentence'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
import type { Hands } from '#core/music/arrangement'
import type { SessionItemName } from '#core/coach/session'
import { ITEM_WORDS, itemText, placedUnitText, reasonText } from '#core/words/coach'
import { minutesText } from '#core/words/logbook'
import { HANDS_WORDS } from '#core/words/passes'

useHead({ title: 'Today · Half Step' })
const LENGTHS = choicesOf([10, 20, 30, 45, 60])

const route = useRoute()
/** The player's device says what time it is; while the page is made at the server, the server does. */
const at = useState('today-at', () => new Date().toISOString())
const query = computed(() => ({
  at: at.value,
  ...(typeof route.query.song === 'string' ? { song: route.query.song } : {}),
}))
const { data: today, error, refresh } = await useFetch('/api/today', { key: 'today', query, deep: false, watch: false })
throwIfUnavailable(error)
const { act, problem } = useAction()
const note = ref(today.value?.note ?? '')
const said = ref('')
// The page as the server made it counts until the browser has taken it over.
onNuxtReady(() => {
  at.value = new Date().toISOString()
  void refresh()
})

async function change(what: {
  minutes?: number
  note?: string
  skip?: { id: string; what: SessionItemName }
  unskip?: string
}) {
  await act(async () => {
    await $fetch(`/api/days/${today.value!.day}`, { method: 'PATCH', body: what })
    at.value = new Date().toISOString()
    await refresh()
  })
}

async function keepNote() {
  await change({ note: note.value })
  said.value = problem.value ? '' : 'Saved.'
}

type Item = NonNullable<typeof today.value>['items'][number]
const nameOf = ({ what }: Item) =>
  what ? placedUnitText(what, what.isSpot || what.isNew ? what.place : undefined) : 'Take a break'
const whatOf = ({ kind, what }: Item): SessionItemName => ({
  item: kind,
  unit: { kind: what!.kind, names: [...what!.names] },
  ...(what!.isSpot || what!.isNew ? { place: what!.place } : {}),
})
const linkOf = ({ kind, what }: Item) =>
  what?.partId ? askedLink(what.partId, what, kind !== 'warm-up' && kind !== 'run') : undefined
const thenWords = (then?: readonly (Hands | 'pair')[]) =>
  then?.length ? `; then ${then.map(one => (one === 'pair' ? 'back to back' : HANDS_WORDS[one])).join(', ')}` : ''
const first = computed(() => today.value?.items.find(item => item.what))
const others = computed(() => today.value?.items.filter(item => item !== first.value) ?? [])
usePreparedPart(() => {
  const what = first.value?.what
  return what?.partId ? { partId: what.partId, stretch: what.stretch } : undefined
})
/** Whose item it is needs saying where there are several songs, or it is not the main one's. */
const isNamed = ({ title }: Item) => (today.value?.songs.length ?? 0) > 1 || title !== today.value?.main?.title
const dates = useDates()
const hearing = useHearPart()
if (import.meta.client) useOfflineSongs(() => today.value?.songs.map(song => song.id))
function hear({ what }: Item) {
  if (what?.partId)
    void hearing.toggle('first', { partId: what.partId, stretch: what.stretch, hands: what.hands, bpm: what.bpm })
}
</script>

<template>
  <div class="today">
    <p v-if="error">
      {{ messageOf(error) }}
    </p>
    <template v-else-if="today">
      <header>
        <div>
          <h1>Today</h1>
          <p class="soft">
            {{ dates.weekdayAndDate(today.day) }}
          </p>
        </div>
        <SegmentedChoice
          label="Minutes today"
          is-label-seen
          class="lengths figure"
          :choices="LENGTHS"
          :model-value="today.minutes"
          @update:model-value="change({ minutes: $event })"
        />
        <p class="played figure">
          <b>{{ Math.round(today.played) }}</b> of {{ today.minutes }} min played
        </p>
      </header>
      <CautionNote :cautions="today.cautions" />
      <p v-if="problem || hearing.problem.value" role="alert" class="problem">
        {{ problem || hearing.problem.value }}
      </p>
      <div class="columns">
        <section aria-labelledby="session">
          <h2 id="session" class="sr-only">The session</h2>
          <div v-if="today.songs.length === 0" class="none">
            <p>
              Nothing to play yet. The first steps take about ten minutes and end with your first part; or add a song at
              once, and it is split into short parts.
            </p>
            <UButton to="/first-steps" icon="i-lucide-footprints" size="lg"> First steps </UButton>
            <UButton to="/songs/add" icon="i-lucide-plus" size="lg" variant="outline"> Add a song </UButton>
          </div>
          <p v-else-if="today.items.length === 0" class="none">
            {{
              today.played >= today.minutes - 1
                ? 'That was today’s session. What you learned settles overnight.'
                : 'Nothing is due and all goals are reached. Play whatever you like.'
            }}
          </p>
          <article v-if="first" :class="['first', first.what?.hands]">
            <p class="kind">
              {{ ITEM_WORDS[first.kind] }} · <span class="figure">{{ minutesText(first.minutes) }}</span><template
                v-if="first.title && isNamed(first)"
              >
                · <i>{{ first.title }}</i>
              </template>
            </p>
            <h3>{{ sentence(nameOf(first)).replace(/\.$/, '') }}</h3>
            <p v-if="first.what" class="how figure">{{ describePass(first.what) }}{{ thenWords(first.then) }}</p>
            <p class="soft">
              {{ sentence(reasonText(first.why, first.what?.meter)) }}
            </p>
            <div class="acts">
              <UButton
                v-if="linkOf(first)"
                :to="linkOf(first)"
                size="xl"
                icon="i-lucide-play"
                :aria-label="`Begin ${nameOf(first)}`"
              >
                Begin
              </UButton>
              <UButton
                v-if="linkOf(first)"
                size="xl"
                variant="outline"
                :icon="hearing.isOn('first') ? 'i-lucide-square' : 'i-lucide-volume-2'"
                :aria-label="hearing.isOn('first') ? 'Stop listening' : `Hear ${nameOf(first)}`"
                @click="hear(first)"
              >
                {{ hearing.isOn('first') ? 'Stop' : 'Hear it' }}
              </UButton>
              <UButton
                variant="ghost"
                color="neutral"
                :aria-label="`Skip ${nameOf(first)} today`"
                @click="change({ skip: { id: first.id, what: whatOf(first) } })"
              >
                Skip
              </UButton>
            </div>
          </article>
          <ol v-if="others.length" class="items" aria-label="After that">
            <li
              v-for="(item, index) in others"
              :key="item.id"
              :class="[item.kind, item.what?.hands]"
              :style="{ '--rise': index + 1 }"
            >
              <p class="kind">
                {{ ITEM_WORDS[item.kind] }}
              </p>
              <p class="what">
                <b>{{ sentence(nameOf(item)).replace(/\.$/, '') }}</b><span v-if="item.what" class="soft figure"
                  >{{ describePass(item.what) }}{{ thenWords(item.then)
                  }}<template v-if="item.title && isNamed(item) && item.title !== first?.title">
                    · <i>{{ item.title }}</i></template
                  ></span
                ><span v-else class="soft">{{ reasonText(item.why) }}</span>
              </p>
              <span class="figure soft">{{ minutesText(item.minutes) }}</span>
              <div class="acts">
                <Tip v-if="linkOf(item)" :text="sentence(reasonText(item.why, item.what?.meter))"
                  ><UButton
                    :to="linkOf(item)"
                    size="sm"
                    variant="outline"
                    icon="i-lucide-play"
                    :aria-label="`Begin ${nameOf(item)}`"
                /></Tip>
                <Tip v-if="item.what" text="Skip today"
                  ><UButton
                    size="sm"
                    variant="ghost"
                    color="neutral"
                    icon="i-lucide-x"
                    :aria-label="`Skip ${nameOf(item)} today`"
                    @click="change({ skip: { id: item.id, what: whatOf(item) } })"
                /></Tip>
              </div>
            </li>
          </ol>
          <div v-if="today.skipped.length" class="skipped">
            <h2>Skipped today</h2>
            <ul>
              <li v-for="one in today.skipped" :key="one.id">
                {{ one.what ? itemText(one.what) : one.text }}
                <UButton variant="link" @click="change({ unskip: one.id })"> Undo skip </UButton>
              </li>
            </ul>
          </div>
        </section>
        <div class="beside">
          <SongForecast
            v-if="today.main"
            :song="today.main"
            :progress="today.songs[0]!.progress"
            @changed="refresh()"
          />
          <details class="coming">
            <summary>Upcoming reviews</summary>
            <ol>
              <li v-for="day in today.coming" :key="day.day">
                <b>{{ dates.weekday(day.day) }}</b>
                <span>{{ day.reviews.length === 0 ? '–' : day.reviews.map(one => one.part).join('; ') }}</span>
              </li>
            </ol>
            <p>
              <a href="/api/today/calendar">Two weeks for your calendar (.ics)</a>
            </p>
          </details>
          <section aria-labelledby="note">
            <h2 id="note">Notes for today</h2>
            <form class="fields note" @submit.prevent="keepNote">
              <UTextarea v-model="note" aria-labelledby="note" :rows="2" :maxlength="4000" />
              <UButton type="submit" variant="outline" size="sm"> Save </UButton>
              <span role="status" class="soft">{{ said }}</span>
            </form>
          </section>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.today {
  max-width: 80rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(2 * var(--step));
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: calc(2 * var(--step)) calc(5 * var(--step));
}
h1 {
  font-size: 2.25rem;
  line-height: 1.2;
}
h2 {
  font-weight: 700;
  font-size: 1.15rem;
  margin-bottom: var(--step);
}
.played {
  margin-left: auto;
  color: var(--ink-soft);
}
.played b {
  font-size: 1.5rem;
  color: var(--ink);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 21rem;
  gap: calc(5 * var(--step));
  align-items: start;
}
.first,
.items li {
  background: var(--sheet);
  border-top: 3px solid var(--hand, var(--ink-soft));
}
.left {
  --hand: var(--left-hand);
}
.right {
  --hand: var(--right-hand);
}
.both {
  --hand: var(--together);
}
.first {
  padding: calc(2.5 * var(--step)) calc(3 * var(--step));
  border-top-width: 6px;
}
.first h3 {
  font-family: var(--font-serif);
  font-size: 1.9rem;
  line-height: 1.25;
  text-wrap: balance;
  margin-top: 0.25rem;
}
.first .how {
  font-size: 1.25rem;
  margin-bottom: var(--step);
}
.first .soft {
  max-width: 40rem;
}
.first .acts {
  margin-top: calc(2 * var(--step));
  gap: var(--step);
}
.items {
  display: grid;
  gap: 3px;
  margin-top: 3px;
}
/* The session is a flight too: each item stands a step further in than the one before. */
.items li {
  margin-left: calc(min(var(--rise), 12) * 0.6rem);
  padding: 0.45rem calc(2 * var(--step));
  display: grid;
  grid-template-columns: 6rem minmax(0, 1fr) auto auto;
  gap: 0 calc(1.5 * var(--step));
  align-items: center;
}
.kind {
  color: var(--hand, var(--ink-soft));
  font-weight: 600;
  line-height: 1.3;
}
.what {
  line-height: 1.35;
}
.what b {
  font-weight: 600;
}
.what span {
  display: block;
  font-size: 0.95rem;
}
.acts {
  display: flex;
  gap: 0.25rem;
  align-items: center;
}
.items .break {
  background: transparent;
  border-top-style: dashed;
}
.none {
  background: var(--sheet);
  border-top: 6px solid var(--together);
  padding: calc(2.5 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
  font-size: 1.15rem;
}
.skipped {
  margin-top: calc(2 * var(--step));
}
.beside {
  display: grid;
  gap: calc(3 * var(--step));
}
.coming {
  border-top: 1px solid var(--rule);
  padding-top: var(--step);
}
.coming summary {
  cursor: pointer;
  font-weight: 600;
}
.coming ol {
  margin: var(--step) 0;
}
.coming li {
  display: grid;
  grid-template-columns: 3.2rem 1fr;
  border-top: 1px solid var(--rule);
  padding: 0.25rem 0;
}
.skipped li {
  border-top: 1px solid var(--rule);
}
.note {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
  align-items: center;
}
.note textarea {
  width: 100%;
}
a:not([class]) {
  text-decoration: underline;
  text-underline-offset: 3px;
}
@media (max-width: 62rem) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 44rem) {
  .items li {
    margin-left: 0;
    grid-template-columns: minmax(0, 1fr) auto auto;
  }
  .items .kind {
    grid-column: 1 / -1;
  }
}
</style>
