<script setup lang="ts">
import { choicesOf } from '~/utils/ui/choices'
import { usePatterns } from '~/composables/songs/usePatterns'
import { SHOWN_BARS } from '~/utils/notation/shownBars'
import { plural } from '#core/words/amounts'
import { signatureText } from '#core/words/note-names'
import { guessText, remarkText } from '#core/words/remarks'
import { withBarLine } from '#core/formats/midi/bar-line'
import { handPatternNamed } from '#core/patterns/hand-patterns'
import type { SongChoices } from '#core/formats/read-score'
import { tempoAt } from '#core/music/arrangement'
import { otherHand } from '#core/music/voice'
import { toDecimal, ZERO } from '#core/music/quarters'
import type { Preview } from '~/workers/reader'

/** Check the import of a song that comes in, and what can be decided otherwise before it is saved. */
const props = defineProps<{ preview: Preview; version: number; playedIn?: boolean }>()
const choices = defineModel<SongChoices>({ required: true })

const change = (what: Partial<SongChoices>) => {
  choices.value = { ...choices.value, ...what }
}

const arrangement = computed(() => props.preview.arrangement)
const lastBar = computed(() => Math.min(arrangement.value.bars.length, SHOWN_BARS) - 1)
const first = computed(() => arrangement.value.bars[0]!)
const whole = computed(() => arrangement.value.bars[1] ?? first.value)
const isWritten = computed(() => props.preview.format === 'MusicXML' && !props.playedIn)
const pickup = computed(() => (toDecimal(first.value.offset) > 0 ? toDecimal(first.value.length) : 0))
const swing = computed(() => arrangement.value.swings?.[0])
const counts = computed(() => ({
  right: arrangement.value.notes.filter(note => note.hand === 'right').length,
  left: arrangement.value.notes.filter(note => note.hand === 'left').length,
}))
const beside = computed(() =>
  arrangement.value.others.filter(role => !role.silent).map(role => role.name || 'another part'),
)
const bpm = computed(() => Math.round(tempoAt(arrangement.value, ZERO)))
const METERS = ['2/4', '3/4', '4/4', '5/4', '2/2', '3/8', '6/8', '9/8', '12/8']
const meter = computed(() => `${whole.value.meter.beats}/${whole.value.meter.beatType}`)
const KEYS = Array.from({ length: 15 }, (_, index) => index - 7)

function changeMeter(text: string) {
  const [beats, beatType] = text.split('/').map(Number)
  change({ meter: { beats: beats!, beatType: beatType! } })
}

function changeBpm(text: string) {
  const value = Number(text)
  if (value >= 5 && value <= 1000) change({ bpm: value })
}

/** Voices of one hand change hands; what both hands share has no other players, and is turned round as a whole. */
function swapHands() {
  const own = props.preview.voices.flatMap(({ number, plays }) =>
    otherHand(plays) === plays ? [] : [[number, otherHand(plays)] as const],
  )
  if (own.length > 0) change({ voices: { ...choices.value.voices, ...Object.fromEntries(own) } })
  else change({ swapHands: choices.value.swapHands ? undefined : true })
}
/** What each hand may play to a chart. */
const patternsFor = (hand: 'left' | 'right') => usePatterns(() => ({ hand, meter: whole.value.meter, bpm: bpm.value }))
const [leftPatterns, rightPatterns] = [patternsFor('left'), patternsFor('right')]
const valueOf = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <section class="preview" aria-labelledby="understood">
    <h2 id="understood">Check the import</h2>
    <p class="facts figure">
      {{ preview.format }} · {{ arrangement.bars.length }} bars · right hand {{ counts.right }} notes, left hand
      {{ counts.left }}{{ arrangement.pedals.length ? ' · pedal' : ''
      }}{{ beside.length ? ` · beside the hands: ${beside.join(', ')}` : '' }}
    </p>
    <div class="paper" role="region" aria-label="How it begins" tabindex="0">
      <BarLines
        v-if="preview.played"
        :arrangement="arrangement"
        :music-xml="preview.musicXml"
        :score-id="`preview-${version}`"
        :last-bar="lastBar"
        @move="at => change(withBarLine(preview, choices, at))"
      />
      <EngravedBars
        v-else
        :music-xml="preview.musicXml"
        :score-id="`preview-${version}`"
        :first-bar="0"
        :last-bar="lastBar"
        is-unmarked
        label="The first bars"
      />
    </div>

    <RecordingBeats
      v-if="preview.played"
      :played="preview.played"
      :arrangement="arrangement"
      :choices="choices"
      @change="change($event)"
    />
    <div class="columns">
      <div>
        <h3>Please check</h3>
        <ul v-if="preview.guesses.length" class="guesses">
          <li v-for="guess in preview.guesses" :key="`${guess.about} ${guess.kind}`">
            <b>{{ guess.about }}</b> {{ guessText(guess) }}
          </li>
        </ul>
        <p v-else>Nothing had to be guessed.</p>
        <details v-if="arrangement.warnings.length">
          <summary>Not imported from the file ({{ arrangement.warnings.length }})</summary>
          <ul class="guesses">
            <li v-for="warning in arrangement.warnings.map(remarkText)" :key="warning">
              {{ warning }}
            </li>
          </ul>
        </details>
        <p class="parts">
          <b>{{ plural(preview.parts.length, 'part') }}</b> {{ preview.parts.slice(0, 4).join('; ')
          }}{{ preview.parts.length > 4 ? ' …' : '' }}. You can change them on the Workbench.
        </p>
      </div>
      <div class="decided">
        <TextField
          layout="row"
          label="Title"
          :model-value="choices.title ?? arrangement.title"
          maxlength="300"
          @change="change({ title: valueOf($event).trim() || undefined })"
        />
        <TextField
          layout="row"
          label="Composer"
          :model-value="choices.composer ?? arrangement.composer"
          maxlength="300"
          @change="change({ composer: valueOf($event) })"
        />
        <template v-if="!isWritten">
          <ChoiceField
            layout="row"
            label="Meter"
            :model-value="meter"
            :choices="choicesOf([...new Set([meter, ...METERS])])"
            @update:model-value="changeMeter($event)"
          />
          <ChoiceField
            layout="row"
            label="Key"
            :model-value="first.fifths"
            :choices="choicesOf(KEYS, fifths => signatureText(fifths))"
            @update:model-value="change({ fifths: $event })"
          />
          <ChoiceField
            v-if="preview.format !== 'chord chart'"
            layout="row"
            label="Pickup"
            :model-value="pickup"
            :choices="
              choicesOf(
                [...new Set([pickup, 0, 0.5, 1, 1.5, 2, 3])].sort((a, b) => a - b),
                one => (one === 0 ? 'none' : `${one} quarter ${one === 1 ? 'note' : 'notes'}`),
              )
            "
            @update:model-value="change({ pickupQuarters: $event })"
          />
          <TextField
            layout="row"
            label="Quarter notes a minute"
            type="number"
            min="5"
            max="1000"
            :model-value="bpm"
            @change="changeBpm(valueOf($event))"
          />
          <ChoiceField
            v-if="preview.format === 'chord chart' && preview.guesses.some(guess => guess.about === 'bars')"
            layout="row"
            label="Each chord lasts"
            :model-value="choices.barsPerChord ?? 1"
            :choices="[
              { value: 1, label: 'a bar' },
              { value: 0.5, label: 'half a bar' },
              { value: 0.25, label: 'a quarter of a bar' },
            ]"
            @update:model-value="change({ barsPerChord: $event })"
          />
          <PatternChoice
            layout="row"
            v-for="hand in preview.format === 'chord chart' ? (['left', 'right'] as const) : []"
            :key="hand"
            :model-value="choices.patterns?.[hand] ?? handPatternNamed(hand === 'left' ? 'held-root' : 'block-held')"
            :offered="hand === 'left' ? leftPatterns.offered.value : rightPatterns.offered.value"
            :label="hand === 'left' ? 'Left hand' : 'Right hand'"
            @update:model-value="change({ patterns: { ...choices.patterns, [hand]: $event } })"
          />
          <USwitch
            v-if="swing || choices.swing === false"
            :model-value="choices.swing !== false"
            label="Swing: late offbeats written as even eighths"
            @update:model-value="change({ swing: $event ? undefined : false })"
          />
        </template>
      </div>
    </div>
    <section class="who" aria-labelledby="who-plays">
      <h3 id="who-plays">
        {{ preview.voices.length > 0 ? 'Who plays what' : 'Hands' }}
      </h3>
      <VoicePanel
        :voices="preview.voices"
        :arrangement="arrangement"
        @give="(number, plays) => change({ voices: { ...choices.voices, [number]: plays } })"
        @swap="swapHands"
      />
    </section>
  </section>
</template>

<style scoped>
.preview {
  margin-top: calc(3 * var(--step));
}
h2 {
  font-weight: 700;
  font-size: 1.25rem;
}
h3 {
  font-weight: 700;
  margin-bottom: var(--step);
}
.facts,
.parts {
  color: var(--ink-soft);
}
.paper {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: var(--step) calc(2 * var(--step));
  margin: calc(1.5 * var(--step)) 0 calc(3 * var(--step));
  max-height: 26rem;
  overflow: auto;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: calc(4 * var(--step));
}
.guesses {
  display: grid;
  gap: var(--step);
  margin-bottom: calc(2 * var(--step));
}
.guesses b {
  text-transform: capitalize;
  margin-right: 0.35rem;
}

.decided {
  --control-width: min(16rem, 50vw);
  display: grid;
  gap: calc(1.5 * var(--step));
  align-content: start;
}
.who {
  margin-top: calc(3 * var(--step));
}
@media (max-width: 52rem) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
