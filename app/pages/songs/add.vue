<script setup lang="ts">
import { useArchive } from '~/composables/account/useArchive'
import { useRecordedPhrase } from '~/composables/keyboards/useRecordedPhrase'
import { useSongReader } from '~/composables/songs/useSongReader'
import { messageOf } from '~/utils/ui/messageOf'
import { LIMITS } from '#core/music/limits'
import type { SongChoices } from '#core/formats/read-score'
import { withHandsSwapped } from '#core/formats/roles'
import { writeMusicXml } from '#core/formats/musicxml/write'
import { describeStretch } from '#core/words/places'
import { notatePhrase } from '#core/notate/phrase'
import { proposeParts } from '#core/parts/propose'
import type { PlayedPhrase } from '~/components/work/PhraseRecorder.vue'
import type { Preview } from '~/workers/reader'

useHead({ title: 'Add a song · Half Step' })
const route = useRoute()
/** Set where this is brought as another edition of a song. */
const editionOf = typeof route.query.editionOf === 'string' ? route.query.editionOf : undefined
const edition = ref(typeof route.query.edition === 'string' ? route.query.edition : 'other edition')

const WAYS = [
  { value: 'file', label: 'From a file', icon: 'i-lucide-file-music' },
  { value: 'chart', label: 'From a chord chart', icon: 'i-lucide-align-left' },
  { value: 'play', label: 'Play it in', icon: 'i-lucide-piano' },
] as const
const way = ref<(typeof WAYS)[number]['value']>(WAYS.find(one => one.value === route.query.from)?.value ?? 'file')
const input = useTemplateRef('input')
const over = ref(false)
const chart = ref('')
const source = shallowRef<{ bytes: Uint8Array; name: string } | { phrase: PlayedPhrase }>()
const choices = shallowRef<SongChoices>({})
const preview = shallowRef<Preview>()
const version = ref(0)
const stage = ref('')
const problem = ref('')
const saving = ref(false)
/** It was played by the way, though it comes as a file. */
const isPlayed = ref(false)
const reader = useSongReader()

/** What was played by the way comes as a file. */
onMounted(() => {
  const played = useRecordedPhrase()
  if (route.query.from === 'played' && played.value) {
    void begin(played.value)
    isPlayed.value = true
  }
  played.value = undefined
})

async function take(file: File | undefined) {
  if (!file) return
  problem.value = ''
  if (await isGzip(file)) return await takeAlong(file)
  if (file.size > LIMITS.fileBytes) {
    problem.value = `${file.name}: the file has ${file.size} bytes; at most ${LIMITS.fileBytes} are read`
    return
  }
  await begin({ bytes: new Uint8Array(await file.arrayBuffer()), name: file.name })
}

/** A song that somebody took along comes as an archive: with its editions, parts and fingers, without a preview. */
const archive = useArchive()
const isGzip = async (file: File) => {
  const [first, second] = new Uint8Array(await file.slice(0, 2).arrayBuffer())
  return first === 0x1f && second === 0x8b
}
async function takeAlong(file: File) {
  stage.value = `Taking in ${file.name}`
  await archive.bring(file)
  stage.value = ''
  if (archive.restored.value) await navigateTo('/songs')
  else problem.value = `${file.name}: ${archive.problem.value}`
}

function chosen(event: Event) {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  void take(file)
}

function dropped(event: DragEvent) {
  over.value = false
  void take(event.dataTransfer?.files[0])
}

function stop() {
  reader.stop()
  source.value = undefined
  preview.value = undefined
  stage.value = ''
}

const readChart = () => begin({ bytes: new TextEncoder().encode(chart.value), name: 'Chord chart' })

async function begin(from: NonNullable<typeof source.value>) {
  isPlayed.value = false
  source.value = from
  choices.value = {}
  preview.value = undefined
  await read()
}

async function read() {
  const from = source.value
  if (!from) return
  problem.value = ''
  if ('phrase' in from) {
    preview.value = readPhrase(from.phrase)
    version.value++
    return
  }
  const answer = await reader.read(from.bytes, from.name, choices.value, text => {
    stage.value = text
  })
  stage.value = ''
  if (source.value !== from || !answer) return
  if ('reason' in answer) {
    problem.value = `${from.name}: ${answer.reason}`
    return
  }
  preview.value = answer
  version.value++
}

function readPhrase({ take: played, hands, meter, clickBpm }: PlayedPhrase): Preview | undefined {
  const written = notatePhrase(played, {
    title: choices.value.title ?? 'Played in',
    clickBpm,
    ...choices.value,
    hands,
    meter: choices.value.meter ?? meter,
  })
  if (!written) return undefined
  const asWritten = writeMusicXml(written.arrangement)
  const { arrangement, musicXml } = choices.value.swapHands ? withHandsSwapped(asWritten) : asWritten
  return {
    format: 'MusicXML',
    guesses: written.guesses,
    voices: [],
    musicXml,
    arrangement,
    parts: proposeParts(arrangement).map(part => `${part.name}, ${describeStretch(arrangement, part)}`),
  }
}

function decide(next: SongChoices) {
  choices.value = next
  void read()
}

async function save() {
  if (!source.value || !preview.value) return
  saving.value = true
  problem.value = ''
  try {
    const isPhrase = 'phrase' in source.value
    const { title, composer } = choices.value
    // The hands of a phrase are swapped in what is sent.
    const decided = isPhrase ? { title, composer } : choices.value
    const bytes = 'phrase' in source.value ? new TextEncoder().encode(preview.value.musicXml) : source.value.bytes
    const song = await $fetch<{ id: string }>('/api/songs', {
      method: 'POST',
      body: new Blob([bytes as BlobPart]),
      headers: { 'content-type': 'application/octet-stream' },
      query: {
        name: 'phrase' in source.value ? 'Played in' : source.value.name,
        choices: JSON.stringify(decided),
        ...(editionOf ? { editionOf, edition: edition.value } : {}),
        ...('phrase' in source.value || isPlayed.value ? { played: true } : {}),
      },
    })
    await navigateTo(
      route.query.steps === '1'
        ? { path: '/first-steps', query: { step: 'listen', song: song.id } }
        : `/songs/${song.id}`,
    )
  } catch (error) {
    problem.value = messageOf(error)
  } finally {
    saving.value = false
  }
}

function discard() {
  preview.value = undefined
  source.value = undefined
}
</script>

<template>
  <div class="add">
    <h1>{{ editionOf ? 'Add an edition' : 'Add a song' }}</h1>
    <TabRow v-model="way" :tabs="WAYS" label="Where the song comes from" panel="source" />

    <div id="source" class="source" role="tabpanel" :aria-labelledby="`source-${way}`">
      <div
        v-if="way === 'file'"
        class="drop"
        :class="{ over }"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="dropped"
      >
        <input
          ref="input"
          type="file"
          accept=".musicxml,.xml,.mxl,.mid,.midi,.txt,.cho,.chopro,.chordpro,.pro,.crd,.json,.gz"
          class="sr-only"
          tabindex="-1"
          aria-label="Song file"
          @change="chosen"
        />
        <p>
          MusicXML (.musicxml, .xml, .mxl), a MIDI file, a chord chart or ChordPro; or a song that somebody took along
          from Half Step (.half-step.tar.gz, .json). Drop it here, or
        </p>
        <UButton size="lg" icon="i-lucide-folder-open" @click="input?.click()"> Choose a file </UButton>
      </div>
      <div v-else-if="way === 'chart'" class="chart">
        <label for="chart"
          >Separate bars with a vertical line; one chord or slash per beat. Or ChordPro, with chords in brackets above
          the words.</label
        >
        <textarea
          id="chart"
          v-model="chart"
          rows="9"
          spellcheck="false"
          placeholder="title: Evening at the Lock&#10;key: C   (a line each)&#10;[Verse]&#10;| C / G/B / | Am / / / |&#10;|: F | C G :|"
        />
        <UButton :disabled="chart.trim() === ''" @click="readChart"> Read the chart </UButton>
      </div>
      <PhraseRecorder v-else :meter="{ beats: 4, beatType: 4 }" :bpm="80" @played="begin({ phrase: $event })" />
    </div>

    <p role="status" class="stage">
      {{ stage }}
      <UButton v-if="stage" size="sm" variant="outline" icon="i-lucide-square" @click="stop"> Stop </UButton>
    </p>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
    <template v-if="preview">
      <SongPreview
        :model-value="choices"
        :preview="preview"
        :version="version"
        :played-in="source && 'phrase' in source"
        @update:model-value="decide"
      />
      <p v-if="editionOf" class="edition fields">
        <label>Name of this edition <input v-model="edition" maxlength="60" /></label>
      </p>
      <div class="save">
        <UButton size="xl" :loading="saving" @click="save"> Save the song </UButton>
        <UButton size="xl" variant="ghost" color="neutral" @click="discard()"> Discard </UButton>
      </div>
    </template>
  </div>
</template>

<style scoped>
.add {
  max-width: 76rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
}
h1 {
  font-size: 2.25rem;
  line-height: 1.25;
  margin-bottom: calc(2 * var(--step));
}
.source {
  padding: calc(2 * var(--step)) 0;
}
.drop {
  border: 2px dashed var(--rule);
  border-radius: 0.5rem;
  padding: calc(3 * var(--step));
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
}
.over {
  border-color: var(--together);
  background: var(--sheet);
}
.chart {
  display: grid;
  gap: var(--step);
  justify-items: start;
}
textarea {
  width: 100%;
  font-family: ui-monospace, monospace;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.375rem;
  padding: calc(1.5 * var(--step));
}
.stage {
  color: var(--ink-soft);
  min-height: 1.5em;
}
.edition {
  margin-top: calc(2 * var(--step));
}
.save {
  display: flex;
  gap: calc(2 * var(--step));
  margin-top: calc(3 * var(--step));
}
</style>
