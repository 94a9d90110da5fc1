<script setup lang="ts">
defineProps<{ name: string, isDemo: boolean }>()
const { clear } = useUserSession()

async function signOut() {
  await clear()
  await navigateTo('/sign-in')
}
</script>

<template>
  <span class="player">
    <span>{{ name }}<span v-if="isDemo"> (demo)</span></span>
    <UButton
      v-if="isDemo"
      size="sm"
      variant="ghost"
      to="/sign-in"
    >Sign in</UButton>
    <UButton
      v-else
      size="sm"
      variant="ghost"
      @click="signOut"
    >Sign out</UButton>
  </span>
</template>

<style scoped>
.player { display: flex; align-items: center; gap: var(--step); color: var(--ink-soft); }
</style>
