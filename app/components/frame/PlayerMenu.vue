<script setup lang="ts">
import { OFFLINE_CACHE } from '#shared/utils/kept-answers'
/** `isOpen`: the only player here, without a password; there is no sign-out. */
const props = defineProps<{ name: string; isDemo: boolean; isOpen?: boolean }>()
const { clear } = useUserSession()

async function signOut() {
  await clear()
  // The next player finds nothing of this one here.
  await globalThis.caches?.delete(OFFLINE_CACHE)
  await navigateTo('/sign-in')
}

/** On every device: cookies that were left behind somewhere are of no use to anybody. */
async function signOutEverywhere() {
  await $fetch('/api/sessions', { method: 'DELETE' })
  await signOut()
}

const items = computed(() => [
  { label: 'Account', icon: 'i-lucide-user', to: '/account' },
  { label: 'First steps', icon: 'i-lucide-footprints', to: '/first-steps' },
  ...(props.isOpen || props.isDemo
    ? []
    : [
        { label: 'Sign out', icon: 'i-lucide-log-out', onSelect: signOut },
        { label: 'Sign out everywhere', icon: 'i-lucide-monitor-x', onSelect: signOutEverywhere },
      ]),
  ...(props.isDemo ? [{ label: 'Sign in', icon: 'i-lucide-log-in', to: '/sign-in' }] : []),
])
</script>

<template>
  <UDropdownMenu :items="items">
    <UButton
      size="sm"
      variant="ghost"
      color="neutral"
      trailing-icon="i-lucide-chevron-down"
      :aria-label="`${name}: account`"
    >
      {{ isDemo ? `${name} (demo)` : name }}
    </UButton>
  </UDropdownMenu>
</template>
