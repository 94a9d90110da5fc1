<script setup lang="ts">
import { preparedPart } from '~/composables/stand/usePreparedPart'
import { messageOf } from '~/utils/ui/messageOf'
definePageMeta({ layout: 'stand' })
const route = useRoute()
const id = String(route.params.id)
const { data: part, error } = await useFetch(`/api/parts/${id}`, {
  deep: false,
  getCachedData: (key, app) => (app.isHydrating ? app.payload.data[key] : preparedPart(id)),
})
</script>

<template>
  <p v-if="error" class="problem">{{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink></p>
  <PracticeStand v-else-if="part" :part="part" />
</template>

<style scoped>
.problem {
  padding: calc(5 * var(--step));
}
a {
  text-decoration: underline;
}
</style>
