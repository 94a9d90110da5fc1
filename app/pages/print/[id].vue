<script setup lang="ts">
import { useSettingsStore } from '~/stores/settings'
import { messageOf } from '~/utils/ui/messageOf'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
const route = useRoute()
const { data: song, error } = await useFetch(`/api/songs/${String(route.params.id)}/work`, { deep: false })
throwIfUnavailable(error)
await useSettingsStore().load()
useHead({ title: () => `${song.value?.title ?? 'Song'} on paper · Half Step` })
</script>

<template>
  <p v-if="error" class="problem">{{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink></p>
  <!-- Notation is drawn where it is shown. -->
  <ClientOnly v-else-if="song">
    <PrintedSong :song="song" />
  </ClientOnly>
</template>

<style scoped>
.problem {
  padding: calc(5 * var(--step));
}
</style>
