<script setup lang="ts">
import { HANDS_CHOICES } from '~/utils/ui/choices'
import { useChosenFile } from '~/composables/ui/useChosenFile'
import { messageOf } from '~/utils/ui/messageOf'
import { LIMITS } from '#core/music/limits'
import type { Hands } from '#core/music/arrangement'

const props = defineProps<{ songId: string }>()
const input = useTemplateRef('input')
const hands = ref<Hands>('both')
/** What is being assessed, and how it is stopped. */
const running = shallowRef<{ name: string; abort: AbortController }>()
const zone = useTemplateRef('zone')
const problem = ref('')

async function assess(file: File) {
  const abort = new AbortController()
  running.value = { name: file.name, abort }
  problem.value = ''
  try {
    if (file.size > LIMITS.fileBytes)
      throw new Error(`the file has ${file.size} bytes; at most ${LIMITS.fileBytes} are read`)
    const { id } = await $fetch<{ id: string }>(`/api/songs/${props.songId}/recordings`, {
      method: 'POST',
      query: { hands: hands.value },
      body: file,
      signal: abort.signal,
      headers: { 'content-type': 'application/octet-stream' },
    })
    await navigateTo(`/passes/${id}`)
  } catch (error) {
    problem.value = abort.signal.aborted ? '' : `${file.name}: ${messageOf(error)}`
  } finally {
    running.value = undefined
  }
}

const { open, isOver } = useChosenFile({ input, zone }, '.mid,.midi,audio/midi', assess)
</script>

<template>
  <section ref="zone" class="recording" :class="{ over: isOver }" aria-label="Assess a recording">
    <div>
      <p>
        Drop a MIDI file of the whole song here, played at any tempo. Every note is assessed and the result is kept in
        the Logbook.
      </p>
      <p v-if="problem" role="alert" class="problem">
        {{ problem }}
      </p>
    </div>
    <div class="choose fields">
      <ChoiceField v-model="hands" label="Played by" :choices="HANDS_CHOICES" />
      <input ref="input" type="file" class="sr-only" tabindex="-1" aria-label="MIDI file" />
      <UButton variant="outline" icon="i-lucide-file-music" :loading="running !== undefined" @click="open">
        Choose a MIDI file
      </UButton>
      <p v-if="running" role="status">
        Assessing {{ running.name }} …
        <UButton size="sm" variant="outline" icon="i-lucide-square" @click="running.abort.abort()"> Stop </UButton>
      </p>
    </div>
  </section>
</template>

<style scoped>
.recording {
  padding: calc(2 * var(--step));
  border: 2px dashed var(--rule);
  border-radius: 0.5rem;
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  justify-content: space-between;
  align-items: center;
}
.over {
  border-color: var(--together);
  background: var(--sheet);
}
p {
  color: var(--ink-soft);
  max-width: 40rem;
}
.choose {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: calc(2 * var(--step));
}
</style>
