<script setup lang="ts">
import { messageOf } from '~/utils/ui/messageOf'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
const route = useRoute()
const { data: song, error } = await useFetch(`/api/songs/${String(route.params.id)}/work`, { deep: false })
throwIfUnavailable(error)
useHead({ title: () => `Workbench · ${song.value?.title ?? 'Song'} · Half Step` })
</script>

<template>
  <p v-if="error" class="problem">{{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink></p>
  <!-- Fingers, chords and likeness are worked out where they are shown. -->
  <ClientOnly v-else-if="song">
    <SongWorkbench :song="song" />
    <template #fallback>
      <p class="problem">{{ song.title }} is being laid out …</p>
    </template>
  </ClientOnly>
</template>

<style scoped>
.problem {
  padding: calc(5 * var(--step));
}
a {
  text-decoration: underline;
}
</style>
