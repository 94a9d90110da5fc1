<script setup lang="ts">
import { choicesOf } from '~/utils/ui/choices'
import { useListening } from '~/composables/sound/useListening'
import { useWording } from '~/composables/ui/useWording'
import { keyName } from '#core/words/note-names'
import { plural } from '#core/words/amounts'
import { instrumentName } from '#core/words/instruments'
import { arrangementEnd, tempoAt, type Arrangement } from '#core/music/arrangement'
import { toDecimal, ZERO } from '#core/music/quarters'
import { instrumentOf } from '#core/sound/of-score'
import { renderTake } from '#core/sound/of-take'
import { VOICE_ASSIGNMENTS, assignedTo, type VoiceAssignment, type VoiceNotes } from '#core/music/voice'

/**
 * The parts or tracks of a file: what each is, where it plays, a sample to hear, and who plays it; and swapping the
 * hands.
 */
const props = defineProps<{ voices: readonly VoiceNotes[]; arrangement: Arrangement }>()
const emit = defineEmits<{ give: [number: number, plays: VoiceAssignment]; swap: [] }>()

const WORDS: Record<VoiceAssignment, string> = {
  right: 'the right hand',
  left: 'the left hand',
  both: 'both hands (split automatically)',
  role: 'another player',
  nobody: 'nobody',
}
const STRETCHES = 64
/** Keys of a piano, MIDI numbers. */
const KEYS = { lowest: 21, highest: 108 }
const { wording } = useWording()
const rows = computed(() =>
  props.voices.map(voice => {
    const end = toDecimal(arrangementEnd(props.arrangement))
    const name = (pitch: number) => keyName(pitch, props.arrangement.bars[0]!.fifths, true, wording.value.noteNames)
    const range =
      voice.notes === 0 || voice.percussion
        ? ''
        : voice.lowest === voice.highest
          ? name(voice.lowest)
          : `${name(voice.lowest)} to ${name(voice.highest)}`
    return {
      ...voice,
      facts: [instrumentName(voice), voice.notes === 0 ? 'silent' : plural(voice.notes, 'note'), range]
        .filter(Boolean)
        .join(' · '),
      choices: voice.percussion
        ? VOICE_ASSIGNMENTS.filter(one => one === 'role' || one === 'nobody')
        : VOICE_ASSIGNMENTS,
      picture: assignedTo(voice.strikes, end, STRETCHES).flatMap((one, index) =>
        one
          ? [
              {
                index,
                top: KEYS.highest - Math.min(KEYS.highest, one.high),
                height: Math.max(4, one.high - one.low + 2),
              },
            ]
          : [],
      ),
    }
  }),
)

const listening = useListening()
const heard = ref<number>()
function listen(voice: VoiceNotes) {
  if (listening.playing.value && heard.value === voice.number) {
    listening.stop()
    return
  }
  heard.value = voice.number
  const quarterMs = 60_000 / tempoAt(props.arrangement, ZERO)
  // From its first note, so that its rests are skipped.
  const sorted = [...voice.strikes].sort((a, b) => a.onset - b.onset)
  const from = sorted[0]?.onset ?? 0
  const notes = sorted.map(({ onset, length, pitch }) => ({
    pitch,
    onsetMs: (onset - from) * quarterMs,
    durationMs: length * quarterMs,
    velocity: 80,
  }))
  void listening.play(
    renderTake(
      { notes, pedals: [] },
      {
        bpm: 60_000 / quarterMs,
        voice: {
          id: `role ${voice.number}`,
          name: voice.name,
          instrument: instrumentOf(voice.program, voice.percussion),
        },
      },
    ),
  )
}
watch(
  () => props.voices.map(voice => voice.number).join(),
  () => {
    listening.stop()
  },
)
</script>

<template>
  <ul class="voices">
    <li v-for="voice in rows" :key="voice.number">
      <span class="what"
        ><b>{{ voice.name }}</b> <span class="facts">{{ voice.facts }}</span></span
      >
      <svg
        class="picture"
        :class="voice.plays"
        :viewBox="`0 0 ${STRETCHES} ${KEYS.highest - KEYS.lowest}`"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <rect
          v-for="one in voice.picture"
          :key="one.index"
          :x="one.index"
          :y="one.top"
          width="1.02"
          :height="one.height"
        />
      </svg>
      <UButton
        :icon="listening.playing.value && heard === voice.number ? 'i-lucide-square' : 'i-lucide-volume-2'"
        variant="ghost"
        color="neutral"
        :disabled="voice.percussion || voice.notes === 0"
        :aria-label="listening.playing.value && heard === voice.number ? 'Stop' : `Listen to ${voice.name} alone`"
        @click="listen(voice)"
      />
      <ChoiceField
        :label="`${voice.name} is played by`"
        :model-value="voice.plays"
        :choices="choicesOf(voice.choices, one => WORDS[one])"
        layout="unseen"
        @update:model-value="emit('give', voice.number, $event)"
      />
    </li>
  </ul>
  <p v-if="listening.problem.value" role="alert">
    {{ listening.problem.value }}
  </p>
  <UButton class="swap" variant="outline" color="neutral" icon="i-lucide-arrow-left-right" @click="emit('swap')">
    Swap hands
  </UButton>
</template>

<style scoped>
.swap {
  margin-top: calc(1.5 * var(--step));
  justify-self: start;
}
li {
  display: grid;
  grid-template-columns: minmax(10rem, 2fr) minmax(6rem, 3fr) 3rem 14rem;
  gap: var(--step) calc(2 * var(--step));
  align-items: center;
  padding: var(--step) 0;
  border-top: 1px solid var(--rule);
}
.what {
  display: grid;
  overflow-wrap: anywhere;
}
.facts {
  color: var(--ink-soft);
  font-size: 0.9em;
}
.picture {
  width: 100%;
  height: 2.5rem;
  background: var(--ground);
  border-radius: 0.25rem;
  fill: var(--ink-soft);
}
.picture.right {
  fill: var(--right-hand);
}
.picture.left {
  fill: var(--left-hand);
}
.picture.both {
  fill: var(--together);
}
.picture.nobody {
  opacity: 0.45;
}
@media (max-width: 44rem) {
  li {
    grid-template-columns: 1fr auto;
  }
  .picture {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  li > :last-child {
    grid-column: 1 / -1;
  }
}
</style>
