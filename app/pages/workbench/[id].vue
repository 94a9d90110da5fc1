<script setup lang="ts">
const route = useRoute()
const { data: song, error } = await useFetch(`/api/songs/${String(route.params.id)}/work`, { deep: false })
useHead({ title: () => `Workbench · ${song.value?.title ?? 'Song'} · Half Step` })
</script>

<template>
  <p
    v-if="error"
    class="problem"
  >
    {{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink>
  </p>
  <SongWorkbench
    v-else-if="song"
    :song="song"
  />
</template>

<style scoped>
.problem { padding: calc(5 * var(--step)); }
a { text-decoration: underline; }
</style>
