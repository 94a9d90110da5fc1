<script setup lang="ts">
import { useOutboxStore } from '~/stores/outbox'
import { saveAsFile } from '~/utils/ui/saveAsFile'
import { plural } from '#core/words/amounts'
import { unsavedText } from '#core/words/passes'

/** What is not at the server yet, or never will be; nothing while all is well. */
const outbox = useOutboxStore()
onMounted(() => outbox.send())
const text = computed(() =>
  unsavedText({
    refused: outbox.refused.length,
    waiting: outbox.stuck ? outbox.waiting.length : 0,
    isOnlyHere: outbox.isOnlyHere,
  }),
)
const reasons = computed(() =>
  [...new Set(outbox.refused.map(pass => pass.refused!))].map(reason => ({
    reason,
    passes: outbox.refused.filter(pass => pass.refused === reason),
  })),
)

const download = () => saveAsFile('half-step-passes.json', outbox.asFile())
</script>

<template>
  <span class="note" role="status">
    <UPopover v-if="text">
      <UButton variant="link" color="error" icon="i-lucide-cloud-off" class="shown">{{ text }}</UButton>
      <template #content>
        <div class="panel">
          <p v-if="outbox.waiting.length > 0">
            {{ plural(outbox.waiting.length, 'pass', 'passes') }} will be sent as soon as the server answers{{
              outbox.isOnlyHere ? '; do not close this page, or save them as a file' : ''
            }}.
          </p>
          <ul v-if="reasons.length > 0">
            <li v-for="{ reason, passes } in reasons" :key="reason">
              {{ plural(passes.length, 'pass', 'passes') }} cannot be saved: {{ reason }}
              <UButton
                size="sm"
                variant="outline"
                color="neutral"
                @click="passes.forEach(pass => void outbox.dismiss(pass.id))"
              >
                Dismiss
              </UButton>
            </li>
          </ul>
          <UButton icon="i-lucide-download" variant="outline" @click="download"> Save as a file </UButton>
        </div>
      </template>
    </UPopover>
  </span>
</template>

<style scoped>
.note {
  font-size: 0.95rem;
}
.panel {
  padding: calc(2 * var(--step));
  max-width: 26rem;
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
}
ul {
  display: grid;
  gap: var(--step);
}
</style>
