<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'
import type { SessionItemName } from '#core/coach/session'
import { ITEM_WORDS, itemText, placedUnitText, reasonText } from '#core/words/coach'

useHead({ title: 'Today · Half Step' })
const LENGTHS = [10, 20, 30, 45, 60]

const route = useRoute()
/** The player's device says what time it is; while the page is made at the server, the server does. */
const at = useState('today-at', () => new Date().toISOString())
const query = computed(() => ({ at: at.value, ...(typeof route.query.song === 'string' ? { song: route.query.song } : {}) }))
const { data: today, error, refresh } = await useFetch('/api/today', { key: 'today', query, deep: false, watch: false })
const problem = ref('')
const note = ref(today.value?.note ?? '')
const said = ref('')
// The page as the server made it counts until the browser has taken it over.
onNuxtReady(() => {
  at.value = new Date().toISOString()
  void refresh()
})

async function change(what: { minutes?: number, note?: string, skip?: { id: string, what: SessionItemName }, unskip?: string }) {
  problem.value = ''
  try {
    await $fetch(`/api/days/${today.value!.day}`, { method: 'PATCH', body: what })
    at.value = new Date().toISOString()
    await refresh()
  }
  catch (error) { problem.value = messageOf(error) }
}

async function keepNote() {
  await change({ note: note.value })
  said.value = problem.value ? '' : 'Kept.'
}

type Item = NonNullable<typeof today.value>['items'][number]
const nameOf = ({ what }: Item) => what ? placedUnitText(what, what.isSpot || what.isNew ? what.place : undefined) : 'Hands off the keys'
const whatOf = ({ kind, what }: Item): SessionItemName => ({ item: kind, unit: { kind: what!.kind, names: [...what!.names] }, ...(what!.isSpot || what!.isNew ? { place: what!.place } : {}) })
const linkOf = (item: Item) => item.what?.partId ? standLink(item.what.partId, { hands: item.what.hands, bpm: item.what.bpm, mode: item.what.mode, stretch: item.what.kind === 'part' && item.what.isWhole ? undefined : item.what.stretch, isLed: item.kind !== 'warm-up' && item.kind !== 'run' }) : undefined
const thenWords = (then?: readonly (Hands | 'pair')[]) => then?.length ? `; then ${then.map(one => one === 'pair' ? 'back to back' : HANDS_WORDS[one]).join(', ')}` : ''
const minutesText = (minutes: number) => minutes < 0.75 ? 'under a minute' : `${Math.round(minutes)} min`
const firstPlayable = computed(() => today.value?.items.findIndex(item => item.what) ?? -1)
usePreparedPart(() => {
  const what = today.value?.items[firstPlayable.value]?.what
  return what?.partId ? { partId: what.partId, stretch: what.stretch } : undefined
})
const dateText = computed(() => today.value ? new Date(`${today.value.day}T12:00:00`).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' }) : '')
const weekday = (day: string) => new Date(`${day}T12:00:00`).toLocaleDateString('en-GB', { weekday: 'short' })
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
            {{ dateText }}
          </p>
        </div>
        <fieldset class="lengths">
          <legend>Minutes there are</legend>
          <label
            v-for="length in LENGTHS"
            :key="length"
            :class="{ on: today.minutes === length }"
          ><input
            type="radio"
            name="minutes"
            :value="length"
            :checked="today.minutes === length"
            @change="change({ minutes: length })"
          ><span class="figure">{{ length }}</span></label>
        </fieldset>
        <p class="played figure">
          <b>{{ Math.round(today.played) }}</b> of {{ today.minutes }} min played
        </p>
      </header>
      <CautionNote :cautions="today.cautions" />
      <p
        v-if="problem"
        role="alert"
        class="problem"
      >
        {{ problem }}
      </p>
      <div class="columns">
        <section aria-labelledby="session">
          <h2 id="session">
            The session
          </h2>
          <p
            v-if="today.songs.length === 0"
            class="soft"
          >
            There is no song yet. <NuxtLink to="/songs/add">Bring one</NuxtLink>, and it is cut into small parts to begin with.
          </p>
          <p
            v-else-if="today.items.length === 0"
            class="soft"
          >
            {{ today.played >= today.minutes - 1 ? 'That was the session. What you have learned settles overnight.' : 'Nothing is due and everything is reached. Play what you like.' }}
          </p>
          <ol class="items">
            <li
              v-for="(item, index) in today.items"
              :key="item.id"
              :class="[item.kind, item.what?.hands]"
              :style="{ '--rise': index }"
            >
              <p class="kind">
                {{ ITEM_WORDS[item.kind] }} <span class="figure">{{ minutesText(item.minutes) }}</span>
              </p>
              <div class="what">
                <h3>
                  {{ nameOf(item) }}<span
                    v-if="item.what"
                    class="how figure"
                  >{{ howWords(item.what) }}{{ thenWords(item.then) }}</span>
                </h3>
                <p class="soft">
                  {{ sentence(reasonText(item.why, item.what?.meter)) }}<template v-if="today.songs.length > 1 && item.title">
                    {{ ' ' }}<i>{{ item.title }}</i>
                  </template>
                </p>
              </div>
              <div class="acts">
                <UButton
                  v-if="linkOf(item)"
                  :to="linkOf(item)"
                  :size="index === firstPlayable ? 'xl' : 'md'"
                  :variant="index === firstPlayable ? 'solid' : 'outline'"
                  icon="i-lucide-play"
                  :aria-label="`Begin ${nameOf(item)}`"
                >
                  Begin
                </UButton>
                <UButton
                  v-if="item.what"
                  variant="ghost"
                  color="neutral"
                  :aria-label="`Skip ${nameOf(item)} today`"
                  @click="change({ skip: { id: item.id, what: whatOf(item) } })"
                >
                  Skip
                </UButton>
              </div>
            </li>
          </ol>
          <div v-if="today.skipped.length">
            <h2>Skipped today</h2>
            <ul class="skipped">
              <li
                v-for="one in today.skipped"
                :key="one.id"
              >
                {{ one.what ? itemText(one.what) : one.text }} <UButton
                  variant="link"
                  @click="change({ unskip: one.id })"
                >
                  Take it back
                </UButton>
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
          <section aria-labelledby="coming">
            <h2 id="coming">
              What comes back
            </h2>
            <ol class="coming">
              <li
                v-for="day in today.coming"
                :key="day.day"
              >
                <b>{{ weekday(day.day) }}</b>
                <span>{{ day.reviews.length === 0 ? '–' : day.reviews.map(one => one.part).join(', ') }}</span>
              </li>
            </ol>
            <p>
              <a href="/api/today/calendar">The coming two weeks for your calendar (.ics)</a>
            </p>
          </section>
          <section aria-labelledby="note">
            <h2 id="note">
              In your own words
            </h2>
            <form
              class="fields note"
              @submit.prevent="keepNote"
            >
              <textarea
                v-model="note"
                aria-labelledby="note"
                rows="3"
                maxlength="4000"
              />
              <UButton
                type="submit"
                variant="outline"
              >
                Keep
              </UButton>
              <span
                role="status"
                class="soft"
              >{{ said }}</span>
            </form>
          </section>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.today { max-width: 80rem; margin: 0 auto; padding: calc(4 * var(--step)) calc(3 * var(--step)); display: grid; gap: calc(2 * var(--step)); }
header { display: flex; flex-wrap: wrap; align-items: end; gap: calc(2 * var(--step)) calc(5 * var(--step)); }
h1 { font-size: 2.25rem; line-height: 1.2; }
h2 { font-weight: 700; font-size: 1.15rem; margin-bottom: var(--step); }
.lengths { border: none; display: flex; gap: 2px; align-items: end; }
.lengths legend { float: left; margin-right: var(--step); padding-bottom: 0.5rem; color: var(--ink-soft); }
.lengths label { position: relative; padding: 0.5rem 0.9rem; background: var(--tread); cursor: pointer; min-height: 2.5rem; }
.lengths .on { background: var(--together); color: var(--sheet); font-weight: 700; }
.lengths input { position: absolute; inset: 0; opacity: 0; cursor: pointer; }
.lengths label:focus-within { outline: 3px solid var(--together); outline-offset: 2px; }
.played { margin-left: auto; color: var(--ink-soft); }
.played b { font-size: 1.5rem; color: var(--ink); }
.columns { display: grid; grid-template-columns: minmax(0, 1fr) 21rem; gap: calc(5 * var(--step)); align-items: start; }
.items { display: grid; gap: 3px; }
/* The session is a flight too: each item stands a step further in than the one before. */
.items li {
  --hand: var(--ink-soft); margin-left: calc(min(var(--rise), 12) * 0.6rem); background: var(--sheet); border-top: 3px solid var(--hand);
  padding: calc(1.25 * var(--step)) calc(2 * var(--step)); display: grid; grid-template-columns: 7.5rem minmax(0, 1fr) auto; gap: 0 calc(2 * var(--step)); align-items: center;
}
.items .left { --hand: var(--left-hand); }
.items .right { --hand: var(--right-hand); }
.items .both { --hand: var(--together); }
.kind { color: var(--hand); font-weight: 600; line-height: 1.3; }
.kind span { display: block; color: var(--ink-soft); font-weight: 400; font-size: 0.95rem; }
h3 { font-weight: 600; font-size: 1.1rem; }
.how { font-weight: 400; color: var(--ink-soft); margin-left: 0.6rem; }
.acts { display: flex; gap: 0.25rem; align-items: center; }
.items .break { background: transparent; border-top-style: dashed; }
.beside { display: grid; gap: calc(3 * var(--step)); }
.coming { display: grid; gap: 0.15rem; margin-bottom: var(--step); }
.coming li { display: grid; grid-template-columns: 3.2rem 1fr; border-top: 1px solid var(--rule); padding: 0.25rem 0; }
.skipped li { border-top: 1px solid var(--rule); }
.note { display: flex; flex-wrap: wrap; gap: var(--step); align-items: center; }
.note textarea { width: 100%; }
a:not([class]) { text-decoration: underline; text-underline-offset: 3px; }
@media (max-width: 62rem) { .columns { grid-template-columns: minmax(0, 1fr); } }
@media (max-width: 44rem) { .items li { margin-left: 0; grid-template-columns: minmax(0, 1fr); gap: 0.35rem; } .acts { justify-content: space-between; } }
</style>
