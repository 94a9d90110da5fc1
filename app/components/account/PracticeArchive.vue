<script setup lang="ts">
import { useArchive } from '~/composables/account/useArchive'
import { useChosenFile } from '~/composables/ui/useChosenFile'
import { ARCHIVE_ENDING } from '#core/archive/archive'
import { bytesText, restoredText } from '#core/words/archive'
import { plural } from '#core/words/amounts'

/** Everything of the player in one file: taken away, and brought back. */
defineProps<{ passes: number }>()
const emit = defineEmits<{ restored: [] }>()
const { progress, problem, restored, take, bring, stop } = useArchive()
const isBusy = computed(() => progress.value !== undefined)
const progressText = computed(() => {
  const now = progress.value
  switch (now?.doing) {
    case 'fetching':
      return `Writing the archive: ${bytesText(now.bytes)} so far`
    case 'sending':
      return `Sending the file: ${bytesText(now.bytes)} of ${bytesText(now.of)}`
    case 'restoring':
      return now.of === 0 ? 'Reading the archive' : `Restoring: ${now.done} of ${plural(now.of, 'pass', 'passes')}`
    default:
      return ''
  }
})
const share = computed(() => {
  const now = progress.value
  return now?.doing === 'sending'
    ? now.bytes / now.of
    : now?.doing === 'restoring' && now.of > 0
      ? now.done / now.of
      : undefined
})

const input = useTemplateRef('input')
const { open } = useChosenFile(
  { input, zone: undefined },
  `.${ARCHIVE_ENDING},.tar.gz,.gz,application/gzip`,
  async file => {
    await bring(file)
    if (restored.value) emit('restored')
  },
)
</script>

<template>
  <section aria-labelledby="archive">
    <h2 id="archive">Your practice in one file</h2>
    <p>
      The archive holds everything that is yours: songs with all their revisions, parts and fingers as MusicXML and
      JSON, {{ plural(passes, 'pass', 'passes') }} with what you played as MIDI and what was found in it, your own
      words, drills, patterns and settings. It opens with any program that unpacks .tar.gz, and comes back here or on
      another computer. What is there already stays as it is: bringing an archive back twice changes nothing.
    </p>
    <div class="row">
      <UButton icon="i-lucide-archive" :disabled="isBusy" @click="take('/api/archive')"> Take my archive </UButton>
      <UButton variant="outline" icon="i-lucide-archive-restore" :disabled="isBusy" @click="open">
        Bring an archive back
      </UButton>
      <input ref="input" type="file" class="sr-only" tabindex="-1" aria-label="Archive to bring back" />
    </div>
    <div v-if="isBusy" class="progress">
      <span role="status">{{ progressText }}</span>
      <UProgress class="share" :model-value="share ?? null" :max="1" :aria-label="progressText" />
      <UButton v-if="progress?.doing === 'sending'" variant="ghost" color="neutral" @click="stop"> Stop </UButton>
    </div>
    <p v-if="restored" role="status">
      {{ restoredText(restored) }}
    </p>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step)) calc(4 * var(--step));
  align-items: center;
}
.progress {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
}
.share {
  flex: 1 1 12rem;
}
</style>
