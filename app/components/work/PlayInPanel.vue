<script setup lang="ts">
import type { Change } from '#core/edit/change'
import { writeMusicXml } from '#core/formats/musicxml/write'
import { barAt, tempoAt, type Arrangement } from '#core/music/arrangement'
import { add, ZERO, type Quarters } from '#core/music/quarters'
import { notatePhrase } from '#core/notate/phrase'
import type { Guess } from '#core/music/guess'
import { guessText } from '#core/words/remarks'
import type { PlayedPhrase } from '~/components/work/PhraseRecorder.vue'

type Notes = Extract<Change, { kind: 'append' }>['notes']

/** Records a phrase, shows how it was written down, and puts it into the song as a part once it is accepted. */
const props = defineProps<{ arrangement: Arrangement; count: number }>()
const emit = defineEmits<{ accept: [notes: Notes, name: string] }>()

const last = computed(() => props.arrangement.bars.at(-1)!)
const beat = computed(() => last.value.meter)
const bpm = computed(() => Math.round(tempoAt(props.arrangement, ZERO) / (4 / beat.value.beatType)))
const phrase = shallowRef<PlayedPhrase>()
const written = shallowRef<{ arrangement: Arrangement; guesses: Guess[]; musicXml: string; id: string }>()
const name = ref('')
let recorded = 0

function review(played: PlayedPhrase) {
  phrase.value = played
  const found = notatePhrase(played.take, {
    title: 'Phrase',
    meter: beat.value,
    fifths: barAt(props.arrangement, last.value.start).fifths,
    hands: played.hands,
    clickBpm: played.clickBpm,
  })
  if (!found) return
  written.value = { ...found, musicXml: writeMusicXml(found.arrangement).musicXml, id: `phrase-${++recorded}` }
  name.value ||= `Part ${props.count + 1}`
}

function accept() {
  const { arrangement } = written.value!
  // A pickup of its own stands at the end of its first whole bar here.
  const { offset } = arrangement.bars[0]!
  const shift = (at: Quarters) => add(at, offset)
  emit(
    'accept',
    arrangement.notes.map(note => ({
      hand: note.hand,
      onset: shift(note.onset),
      duration: note.duration,
      pitch: note.pitch,
    })),
    name.value.trim() || `Part ${props.count + 1}`,
  )
  written.value = undefined
  name.value = ''
}
</script>

<template>
  <div class="play fields">
    <PhraseRecorder :meter="beat" fixed-meter :bpm="bpm" @played="review" />
    <div v-if="written" class="review">
      <h3>What you played</h3>
      <EngravedBars
        :music-xml="written.musicXml"
        :score-id="written.id"
        :first-bar="0"
        :last-bar="written.arrangement.bars.length - 1"
        is-unmarked
        label="The phrase as notated"
      />
      <ul class="soft">
        <li v-for="guess in written.guesses" :key="`${guess.about} ${guess.kind}`">
          {{ guessText(guess) }}
        </li>
      </ul>
      <div class="row">
        <TextField v-model="name" label="Name" maxlength="120" />
        <UButton @click="accept"> Add as a part </UButton>
        <UButton variant="ghost" color="neutral" @click="written = undefined"> Record again </UButton>
      </div>
    </div>
  </div>
</template>

<style scoped>
.play,
.review {
  display: grid;
  gap: calc(1.5 * var(--step));
}
.review {
  border-top: 1px solid var(--rule);
  padding-top: calc(1.5 * var(--step));
}
h3 {
  font-weight: 700;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
}
</style>
