<script setup lang="ts">
useHead({ title: 'Logbook · Half Step' })
const PAGE = 60
const { data: passes } = await useFetch('/api/passes', { query: { limit: PAGE } })
const more = ref((passes.value?.length ?? 0) === PAGE)

const days = computed(() => {
  const groups = new Map<string, NonNullable<typeof passes.value>>()
  for (const pass of passes.value ?? []) {
    const day = dayName(pass.startedAt)
    groups.set(day, [...groups.get(day) ?? [], pass])
  }
  return [...groups].map(([day, all]) => ({ day, passes: all, minutes: Math.round(all.reduce((sum, pass) => sum + pass.lengthMs, 0) / 60_000) }))
})

async function showMore() {
  const oldest = passes.value?.at(-1)
  if (!oldest) return
  const older = await $fetch('/api/passes', { query: { limit: PAGE, before: oldest.startedAt } })
  passes.value = [...passes.value!, ...older]
  more.value = older.length === PAGE
}
</script>

<template>
  <div class="logbook">
    <h1>Logbook</h1>
    <p
      v-if="!passes?.length"
      class="empty"
    >
      No pass has been kept yet. Every time through a loop will stand here.
    </p>
    <template v-else>
      <ClientOnly>
        <TempoChart :passes="passes" />
        <section
          v-for="{ day, passes: dayPasses, minutes } in days"
          :key="day"
        >
          <h2>{{ day }} <span class="figure">{{ dayPasses.length }} {{ dayPasses.length === 1 ? 'pass' : 'passes' }}, {{ minutes < 1 ? 'under a minute' : `${minutes} min` }}</span></h2>
          <PassTable :passes="dayPasses" />
        </section>
      </ClientOnly>
      <UButton
        v-if="more"
        variant="outline"
        @click="showMore"
      >
        Earlier passes
      </UButton>
    </template>
  </div>
</template>

<style scoped>
.logbook { max-width: 76rem; margin: 0 auto; padding: calc(4 * var(--step)) calc(3 * var(--step)); }
h1 { font-size: 2.25rem; margin-bottom: calc(2 * var(--step)); }
h2 { font-weight: 700; font-size: 1.15rem; margin: calc(4 * var(--step)) 0 var(--step); }
h2::first-letter { text-transform: uppercase; }
h2 span, .empty { color: var(--ink-soft); font-weight: 400; margin-left: var(--step); }
</style>
