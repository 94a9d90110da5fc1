<script setup lang="ts">
import { choicesOf } from '~/utils/ui/choices'
import { useArchive } from '~/composables/account/useArchive'
import { useHearPart } from '~/composables/sound/useHearPart'
import { usePreparedPart } from '~/composables/stand/usePreparedPart'
import { originText } from '~/utils/songs/originText'
import { describePass } from '~/utils/stand/describePass'
import { askedLink } from '~/utils/stand/standLink'
import { useAction } from '~/composables/ui/useAction'
import { messageOf } from '~/utils/ui/messageOf'
import { sentence } from '~/utils/ui/sentence'
import { PRACTICE_ROLES, type PracticeRole } from '#core/coach/session'
import { handPatternNamed } from '#core/patterns/hand-patterns'
import { signatureText } from '#core/words/note-names'
import { remarkText } from '#core/words/remarks'
import { placedUnitText, reasonText, ROLE_WORDS } from '#core/words/coach'
import type { ChosenStep } from '~/components/song/SongStairs.vue'

const route = useRoute()
/** The player's device says what day it is. */
const at = useState('song-at', () => new Date().toISOString())
if (import.meta.client) at.value = new Date().toISOString()
const {
  data: song,
  error,
  refresh,
} = await useFetch(() => `/api/songs/${String(route.params.id)}`, {
  key: `song-${String(route.params.id)}`,
  query: { at },
  deep: false,
  watch: false,
})
useHead({ title: () => `${song.value?.title ?? 'Song'} · Half Step` })

const renaming = ref(false)
const title = ref('')
const composer = ref('')
const { act, problem } = useAction()

const edition = ref('')
const making = ref(false)
/** What the left hand plays, where it was made from a pattern. */
const leftPattern = computed(() => {
  const origin = song.value?.origin
  return origin?.kind === 'pattern' && origin.hand === 'left'
    ? origin.pattern
    : origin?.kind === 'chart'
      ? (origin.patterns?.left ?? handPatternNamed('held-root'))
      : undefined
})
const made = computed(() => (song.value ? originText(song.value.origin) : ''))

async function change(what: {
  role?: PracticeRole
  archived?: boolean
  title?: string
  composer?: string
  edition?: string
}) {
  await act(async () => {
    await $fetch(`/api/songs/${song.value!.id}`, { method: 'PATCH', body: what })
    await refresh()
    renaming.value = false
  })
}

const isDeleting = ref(false)
const archive = useArchive()
const more = computed(() => [
  song.value?.archived
    ? { label: 'Take out again', icon: 'i-lucide-archive-restore', onSelect: () => void change({ archived: false }) }
    : { label: 'Put away', icon: 'i-lucide-archive', onSelect: () => void change({ archived: true }) },
  {
    label: 'Take along as a file',
    icon: 'i-lucide-file-down',
    onSelect: () => void archive.take(`/api/songs/${song.value!.id}/archive`),
  },
  {
    label: 'Delete',
    icon: 'i-lucide-trash-2',
    onSelect: () => {
      isDeleting.value = true
    },
  },
])
async function deleteSong() {
  await act(async () => {
    await $fetch(`/api/songs/${song.value!.id}`, { method: 'DELETE' })
    await navigateTo(song.value!.role === 'drill' ? '/drills' : '/songs')
  })
}

/** A letter for each part of the form: twins share one. */
const letters = computed(() => {
  const names = new Map<string, string>()
  return song.value!.parts.map(part => {
    const key = part.reached.find(one => one.hands === 'both')!.key
    if (!names.has(key)) names.set(key, String.fromCharCode(65 + (names.size % 26)))
    return names.get(key)!
  })
})
const next = computed(() => song.value?.stairs.next)
const nextPart = computed(() => song.value?.parts[next.value?.first ?? 0])
const nextLink = computed(() => {
  const [now, part] = [next.value, nextPart.value]
  return now && part ? askedLink(part.id, now) : undefined
})

const hearing = useHearPart()

const chosen = ref<ChosenStep>({ place: next.value?.first ?? 0 })
/** The part the step was chosen in may have been removed when the song was changed. */
const chosenPart = computed(() => song.value?.parts[chosen.value.place] ?? song.value?.parts[0])
const chosenStep = computed(() =>
  chosen.value.hands && chosen.value.bpm !== undefined
    ? { hands: chosen.value.hands, bpm: chosen.value.bpm }
    : undefined,
)

usePreparedPart(() =>
  next.value && nextPart.value ? { partId: nextPart.value.id, stretch: next.value.stretch } : undefined,
)

function rename() {
  title.value = song.value!.title
  composer.value = song.value!.composer
  edition.value = song.value!.edition
  renaming.value = true
}
</script>

<template>
  <div class="song">
    <p v-if="error">{{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink></p>
    <template v-else-if="song">
      <header>
        <div>
          <h1>{{ song.title }}</h1>
          <p class="facts figure">
            {{ song.composer }}<span v-if="song.composer"> · </span>{{ song.meter.beats }}/{{ song.meter.beatType }} ·
            {{ song.bars }} bars · {{ signatureText(song.fifths) }}<template v-if="made"> · {{ made }} </template>
          </p>
          <nav v-if="song.editions.length > 1" class="editions" aria-label="Editions">
            <NuxtLink
              v-for="one in song.editions"
              :key="one.id"
              :to="`/songs/${one.id}`"
              :aria-current="one.id === song.id ? 'page' : undefined"
            >
              {{ one.edition || 'first edition' }}
            </NuxtLink>
          </nav>
        </div>
        <div class="acts">
          <UButton
            v-if="song.parts[0]"
            variant="outline"
            :icon="hearing.isOn('song') ? 'i-lucide-square' : 'i-lucide-volume-2'"
            @click="hearing.toggle('song', { partId: song.parts[0].id, isWholeSong: true, hands: 'both' })"
          >
            {{ hearing.isOn('song') ? 'Stop' : 'Hear the song' }}
          </UButton>
          <UButton :to="`/workbench/${song.id}`" variant="outline" icon="i-lucide-pencil-ruler"> Workbench </UButton>
          <UButton
            variant="ghost"
            color="neutral"
            icon="i-lucide-notebook-text"
            :to="{ path: '/logbook', query: { song: song.id } }"
          >
            Logbook
          </UButton>
          <UButton variant="ghost" color="neutral" icon="i-lucide-type" @click="rename"> Rename </UButton>
          <UButton variant="ghost" color="neutral" icon="i-lucide-copy" @click="making = !making">
            New edition
          </UButton>
          <UButton variant="ghost" color="neutral" icon="i-lucide-printer" :to="`/print/${song.id}`"> Print </UButton>
          <UDropdownMenu :items="more">
            <UButton variant="ghost" color="neutral" icon="i-lucide-ellipsis" aria-label="More for this song" />
          </UDropdownMenu>
        </div>
      </header>
      <p v-if="song.archived" role="status" class="away">
        This song is put away. Its passes stay in the Logbook.
        <UButton variant="outline" size="sm" @click="change({ archived: false })"> Take it out again </UButton>
      </p>
      <div v-if="isDeleting" role="alertdialog" aria-labelledby="deleting" class="deleting">
        <p id="deleting">
          Delete “{{ song.title }}”<template v-if="song.edition"> ({{ song.edition }}) </template>? For 30 days it can
          be brought back from the foot of Songs; then it goes for good, with every pass and take of it. To keep these
          in the Logbook, put the song away instead.
        </p>
        <UButton color="error" @click="deleteSong"> Delete </UButton>
        <UButton variant="ghost" color="neutral" @click="isDeleting = false"> Keep it </UButton>
      </div>
      <form
        v-if="renaming"
        class="rename fields"
        @submit.prevent="change({ title, composer, ...(song.editions.length > 1 ? { edition } : {}) })"
      >
        <TextField v-model="title" label="Title" maxlength="300" required />
        <TextField v-model="composer" label="Composer" maxlength="300" />
        <TextField v-if="song.editions.length > 1" v-model="edition" label="Edition" maxlength="60" />
        <UButton type="submit"> Save </UButton>
        <UButton variant="ghost" @click="renaming = false"> Cancel </UButton>
      </form>
      <p v-if="problem || hearing.problem.value || archive.problem.value" role="alert" class="problem">
        {{ problem || hearing.problem.value || archive.problem.value }}
      </p>
      <LazyEditionMaker
        v-if="making && song.parts[0]"
        :song-id="song.id"
        :part-id="song.parts[0].id"
        :meter="song.meter"
        :bpm="song.targetBpm"
        :now="leftPattern"
        @close="making = false"
      />
      <div class="now">
        <p v-if="next">
          <b>Next: {{ placedUnitText(next, next.isSpot ? next.place : undefined) }}, {{ describePass(next) }}.</b>
          {{ sentence(reasonText(next.because, next.meter)) }}
        </p>
        <p v-else>
          <b>All goals reached.</b>
        </p>
        <UButton v-if="nextLink" :to="nextLink" size="xl" icon="i-lucide-play"> Continue </UButton>
      </div>
      <section class="way" aria-label="The stairs">
        <LazySongStairs
          v-model:chosen="chosen"
          hydrate-on-idle
          :stairs="song.stairs"
          :parts="song.parts"
          :letters="letters"
        >
          <PartDetails
            v-if="chosenPart"
            :part="chosenPart"
            :flights="song.stairs.parts[chosen.place] ?? []"
            :song-id="song.id"
            :chosen="chosenStep"
          />
        </LazySongStairs>
        <p class="how">
          Each step is a tempo: filled = reached, half = played clean, framed = current. Left hand from the left, right
          hand from the right, both together on top. Choose a step or a part to see more about it. {{ '⌒' }} joins two
          parts at the seam, + plays them back to back.
        </p>
      </section>
      <div class="below">
        <SongForecast
          is-nameless
          :song="{
            id: song.id,
            title: song.title,
            targetDate: song.targetDate,
            targetShare: song.targetShare,
            minutesPerDay: song.forecast.minutesPerDay,
            forecast: song.forecast.forecast,
            cuts: song.forecast.cuts,
          }"
          :progress="song.stairs.progress"
          @changed="refresh()"
        />
        <p class="form">
          <b>Form</b> {{ (song.sections.length > 1 ? song.sections : song.form).join(' – ') }}. New material:
          {{ Math.round(100 * song.newMaterialShare.left) }} % of the left hand’s notes,
          {{ Math.round(100 * song.newMaterialShare.right) }} % of the right hand’s; the rest repeats.
        </p>
      </div>
      <details class="more">
        <summary>Practise any bars</summary>
        <OwnBars
          v-if="song.parts[0]"
          :part-id="song.parts[0].id"
          :first-bar="song.firstBar"
          :last-bar="song.lastBar"
          :meter="song.meter"
          :target-bpm="song.targetBpm"
        />
      </details>
      <details class="more">
        <summary>Assess a recording</summary>
        <AssessRecording :song-id="song.id" />
      </details>
      <details class="more">
        <summary>Its place in the day</summary>
        <p class="fields">
          <ChoiceField
            label="Today treats it as"
            :model-value="song.role"
            :choices="choicesOf(PRACTICE_ROLES, role => ROLE_WORDS[role])"
            @update:model-value="change({ role: $event })"
          />
        </p>
      </details>
      <details v-if="song.warnings.length" class="more">
        <summary>Not imported from the file ({{ song.warnings.length }})</summary>
        <ul class="warnings">
          <li v-for="warning in song.warnings.map(remarkText)" :key="warning">
            {{ warning }}
          </li>
        </ul>
      </details>
    </template>
  </div>
</template>

<style scoped>
.song {
  max-width: 80rem;
  margin: 0 auto;
  padding: calc(3 * var(--step));
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: start;
  gap: calc(2 * var(--step));
}
h1 {
  font-size: 2.25rem;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.facts,
.how {
  color: var(--ink-soft);
}
.how {
  max-width: 60rem;
  font-size: 0.95rem;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
.away {
  padding: calc(1.5 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  margin-top: calc(2 * var(--step));
}
.rename {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
  margin-top: calc(2 * var(--step));
}
.editions {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  margin-top: 0.25rem;
}
.editions a {
  border-bottom: 3px solid transparent;
}
.editions a[aria-current] {
  border-color: var(--together);
  font-weight: 600;
}
.now {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: var(--step) calc(3 * var(--step));
  margin-top: calc(2 * var(--step));
  padding: calc(1.5 * var(--step)) calc(2 * var(--step));
  background: var(--sheet);
  border-top: 3px solid var(--together);
}
.now p {
  flex: 1 1 24rem;
  font-size: 1.1rem;
}
.way {
  display: grid;
  gap: calc(2 * var(--step));
  margin: calc(2.5 * var(--step)) 0;
}
.below {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 24rem), 1fr));
  gap: calc(2 * var(--step)) calc(5 * var(--step));
  align-items: start;
  margin-bottom: calc(3 * var(--step));
}
.more {
  border-top: 1px solid var(--rule);
  padding: var(--step) 0;
}
.more:last-child {
  border-bottom: 1px solid var(--rule);
}
.more summary {
  cursor: pointer;
  font-weight: 600;
  padding: 0.25rem 0;
}
.more > :not(summary) {
  margin: var(--step) 0 calc(1.5 * var(--step));
}
.warnings {
  list-style: disc;
  padding-left: 1.5rem;
  color: var(--ink-soft);
}
.deleting {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
  padding: calc(2 * var(--step));
  background: var(--sheet);
  border-left: 4px solid var(--heard-wrong);
  margin-bottom: calc(2 * var(--step));
}
.deleting p {
  flex: 1 1 28rem;
}
</style>
