<script setup lang="ts">
const emit = defineEmits<{ added: [] }>()
const input = useTemplateRef('input')
const busy = ref(false)
const said = ref('')
const problem = ref(false)

/** Large enough for any piano score; the server checks the same and more. */
const MOST_BYTES = 20_000_000

async function add(event: Event) {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (!file) return
  busy.value = true
  problem.value = false
  said.value = ''
  try {
    if (file.size > MOST_BYTES) throw new Error(`the file has ${file.size} bytes; at most ${MOST_BYTES} are read`)
    const song = await $fetch('/api/songs', { method: 'POST', body: file, headers: { 'content-type': 'application/octet-stream' } })
    const left = song.warnings.length
    said.value = `${song.title} was added.${left ? ` Not everything in the file is used (${left} ${left === 1 ? 'remark' : 'remarks'}; see the song).` : ''}`
    emit('added')
  }
  catch (error) {
    problem.value = true
    said.value = `${file.name}: ${messageOf(error)}`
  }
  finally { busy.value = false }
}
</script>

<template>
  <div class="add">
    <input
      ref="input"
      type="file"
      accept=".musicxml,.xml,.mxl"
      class="sr-only"
      tabindex="-1"
      aria-label="MusicXML file"
      @change="add"
    >
    <UButton
      icon="i-lucide-plus"
      size="lg"
      :loading="busy"
      @click="input?.click()"
    >
      Add a song
    </UButton>
    <p
      role="status"
      :class="{ problem }"
    >
      {{ said }}
    </p>
  </div>
</template>

<style scoped>
.add { text-align: right; max-width: 34rem; }
p { margin-top: var(--step); color: var(--ink-soft); }
p:empty { margin: 0; }
.problem { color: var(--heard-wrong); }
</style>
