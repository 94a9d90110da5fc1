<script setup lang="ts">
import { choicesOf, type Choice } from '~/utils/ui/choices'
import { usePianoOutput } from '~/composables/keyboards/usePianoOutput'
import { useChosenFile } from '~/composables/ui/useChosenFile'
import type { Hands } from '#core/music/arrangement'
import type { ClickChoice } from '#core/music/click'
import { MAX_SECONDS } from '#core/audio/limits'
import type { Meter } from '#core/music/meter'
import { metersOf, STYLES } from '#core/patterns/styles'
import { dropOutText, octavesText, STYLE_NAMES } from '#core/words/sound'
import type { useOwnRecording } from '~/composables/stand/useOwnRecording'
import { MAX_RECORDING_BYTES } from '~/composables/stand/useOwnRecording'
import { MIX, type MixChannel, type PlayAlong, type SoundSettings, DUET_OCTAVES } from '#shared/utils/sound'

/**
 * What plays along, how the click sounds, and how loud each of them is: the panel's inside, only loaded when it is
 * opened.
 */
const props = defineProps<{
  along: PlayAlong
  sound: SoundSettings
  hands: Hands
  meter: Meter
  /** Names of the other roles of the song. */
  roles: readonly string[]
  recording: ReturnType<typeof useOwnRecording>
}>()
const { state: fileState, name: fileName, problem: fileProblem, nudgeMs, isOn: isFileOn, isKept } = props.recording
const { chosen: pianoOutput, all: outputs, look, choose: choosePiano } = usePianoOutput()
onMounted(look)
const input = useTemplateRef('input')
const { open } = useChosenFile({ input, zone: undefined }, 'audio/*', file => props.recording.choose(file))
const emit = defineEmits<{ along: [change: Partial<PlayAlong>]; sound: [change: Partial<SoundSettings>] }>()

const TURNS: Choice<PlayAlong['turns']>[] = [
  { value: 'off', label: 'no' },
  { value: 'two-bars', label: 'two bars, then you' },
  { value: 'whole', label: 'all of it, then you' },
]
const CLICKS: Choice<ClickChoice['on']>[] = [
  { value: 'beats', label: 'Every beat' },
  { value: 'backbeats', label: 'On 2 and 4' },
  { value: 'bars', label: 'Bar starts' },
  { value: 'none', label: 'Silent, only seen' },
]
const PARTS: Choice<ClickChoice['within']>[] = [
  { value: 'auto', label: 'As the tempo needs' },
  { value: 1, label: 'Beats alone' },
  { value: 2, label: 'In two' },
  { value: 3, label: 'In three' },
  { value: 4, label: 'In four' },
]
const DROPS: ClickChoice['dropOut'][] = [
  undefined,
  { sounding: 3, silent: 1 },
  { sounding: 2, silent: 2 },
  { sounding: 4, silent: 4 },
]
const NAMES: Record<MixChannel, string> = {
  click: 'Click',
  piano: "Program's piano",
  guide: 'Tune',
  roles: 'Other players',
  drums: 'Drums',
  bass: 'Bass',
  chords: 'Chords',
  file: 'Recording',
  keys: 'Your keys',
}

const meterName = computed(() => `${props.meter.beats}/${props.meter.beatType}`)
/** Styles that have a pattern in this meter. */
const styles = computed(() => STYLES.filter(style => metersOf(style).includes(meterName.value)))
const otherName = computed(() =>
  props.hands === 'right' ? 'Left hand' : props.hands === 'left' ? 'Right hand' : 'Other hand',
)
/** Only what may sound now stands in the mixer. */
const channels = computed((): MixChannel[] => [
  'click',
  'piano',
  ...(props.along.guide ? ['guide' as const] : []),
  ...(props.along.roles && props.roles.length > 0 ? ['roles' as const] : []),
  ...(props.along.band ? ['drums' as const, 'bass' as const, 'chords' as const] : []),
  ...(fileState.value === 'ready' ? ['file' as const] : []),
  'keys',
])
const levelOf = (channel: MixChannel) => props.sound.mix[channel] ?? MIX[channel]
const mix = (channel: MixChannel, change: Partial<ReturnType<typeof levelOf>>) =>
  emit('sound', { mix: { ...props.sound.mix, [channel]: { ...levelOf(channel), ...change } } })
const click = (change: Partial<ClickChoice>) => emit('sound', { click: { ...props.sound.click, ...change } })
const dropIndex = computed(() =>
  Math.max(
    0,
    DROPS.findIndex(
      one => one?.sounding === props.sound.click.dropOut?.sounding && one?.silent === props.sound.click.dropOut?.silent,
    ),
  ),
)
</script>

<template>
  <div class="sound">
    <section aria-labelledby="plays-along">
      <h2 id="plays-along">Plays along</h2>
      <div class="row">
        <USwitch
          :model-value="along.otherHand"
          :label="otherName"
          :disabled="hands === 'both'"
          @update:model-value="emit('along', { otherHand: $event })"
        />
        <ChoiceField
          v-if="along.otherHand && hands !== 'both'"
          label="Where the other hand plays"
          :model-value="along.octaves"
          :choices="choicesOf(DUET_OCTAVES, octaves => octavesText(octaves))"
          layout="unseen"
          @update:model-value="emit('along', { octaves: $event })"
        />
      </div>
      <USwitch
        :model-value="along.guide"
        label="The tune, to sing to"
        @update:model-value="emit('along', { guide: $event })"
      />
      <USwitch
        v-if="roles.length > 0"
        :model-value="along.roles"
        :label="roles.length === 1 ? roles[0] : `Other players: ${roles.join(', ')}`"
        @update:model-value="emit('along', { roles: $event })"
      />
      <ChoiceField
        label="Rhythm section"
        :model-value="along.band ?? ''"
        :choices="[{ value: '', label: 'none' }, ...choicesOf(styles, style => STYLE_NAMES[style])]"
        layout="row"
        @update:model-value="emit('along', { band: ($event || null) as PlayAlong['band'] })"
      />
      <ChoiceField
        label="Program goes first"
        :model-value="along.turns"
        :choices="TURNS"
        layout="row"
        @update:model-value="emit('along', { turns: $event })"
      />
      <div class="row">
        <USwitch
          v-if="fileState === 'ready'"
          :model-value="isFileOn"
          :label="fileName"
          @update:model-value="recording.turnOn($event)"
        />
        <span v-else-if="fileState === 'reading'">Finding the bars in {{ fileName }} …</span>
        <span v-else>A recording of your own</span>
        <span class="acts">
          <UButton
            v-if="fileState === 'ready'"
            size="sm"
            variant="ghost"
            color="neutral"
            icon="i-lucide-x"
            aria-label="Remove the recording"
            @click="recording.remove()"
          />
          <UButton v-else variant="outline" color="neutral" :disabled="fileState === 'reading'" @click="open"
            >Choose</UButton
          >
        </span>
        <input ref="input" type="file" class="sr-only" tabindex="-1" aria-label="Recording to play along with" />
      </div>
      <div v-if="fileState === 'ready'" class="row">
        <span
          >Sounds <span class="figure">{{ Math.abs(nudgeMs) }} ms {{ nudgeMs < 0 ? 'earlier' : 'later' }}</span> than
          found</span
        >
        <span class="acts">
          <UButton variant="outline" color="neutral" aria-label="Sound 10 ms earlier" @click="recording.nudge(-10)"
            >−</UButton
          >
          <UButton variant="outline" color="neutral" aria-label="Sound 10 ms later" @click="recording.nudge(10)"
            >+</UButton
          >
        </span>
      </div>
      <p v-if="fileState !== 'reading'" class="soft">
        {{
          fileState === 'none'
            ? `Of the whole song, up to ${MAX_SECONDS / 60} minutes and ${MAX_RECORDING_BYTES / 1e6} MB. It stays in this browser.`
            : isKept
              ? 'It stays in this browser.'
              : 'This browser could not keep it: it is there until you leave the page.'
        }}
      </p>
      <p v-if="fileProblem" role="alert">
        {{ fileProblem }}
      </p>
      <h2>Click</h2>
      <ChoiceField
        label="Clicks"
        :model-value="sound.click.on"
        :choices="CLICKS"
        layout="row"
        @update:model-value="click({ on: $event })"
      />
      <ChoiceField
        v-if="sound.click.on === 'beats'"
        label="Beats divided"
        :model-value="sound.click.within"
        :choices="PARTS"
        layout="row"
        @update:model-value="click({ within: $event })"
      />
      <ChoiceField
        v-if="sound.click.on !== 'none'"
        label="Drops out"
        :model-value="dropIndex"
        :choices="DROPS.map((drop, index) => ({ value: index, label: drop ? dropOutText(drop) : 'never' }))"
        layout="row"
        @update:model-value="click({ dropOut: DROPS[$event] })"
      />
    </section>
    <section aria-labelledby="volumes">
      <h2 id="volumes">How loud</h2>
      <div v-for="channel in channels" :key="channel" class="level" :class="{ muted: levelOf(channel).muted }">
        <span aria-hidden="true">{{ NAMES[channel] }}</span>
        <LevelSlider
          :label="NAMES[channel]"
          :min="0"
          :max="1"
          :step="0.05"
          :model-value="levelOf(channel).volume"
          @update:model-value="mix(channel, { volume: $event, muted: false })"
        />
        <UButton
          variant="ghost"
          color="neutral"
          :icon="levelOf(channel).muted ? 'i-lucide-volume-x' : 'i-lucide-volume-2'"
          :aria-pressed="levelOf(channel).muted"
          :aria-label="`Mute: ${NAMES[channel]}`"
          @click="mix(channel, { muted: !levelOf(channel).muted })"
        />
      </div>
      <ChoiceField
        v-if="outputs.length > 0"
        label="Program's piano on"
        :model-value="pianoOutput"
        :choices="[{ value: '', label: 'this computer' }, ...choicesOf(outputs.map(output => output.name ?? ''))]"
        layout="row"
        @update:model-value="choosePiano($event)"
      />
      <p class="soft">With headphones, keep it as low as you can still hear it well.</p>
    </section>
  </div>
</template>

<style scoped>
.sound {
  --control-width: 12.5rem;
  padding: calc(2 * var(--step));
  display: grid;
  grid-template-columns: minmax(17rem, 1fr) minmax(16rem, 1fr);
  gap: calc(3 * var(--step));
  max-height: calc(100dvh - 5rem);
  max-width: min(46rem, calc(100vw - 1rem));
  overflow-y: auto;
}
section {
  display: grid;
  gap: var(--step);
  align-content: start;
}
h2 {
  font-size: 1rem;
  font-weight: 700;
}
h2:not(:first-child) {
  margin-top: calc(1.5 * var(--step));
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: var(--step);
  min-height: 2.75rem;
}
.level {
  display: grid;
  grid-template-columns: 8rem minmax(6rem, 1fr) auto;
  align-items: center;
  gap: var(--step);
}
.muted > span {
  color: var(--ink-soft);
  text-decoration: line-through;
}
@media (max-width: 46rem) {
  .sound {
    grid-template-columns: 1fr;
  }
}
</style>
