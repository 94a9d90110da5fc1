<script setup lang="ts">
defineProps<{ name: string, isDemo: boolean }>()
const { clear } = useUserSession()

async function signOut() {
  await clear()
  await navigateTo('/sign-in')
}

/** On every device: cookies that were left behind somewhere are of no use to anybody. */
async function signOutEverywhere() {
  await $fetch('/api/sessions', { method: 'DELETE' })
  await signOut()
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
    <UDropdownMenu
      v-else
      :items="[{ label: 'Sign out', icon: 'i-lucide-log-out', onSelect: signOut }, { label: 'Sign out everywhere', icon: 'i-lucide-monitor-x', onSelect: signOutEverywhere }]"
    >
      <UButton
        size="sm"
        variant="ghost"
        trailing-icon="i-lucide-chevron-down"
      >Sign out</UButton>
    </UDropdownMenu>
  </span>
</template>

<style scoped>
.player { display: flex; align-items: center; gap: var(--step); color: var(--ink-soft); }
</style>
