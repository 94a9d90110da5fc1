<script setup lang="ts">
import type { StandPart } from '~/composables/useStandPractice'

definePageMeta({ layout: 'stand' })
const route = useRoute()
const id = String(route.params.id)
/** In the browser alone: a whole song goes into the page twice, and nothing of the Stand works before it is taken over. */
const { data: part, error } = await useFetch<StandPart>(`/api/parts/${id}`, { deep: false, server: false, getCachedData: () => preparedPart(id) })
</script>

<template>
  <p
    v-if="error"
    class="problem"
  >
    {{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink>
  </p>
  <PracticeStand
    v-else-if="part"
    :part="part"
  />
</template>

<style scoped>
.problem { padding: calc(5 * var(--step)); }
a { text-decoration: underline; }
</style>
