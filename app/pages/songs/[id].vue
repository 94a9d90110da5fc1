<script setup lang="ts">
const route = useRoute()
const { data: song, error, refresh } = await useFetch(() => `/api/songs/${String(route.params.id)}`)
useHead({ title: () => `${song.value?.title ?? 'Song'} · Half Step` })

const renaming = ref(false)
const title = ref('')
const composer = ref('')
const problem = ref('')

const edition = ref('')
const copying = ref(false)

async function copy() {
  problem.value = ''
  try {
    const made = await $fetch<{ id: string }>(`/api/songs/${song.value!.id}/versions`, { method: 'POST', body: { edition: edition.value } })
    await navigateTo(`/workbench/${made.id}`)
  }
  catch (error) { problem.value = messageOf(error) }
}

async function change(what: { archived?: boolean, title?: string, composer?: string, edition?: string }) {
  problem.value = ''
  try {
    await $fetch(`/api/songs/${song.value!.id}`, { method: 'PATCH', body: what })
    await refresh()
    renaming.value = false
  }
  catch (error) { problem.value = messageOf(error) }
}

function rename() {
  title.value = song.value!.title
  composer.value = song.value!.composer
  edition.value = song.value!.edition
  renaming.value = true
}
</script>

<template>
  <div class="song">
    <p v-if="error">
      {{ messageOf(error) }} <NuxtLink to="/songs">Back to the songs</NuxtLink>
    </p>
    <template v-else-if="song">
      <header>
        <div>
          <h1>{{ song.title }}</h1>
          <p class="facts figure">
            {{ song.composer }}<span v-if="song.composer"> · </span>{{ song.meter.beats }}/{{ song.meter.beatType }} · {{ song.bars }} bars · {{ keyName(song.fifths) }}
          </p>
        </div>
        <div class="acts">
          <UButton
            :to="`/workbench/${song.id}`"
            icon="i-lucide-pencil-ruler"
          >
            Workbench
          </UButton>
          <UButton
            variant="ghost"
            color="neutral"
            icon="i-lucide-type"
            @click="rename"
          >
            Rename
          </UButton>
          <UButton
            variant="ghost"
            color="neutral"
            icon="i-lucide-copy"
            @click="edition = ''; copying = true"
          >
            Other version
          </UButton>
          <UButton
            v-if="song.archived"
            variant="outline"
            @click="change({ archived: false })"
          >
            Take back
          </UButton>
          <UButton
            v-else
            variant="ghost"
            color="neutral"
            icon="i-lucide-archive"
            @click="change({ archived: true })"
          >
            Put away
          </UButton>
        </div>
      </header>
      <p
        v-if="song.archived"
        role="status"
        class="away"
      >
        This song is put away. Its passes stay in the Logbook; “Take back” undoes it.
      </p>
      <form
        v-if="renaming"
        class="rename fields"
        @submit.prevent="change({ title, composer, ...(song.versions.length > 1 ? { edition } : {}) })"
      >
        <label>Title <input
          v-model="title"
          maxlength="300"
          required
        ></label>
        <label>By <input
          v-model="composer"
          maxlength="300"
        ></label>
        <label v-if="song.versions.length > 1">This version <input
          v-model="edition"
          maxlength="60"
        ></label>
        <UButton type="submit">
          Save
        </UButton>
        <UButton
          variant="ghost"
          @click="renaming = false"
        >
          Cancel
        </UButton>
      </form>
      <p
        v-if="problem"
        role="alert"
        class="problem"
      >
        {{ problem }}
      </p>
      <nav
        v-if="song.versions.length > 1"
        class="versions"
        aria-label="Versions of the song"
      >
        <NuxtLink
          v-for="version in song.versions"
          :key="version.id"
          :to="`/songs/${version.id}`"
          :aria-current="version.id === song.id ? 'page' : undefined"
        >
          {{ version.edition || 'first version' }}
        </NuxtLink>
      </nav>
      <form
        v-if="copying"
        class="rename fields"
        @submit.prevent="copy"
      >
        <label>The other version is called <input
          v-model="edition"
          maxlength="60"
          placeholder="simple"
          required
        ></label>
        <UButton type="submit">
          Copy and change it
        </UButton>
        <UButton
          variant="outline"
          :to="{ path: '/songs/add', query: { versionOf: song.id, edition: edition || undefined } }"
        >
          Bring it from a file
        </UButton>
        <UButton
          variant="ghost"
          @click="copying = false"
        >
          Cancel
        </UButton>
      </form>
      <p class="how">
        Each part is two flights of stairs, one for each hand, that meet at the landing where the hands play together. A tread is a tempo; a filled one has been played clean. Choose any tread to practise there.
      </p>
      <p class="form">
        <b>Form</b> {{ song.form.join(' – ') }}. New to learn: {{ Math.round(100 * song.newMaterialShare.left) }} % of the left hand's notes, {{ Math.round(100 * song.newMaterialShare.right) }} % of the right hand's; the rest comes back.
      </p>
      <ol class="parts">
        <li
          v-for="part in song.parts"
          :key="part.id"
        >
          <PartFlights
            :part="part"
            :song-id="song.id"
          />
        </li>
      </ol>
      <AssessRecording :song-id="song.id" />
      <details
        v-if="song.warnings.length"
        class="warnings"
      >
        <summary>What the file holds that is not used ({{ song.warnings.length }})</summary>
        <ul>
          <li
            v-for="warning in song.warnings"
            :key="warning"
          >
            {{ warning }}
          </li>
        </ul>
      </details>
    </template>
  </div>
</template>

<style scoped>
.song { max-width: 76rem; margin: 0 auto; padding: calc(4 * var(--step)) calc(3 * var(--step)); }
header { display: flex; flex-wrap: wrap; justify-content: space-between; align-items: start; gap: calc(2 * var(--step)); }
h1 { font-size: 2.25rem; line-height: 1.25; }
.facts, .how { color: var(--ink-soft); }
.form { margin-bottom: calc(2 * var(--step)); max-width: 60rem; }
.facts { margin-top: var(--step); }
.how { max-width: 44rem; margin: calc(2 * var(--step)) 0 calc(3 * var(--step)); }
.acts { display: flex; flex-wrap: wrap; gap: var(--step); }
.away { padding: calc(1.5 * var(--step)); background: var(--sheet); border: 1px solid var(--rule); border-radius: 0.5rem; margin-top: calc(2 * var(--step)); }
.rename { display: flex; flex-wrap: wrap; gap: calc(2 * var(--step)); align-items: center; margin-top: calc(2 * var(--step)); }

.versions { display: flex; flex-wrap: wrap; gap: calc(2 * var(--step)); margin-top: var(--step); }
.versions a { border-bottom: 3px solid transparent; }
.versions a[aria-current] { border-color: var(--together); font-weight: 600; }
.parts { display: grid; gap: calc(2 * var(--step)); grid-template-columns: repeat(auto-fill, minmax(min(100%, 34rem), 1fr)); }
.warnings { margin-top: calc(4 * var(--step)); color: var(--ink-soft); }
.warnings ul { list-style: disc; padding-left: 1.5rem; }
</style>
