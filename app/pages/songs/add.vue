<script setup lang="ts">
import { useArchive } from '~/composables/account/useArchive'
import { useRecordedPhrase } from '~/composables/keyboards/useRecordedPhrase'
import { useSongReader } from '~/composables/songs/useSongReader'
import { useAction } from '~/composables/ui/useAction'
import { useChosenFile } from '~/composables/ui/useChosenFile'
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
  { value: 'file', slot: 'file' as const, label: 'From a file', icon: 'i-lucide-file-music' },
  { value: 'chart', slot: 'chart' as const, label: 'From a chord chart', icon: 'i-lucide-align-left' },
  { value: 'play', slot: 'play' as const, label: 'Play it in', icon: 'i-lucide-piano' },
]
const way = ref(WAYS.find(one => one.value === route.query.from)?.value ?? 'file')
const input = useTemplateRef('input')
const zone = useTemplateRef('zone')
const chart = ref('')
const source = shallowRef<{ bytes: Uint8Array; name: string } | { phrase: PlayedPhrase }>()
const choices = shallowRef<SongChoices>({})
const preview = shallowRef<Preview>()
const version = ref(0)
const stage = ref('')
const { act, problem, isBusy: saving } = useAction()
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

async function take(file: File) {
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

const { open, isOver } = useChosenFile(
  { input, zone },
  '.musicxml,.xml,.mxl,.mid,.midi,.txt,.cho,.chopro,.chordpro,.pro,.crd,.json,.gz',
  take,
)

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
  const [from, shown] = [source.value, preview.value]
  if (!from || !shown) return
  await act(async () => {
    const isPhrase = 'phrase' in from
    const { title, composer } = choices.value
    // The hands of a phrase are swapped in what is sent.
    const decided = isPhrase ? { title, composer } : choices.value
    const bytes = 'phrase' in from ? new TextEncoder().encode(shown.musicXml) : from.bytes
    const song = await $fetch<{ id: string }>('/api/songs', {
      method: 'POST',
      body: new Blob([bytes as BlobPart]),
      headers: { 'content-type': 'application/octet-stream' },
      query: {
        name: 'phrase' in from ? 'Played in' : from.name,
        choices: JSON.stringify(decided),
        ...(editionOf ? { editionOf, edition: edition.value } : {}),
        ...(isPhrase || isPlayed.value ? { played: true } : {}),
      },
    })
    await navigateTo(
      route.query.steps === '1'
        ? { path: '/first-steps', query: { step: 'listen', song: song.id } }
        : `/songs/${song.id}`,
    )
  })
}

function discard() {
  preview.value = undefined
  source.value = undefined
}
</script>

<template>
  <div class="add">
    <h1>{{ editionOf ? 'Add an edition' : 'Add a song' }}</h1>
    <UTabs v-model="way" :items="WAYS">
      <template #file>
        <div ref="zone" class="source drop" :class="{ over: isOver }">
          <input ref="input" type="file" class="sr-only" tabindex="-1" aria-label="Song file" />
          <p>
            MusicXML (.musicxml, .xml, .mxl), a MIDI file, a chord chart or ChordPro; or a song that somebody took along
            from Half Step (.half-step.tar.gz, .json). Drop it here, or
          </p>
          <UButton size="lg" icon="i-lucide-folder-open" @click="open"> Choose a file </UButton>
        </div>
      </template>
      <template #chart>
        <form class="source chart" @submit.prevent="readChart">
          <UFormField
            label="Chords"
            help="Separate bars with a vertical line; one chord or slash per beat. Or ChordPro, with chords in brackets above the words."
          >
            <UTextarea
              v-model="chart"
              :rows="9"
              spellcheck="false"
              :ui="{ base: 'font-mono' }"
              placeholder="title: Evening at the Lock&#10;key: C   (a line each)&#10;[Verse]&#10;| C / G/B / | Am / / / |&#10;|: F | C G :|"
            />
          </UFormField>
          <UButton type="submit" :disabled="chart.trim() === ''"> Read the chart </UButton>
        </form>
      </template>
      <template #play>
        <PhraseRecorder
          class="source"
          :meter="{ beats: 4, beatType: 4 }"
          :bpm="80"
          @played="begin({ phrase: $event })"
        />
      </template>
    </UTabs>

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
        <TextField v-model="edition" label="Name of this edition" maxlength="60" />
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
  margin: calc(2 * var(--step)) 0;
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
  gap: calc(2 * var(--step));
  justify-items: start;
}
.chart > :first-child {
  width: 100%;
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
