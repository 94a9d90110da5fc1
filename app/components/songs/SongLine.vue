<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { describePass } from '~/utils/stand/describePass'
import { askedLink } from '~/utils/stand/standLink'
import { placedUnitText } from '#core/words/coach'

/**
 * A song in the list: what it is, how far it is, what comes next. The stairs are fetched when the line comes into view.
 */
const props = defineProps<{
  song: {
    id: string
    title: string
    composer: string
    edition: string
    bars: number
    parts: number
    passes: number
    lastPractised: string | null
  }
}>()

const dates = useDates()
const { data: brief } = await useLazyFetch(() => `/api/songs/${props.song.id}/brief`, {
  key: `brief-${props.song.id}`,
  query: { at: new Date().toISOString() },
  server: false,
  deep: false,
  watch: false,
})
const percent = computed(() => (brief.value ? Math.round(100 * brief.value.progress) : 0))
const nextText = computed(() => {
  const next = brief.value?.next
  return next ? `${placedUnitText(next, next.isSpot ? next.place : undefined)}, ${describePass(next)}` : ''
})
const link = computed(() => {
  const [next, partId] = [brief.value?.next, brief.value?.partId]
  return next && partId ? askedLink(partId, next) : undefined
})
</script>

<template>
  <div class="line">
    <NuxtLink class="what" :to="`/songs/${song.id}`">
      <span class="song-title">{{ song.title }}</span>
      <span v-if="song.edition" class="edition">{{ song.edition }}</span>
      <span class="facts figure"
        ><template v-if="song.passes"
          >Last played <ClientOnly>{{ dates.dayName(song.lastPractised) }}</ClientOnly></template
        ><template v-else>Not started</template> · {{ song.bars }} bars, {{ song.parts }}
        {{ song.parts === 1 ? 'part' : 'parts' }}</span
      >
    </NuxtLink>
    <div class="far">
      <SmallStairs v-if="brief" :parts="brief.parts" :next="brief.next?.first" :label="`${percent} % done`" />
      <span class="figure percent">{{ brief ? `${percent} %` : '' }}</span>
    </div>
    <p class="next">
      <template v-if="brief && nextText"> <span class="soft">Next:</span> {{ nextText }} </template>
      <template v-else-if="brief"> All goals reached. </template>
    </p>
    <UButton
      v-if="link"
      :to="link"
      variant="outline"
      icon="i-lucide-play"
      :aria-label="`Continue with ${song.title}${song.edition ? `, ${song.edition}` : ''}`"
    >
      {{ song.passes ? 'Continue' : 'Start' }}
    </UButton>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 16rem minmax(0, 18rem) 7.5rem;
  gap: var(--step) calc(2.5 * var(--step));
  align-items: center;
  padding: calc(1.5 * var(--step)) calc(2 * var(--step));
  border-top: 1px solid var(--rule);
  min-height: 6rem;
}
.line:hover {
  background: var(--sheet);
}
.what {
  display: block;
}
.song-title {
  font-size: 1.4rem;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.what:hover .song-title {
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 4px;
}
.edition {
  margin-left: 0.5rem;
  padding: 0 0.4rem;
  border: 1px solid var(--rule);
  color: var(--ink-soft);
  font-size: 0.95rem;
}
.facts {
  display: block;
  color: var(--ink-soft);
  font-size: 0.95rem;
}
.far {
  display: flex;
  align-items: end;
  gap: var(--step);
  min-width: 0;
}
.percent {
  white-space: nowrap;
}
.far :deep(svg) {
  min-width: 0;
  flex: 0 1 auto;
}
@media (max-width: 62rem) {
  .line {
    grid-template-columns: minmax(0, 1fr) 10rem 7.5rem;
  }
  .next {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
@media (max-width: 40rem) {
  .line {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .what {
    grid-column: 1 / -1;
  }
  .next {
    grid-row: auto;
  }
}
</style>
