<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { useServerStore } from '~/stores/server'
import { bytesText } from '#core/words/archive'

/**
 * That the server is away or busy and what is shown is from before; that the browser has hardly any room left. Nothing
 * while all is well.
 */
const server = useServerStore()
const dates = useDates()
/** Less free space than this is reported, bytes: some hundreds of passes. */
const LITTLE = 25_000_000
const left = ref<number>()

onMounted(async () => {
  server.listen()
  const { quota, usage }: StorageEstimate = (await navigator.storage?.estimate?.().catch(() => ({}))) ?? {}
  if (quota !== undefined && usage !== undefined) left.value = quota - usage
})
</script>

<template>
  <div v-if="server.now !== 'there' || (left !== undefined && left < LITTLE)" class="server" role="status">
    <p v-if="server.now !== 'there'">
      <UIcon :name="server.now === 'busy' ? 'i-lucide-hourglass' : 'i-lucide-unplug'" />
      {{
        server.now === 'busy'
          ? 'The server has too much to do just now and is asked again in a moment.'
          : 'The server does not answer.'
      }}
      Practise on: what you play waits in this browser.<template v-if="server.keptAt">
        What you see was kept {{ dates.dayName(server.keptAt) }}, {{ dates.timeOfDay(server.keptAt) }}.
      </template>
    </p>
    <p v-if="left !== undefined && left < LITTLE">
      <UIcon name="i-lucide-hard-drive" /> This browser has only {{ bytesText(Math.max(0, left)) }} of storage left for
      Half Step: passes may soon not be able to wait here while the server is away. Make room on this device, or
      practise while the server is there.
    </p>
  </div>
</template>

<style scoped>
.server {
  padding: var(--step) calc(3 * var(--step));
  background: color-mix(in oklab, var(--heard-missed) 16%, var(--sheet));
  border-bottom: 1px solid var(--rule);
}
p {
  display: flex;
  gap: var(--step);
  align-items: center;
  flex-wrap: wrap;
}
</style>
