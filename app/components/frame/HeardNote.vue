<script setup lang="ts">
import { useRecognition } from '~/composables/keyboards/useRecognition'
import { useRecordedPhrase } from '~/composables/keyboards/useRecordedPhrase'
import { openChannel, useOneListener, useStandClaims } from '~/composables/stand/useOneListener'
import { useSettingsStore } from '~/stores/settings'
import { writeTake } from '#core/formats/midi/write-take'
import { mayHearKeyboards } from '~/keyboards/web-midi'
import { stretchText } from '#core/words/places'
import { heardText } from '#core/words/sound'

/** What was played while nothing was practised, offered for the book. Seen only when there is something to offer. */
const settings = useSettingsStore()
const { loggedIn } = useUserSession()
/**
 * Of several pages of the program the one that was looked at last hears; a Stand that was looked at later hears for
 * itself.
 */
const isMine = ref(true)
const { claim } = useOneListener(
  () => 'Half Step',
  {
    taken: () => {
      isMine.value = false
    },
    mine: () => {
      isMine.value = true
    },
  },
  { channel: openChannel('half-step-hearing') },
)
useStandClaims(() => {
  isMine.value = false
})
const { offers, keyCount, start, keep, dismiss, lastMinutes } = useRecognition(() => isMine.value)
const kept = ref('')

onMounted(() => {
  if (!loggedIn.value) return
  void settings.load()
  // The browser's permission is asked for only once the player has come to play.
  void mayHearKeyboards().then(may => {
    if (!may) return
    claim()
    start()
  })
})

const rows = computed(() =>
  offers.value.map(offer => ({
    offer,
    words: heardText({ ...offer, bars: stretchText(offer.place), times: offer.passes.length }),
  })),
)

function keepIt(offer: (typeof offers.value)[number]) {
  keep(offer)
  kept.value = 'Kept in the Logbook.'
}

async function makeSong() {
  useRecordedPhrase().value = { name: 'What I played.mid', bytes: writeTake(lastMinutes(), 60) }
  await navigateTo('/songs/add?from=played')
}
</script>

<template>
  <aside v-if="rows.length > 0 || kept" class="heard" aria-label="What you played">
    <div role="status" aria-live="polite">
      <p v-if="kept && rows.length === 0">
        {{ kept }}
      </p>
      <ul v-else>
        <li v-for="{ offer, words } in rows" :key="offer.id">
          <p>{{ words }}</p>
          <div class="acts">
            <UButton size="sm" icon="i-lucide-notebook-pen" @click="keepIt(offer)"> Keep </UButton>
            <UButton size="sm" variant="ghost" color="neutral" @click="dismiss(offer)"> Not this </UButton>
          </div>
        </li>
      </ul>
    </div>
    <div class="acts">
      <Tip v-if="keyCount > 0 && rows.length > 0" text="All that was played in the last ten minutes"
        ><UButton size="sm" variant="ghost" color="neutral" @click="makeSong">
          Make a song of what I played
        </UButton></Tip
      >
      <UButton
        v-if="kept && rows.length === 0"
        size="sm"
        variant="ghost"
        color="neutral"
        icon="i-lucide-x"
        aria-label="Close"
        @click="kept = ''"
      />
    </div>
  </aside>
</template>

<style scoped>
.heard {
  position: fixed;
  right: calc(2 * var(--step));
  bottom: calc(2 * var(--step));
  z-index: 20;
  max-width: min(26rem, calc(100vw - 2rem));
  padding: calc(1.5 * var(--step)) calc(2 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-top: 5px solid var(--together);
  box-shadow: 0 0.4rem 1.4rem rgb(0 0 0 / 0.18);
  display: grid;
  gap: var(--step);
}
ul {
  display: grid;
  gap: calc(1.5 * var(--step));
  list-style: none;
  padding: 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
  margin-top: 0.3rem;
}
</style>
