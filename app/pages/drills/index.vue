<script setup lang="ts">
import { sentence } from '~/utils/ui/sentence'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
import { leastEvenText } from '#core/words/patterns'

useHead({ title: 'Drills · Half Step' })
const TABS = [
  { value: 'yours', slot: 'yours' as const, label: 'Yours' },
  { value: 'ready', slot: 'ready' as const, label: 'Ready to play' },
  { value: 'build', slot: 'build' as const, label: 'Build one' },
  { value: 'patterns', slot: 'patterns' as const, label: 'Patterns' },
]
const route = useRoute()
const { data: drills, error } = await useFetch('/api/drills', { key: 'drills', deep: false })
throwIfUnavailable(error)
const tab = ref(TABS.find(one => one.value === route.query.tab)?.value ?? (drills.value?.length ? 'yours' : 'ready'))
</script>

<template>
  <div class="drills">
    <header>
      <h1>Drills</h1>
      <p class="soft">
        A figure through the keys until it is even. A drill has a few minutes of the day in Today, and its own stairs:
        one flight a key.
      </p>
    </header>
    <UTabs v-model="tab" :items="TABS" :ui="{ content: 'pt-6' }">
      <template #yours>
        <ul v-if="drills?.length">
          <li v-for="drill in drills" :key="drill.id">
            <SongLine :song="drill" />
            <p v-if="drill.leastEven" class="even">
              {{ sentence(leastEvenText(drill.leastEven)) }}
            </p>
          </li>
        </ul>
        <p v-else>
          No drills of your own yet.
          <UButton variant="outline" @click="tab = 'ready'"> See the ready ones </UButton>
        </p>
      </template>
      <template #ready><ReadyDrills /></template>
      <template #build><LazyDrillBuilder /></template>
      <template #patterns><LazyPatternList /></template>
    </UTabs>
  </div>
</template>

<style scoped>
.drills {
  max-width: 80rem;
  margin: 0 auto;
  padding: calc(3 * var(--step));
}
h1 {
  font-size: 2.25rem;
  line-height: 1.25;
}
.soft {
  color: var(--ink-soft);
  max-width: 60ch;
  margin-bottom: calc(2 * var(--step));
}
.even {
  padding: 0 calc(2 * var(--step)) calc(1.5 * var(--step));
  color: var(--ink-soft);
  margin-top: calc(-1 * var(--step));
}
</style>
