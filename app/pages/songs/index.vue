<script setup lang="ts">
import { choicesFrom } from '~/utils/ui/choices'
import { useDates } from '~/composables/ui/useDates'
import { MAX_UNSORTED, SONG_FILTERS, SONG_ORDERS, songsShown } from '~/utils/songs/songsShown'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
import { plural } from '#core/words/amounts'
import { CARE } from '#core/words/coach'
import type { SongFilter, SongOrder } from '~/utils/songs/songsShown'

useHead({ title: 'Songs · Half Step' })
const { data: songs, error, refresh } = await useFetch('/api/songs')
const { data: archived, refresh: refreshArchived } = await useFetch('/api/songs', { query: { archived: true } })
const { data: deleted, refresh: refreshDeleted } = await useFetch('/api/deleted-songs')
throwIfUnavailable(error)
const dates = useDates()

const wanted = ref('')
const order = ref<SongOrder>('last-played')
const filter = ref<SongFilter>('all')
const shown = computed(() =>
  songsShown(songs.value ?? [], { wanted: wanted.value, order: order.value, filter: filter.value }),
)
const isMany = computed(() => (songs.value?.length ?? 0) > MAX_UNSORTED)

async function restore(id: string) {
  await $fetch(`/api/songs/${id}`, { method: 'PATCH', body: { archived: false } })
  await Promise.all([refresh(), refreshArchived()])
}

async function bringBack(id: string) {
  await $fetch(`/api/deleted-songs/${id}/return`, { method: 'POST' })
  await Promise.all([refresh(), refreshArchived(), refreshDeleted()])
}
async function erase(id: string) {
  await $fetch(`/api/deleted-songs/${id}`, { method: 'DELETE' })
  await refreshDeleted()
}
/** When a deleted song goes for good. */
const goesAt = (deletedAt: string | null) =>
  new Date(new Date(deletedAt ?? 0).getTime() + (deleted.value?.days ?? 0) * 86_400_000).toISOString()

function showAll() {
  wanted.value = ''
  filter.value = 'all'
}
</script>

<template>
  <div class="songs">
    <header>
      <h1>Songs</h1>
      <form v-if="isMany" class="fields find" role="search" @submit.prevent>
        <TextField
          v-model="wanted"
          label="Search songs"
          type="search"
          icon="i-lucide-search"
          placeholder="Title or composer"
        />
        <ChoiceField v-model="filter" label="Show" :choices="choicesFrom(SONG_FILTERS)" />
        <ChoiceField v-model="order" label="Sort by" :choices="choicesFrom(SONG_ORDERS)" />
      </form>
      <UButton to="/songs/add" icon="i-lucide-plus" size="lg"> Add a song </UButton>
    </header>
    <ul v-if="shown.length">
      <li v-for="song in shown" :key="song.id">
        <LazySongLine hydrate-on-visible :song="song" />
      </li>
    </ul>
    <p v-else-if="songs?.length" class="empty">
      No song matches.
      <button type="button" class="link" @click="showAll()">Show all</button>
    </p>
    <section v-else class="empty" aria-labelledby="none">
      <h2 id="none">No songs yet</h2>
      <p>Add one and it will be split into short parts, each with its own stairs to climb.</p>
      <p class="ways">
        <UButton to="/songs/add" icon="i-lucide-file-music" variant="outline"> Open a score or MIDI file </UButton>
        <UButton :to="{ path: '/songs/add', query: { from: 'chart' } }" icon="i-lucide-text" variant="outline">
          Type a chord chart
        </UButton>
        <UButton :to="{ path: '/songs/add', query: { from: 'play' } }" icon="i-lucide-piano" variant="outline">
          Play it in
        </UButton>
      </p>
    </section>
    <details v-if="archived?.length" class="archived">
      <summary>Put away ({{ archived.length }})</summary>
      <ul aria-label="Put away">
        <li v-for="song in archived" :key="song.id">
          {{ song.title }}<template v-if="song.edition"> ({{ song.edition }}) </template>
          <UButton size="sm" variant="outline" @click="restore(song.id)"> Take out again </UButton>
        </li>
      </ul>
    </details>
    <details v-if="deleted?.songs.length" class="archived">
      <summary>Deleted ({{ deleted.songs.length }})</summary>
      <ul aria-label="Deleted">
        <li v-for="song in deleted.songs" :key="song.id">
          <span
            >{{ song.title }}<template v-if="song.edition"> ({{ song.edition }})</template>,
            {{ plural(song.passes, 'pass', 'passes') }}; goes for good on
            <ClientOnly>{{ dates.date(goesAt(song.deletedAt)) }}</ClientOnly></span
          >
          <UButton size="sm" variant="outline" @click="bringBack(song.id)"> Bring back </UButton>
          <UButton
            size="sm"
            variant="ghost"
            color="error"
            :aria-label="`Delete ${song.title} for good now`"
            @click="erase(song.id)"
          >
            Delete for good now
          </UButton>
        </li>
      </ul>
    </details>
    <p class="care">
      {{ CARE }}
    </p>
  </div>
</template>

<style scoped>
.songs {
  max-width: 80rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: end;
  justify-content: space-between;
  margin-bottom: calc(2 * var(--step));
}
h1 {
  font-size: 2.25rem;
  line-height: 1.1;
}
h2 {
  font-family: var(--font-serif);
  font-size: 1.4rem;
}
.find {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step) calc(2 * var(--step));
  align-items: center;
  flex: 1;
  justify-content: end;
}
.songs > ul {
  border-bottom: 1px solid var(--rule);
}
/* Stays at hand without asking for attention. */
.care {
  margin-top: calc(5 * var(--step));
  color: var(--ink-soft);
  max-width: 60rem;
  font-size: 0.95rem;
}
.archived {
  margin-top: calc(3 * var(--step));
  color: var(--ink-soft);
}
.archived li {
  display: flex;
  gap: calc(2 * var(--step));
  align-items: center;
  padding: var(--step) 0;
}
.empty {
  color: var(--ink-soft);
  display: grid;
  gap: calc(1.5 * var(--step));
  padding: calc(3 * var(--step)) 0;
  justify-items: start;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
.link {
  text-decoration: underline;
}
</style>
