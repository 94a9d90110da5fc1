<script setup lang="ts">
import { useSettingsStore } from '~/stores/settings'
import { LEVEL_FOR } from '~/utils/songs/levelFor'
import { messageOf } from '~/utils/ui/messageOf'
import { coachSettings } from '#core/coach/settings'
import { LEVEL_WORDS } from '#core/words/patterns'

/** A song: one of the player's, one of ours with an edition at the player's level, or the way to bring one. */
const emit = defineEmits<{ chosen: [songId: string] }>()
const settings = useSettingsStore()
const { data: own } = await useFetch('/api/songs', { key: 'first-steps-songs' })
const { data: shipped } = await useFetch('/api/shipped-songs')
const problem = ref('')
const making = ref('')
const level = computed(() => LEVEL_FOR[coachSettings(settings.coach).experience])

async function take(file: string, title: string) {
  problem.value = ''
  making.value = title
  try {
    const { id } = await $fetch<{ id: string }>(`/api/shipped-songs/${file}`, { method: 'POST' })
    emit('chosen', level.value === undefined ? id : await atLevel(id))
  } catch (error) {
    problem.value = messageOf(error)
  } finally {
    making.value = ''
  }
}

/** The edition at the player's level; the song as it is where none can be made of it. */
async function atLevel(id: string): Promise<string> {
  const edition = LEVEL_WORDS[level.value!].title.toLowerCase()
  const made = await $fetch<{ id: string }>(`/api/songs/${id}/editions`, {
    method: 'POST',
    body: { edition, making: { kind: 'level', level: level.value } },
  }).catch(() => undefined)
  return made?.id ?? id
}
</script>

<template>
  <div class="step">
    <div class="ways">
      <UButton :to="{ path: '/songs/add', query: { steps: '1' } }" icon="i-lucide-file-music" variant="outline">
        Open a score or MIDI file
      </UButton>
      <UButton
        :to="{ path: '/songs/add', query: { from: 'chart', steps: '1' } }"
        icon="i-lucide-text"
        variant="outline"
      >
        Type a chord chart
      </UButton>
      <UButton
        :to="{ path: '/songs/add', query: { from: 'play', steps: '1' } }"
        icon="i-lucide-piano"
        variant="outline"
      >
        Play it in
      </UButton>
    </div>
    <template v-if="own?.length">
      <h3>Yours</h3>
      <ul>
        <li v-for="song in own.slice(0, 6)" :key="song.id">
          <UButton variant="soft" @click="emit('chosen', song.id)">
            {{ song.title }}<template v-if="song.edition"> ({{ song.edition }}) </template>
          </UButton>
        </li>
      </ul>
    </template>
    <h3>Ours, composed for this program; the easiest first</h3>
    <ul>
      <li v-for="song in shipped" :key="song.file">
        <UButton
          variant="soft"
          :loading="making === song.title"
          :disabled="making !== ''"
          @click="take(song.file, song.title)"
        >
          {{ song.title }}
        </UButton>
      </li>
    </ul>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>

<style scoped>
.ways,
ul {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
h3 {
  font-weight: 700;
}
</style>
