<script setup lang="ts">
const route = useRoute()
const { data: song, error } = await useFetch(`/api/songs/${String(route.params.id)}`)
useHead({ title: () => `${song.value?.title ?? 'Song'} · Half Step` })
const removing = ref(false)

async function putAway() {
  await $fetch(`/api/songs/${song.value!.id}`, { method: 'DELETE' })
  await navigateTo('/songs')
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
        <UButton
          v-if="!removing"
          variant="ghost"
          color="neutral"
          icon="i-lucide-archive"
          @click="removing = true"
        >
          Put away
        </UButton>
        <span
          v-else
          class="sure"
        >
          Put this song away? Its passes stay in the Logbook.
          <UButton
            size="sm"
            @click="putAway"
          >Put away</UButton>
          <UButton
            size="sm"
            variant="ghost"
            @click="removing = false"
          >Keep</UButton>
        </span>
      </header>
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
          <PartFlights :part="part" />
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
.sure { display: flex; align-items: center; gap: var(--step); flex-wrap: wrap; }
.parts { display: grid; gap: calc(2 * var(--step)); grid-template-columns: repeat(auto-fill, minmax(min(100%, 34rem), 1fr)); }
.warnings { margin-top: calc(4 * var(--step)); color: var(--ink-soft); }
.warnings ul { list-style: disc; padding-left: 1.5rem; }
</style>
