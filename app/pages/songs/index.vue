<script setup lang="ts">
import { CARE } from '#core/words/coach'

useHead({ title: 'Songs · Half Step' })
const { data: songs, refresh } = await useFetch('/api/songs')
const { data: putAway, refresh: refreshPutAway } = await useFetch('/api/songs', { query: { archived: true } })

async function takeBack(id: string) {
  await $fetch(`/api/songs/${id}`, { method: 'PATCH', body: { archived: false } })
  await Promise.all([refresh(), refreshPutAway()])
}
</script>

<template>
  <div class="songs">
    <header>
      <h1>Songs</h1>
      <UButton
        to="/songs/add"
        icon="i-lucide-plus"
        size="lg"
      >
        Add a song
      </UButton>
    </header>
    <ul v-if="songs?.length">
      <li
        v-for="song in songs"
        :key="song.id"
      >
        <NuxtLink :to="`/songs/${song.id}`">
          <span class="song-title">{{ song.title }}<span
            v-if="song.edition"
            class="facts"
          > {{ song.edition }}</span></span>
          <span class="facts figure">{{ song.bars }} bars in {{ song.parts }} parts</span>
          <span class="facts"><template v-if="song.passes">{{ song.passes }} passes, last <ClientOnly>{{ dayName(song.lastPractised) }}</ClientOnly></template><template v-else>not begun</template></span>
        </NuxtLink>
      </li>
    </ul>
    <p
      v-else
      class="empty"
    >
      There is no song here yet. Add a score, a MIDI file or a chord chart to begin, or play something in.
    </p>
    <details
      v-if="putAway?.length"
      class="put-away"
    >
      <summary>Put away ({{ putAway.length }})</summary>
      <ul aria-label="Put away">
        <li
          v-for="song in putAway"
          :key="song.id"
        >
          {{ song.title }}
          <UButton
            size="sm"
            variant="outline"
            @click="takeBack(song.id)"
          >
            Take back
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
.songs { max-width: 60rem; margin: 0 auto; padding: calc(5 * var(--step)) calc(3 * var(--step)); }
header { display: flex; flex-wrap: wrap; gap: calc(2 * var(--step)); align-items: end; justify-content: space-between; margin-bottom: calc(3 * var(--step)); }
h1 { font-size: 2.25rem; line-height: 1.1; }
li a {
  display: grid; grid-template-columns: 1fr auto 14rem; gap: calc(3 * var(--step)); align-items: baseline;
  padding: calc(2.5 * var(--step)) calc(2 * var(--step)); border-top: 1px solid var(--rule);
}
li:last-child a { border-bottom: 1px solid var(--rule); }
li a:hover { background: var(--sheet); }
.song-title { font-size: 1.5rem; }
.facts { color: var(--ink-soft); }
/* Stays at hand without asking for attention. */
.care { margin-top: calc(6 * var(--step)); color: var(--ink-soft); max-width: 46rem; font-size: 0.95rem; }
.put-away { margin-top: calc(4 * var(--step)); color: var(--ink-soft); }
.put-away li { display: flex; gap: calc(2 * var(--step)); align-items: center; padding: var(--step) 0; }
.empty { color: var(--ink-soft); max-width: 34rem; }
@media (max-width: 48rem) {
  li a { grid-template-columns: 1fr; gap: calc(0.5 * var(--step)); }
}
</style>
