<script setup lang="ts">
import { useArchive } from '~/composables/account/useArchive'
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

async function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  input.value = ''
  if (!file) return
  await bring(file)
  if (restored.value) emit('restored')
}
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
      <label class="bring">
        <span>Bring an archive back</span>
        <input
          type="file"
          :accept="`.${ARCHIVE_ENDING},.tar.gz,.gz,application/gzip`"
          :disabled="isBusy"
          @change="chosen"
        />
      </label>
    </div>
    <div v-if="isBusy" class="progress">
      <span role="status">{{ progressText }}</span>
      <progress :value="share" :aria-label="progressText" />
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
.bring {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
  align-items: center;
}
.bring input {
  border: 1px solid var(--rule);
  border-radius: 0.375rem;
  padding: 0.35rem 0.5rem;
  background: var(--ground);
  max-width: 100%;
}
.progress {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
}
.progress progress {
  flex: 1 1 12rem;
  accent-color: var(--together);
}
</style>
