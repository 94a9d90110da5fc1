<script setup lang="ts">
import { usePianoOutput } from '~/composables/keyboards/usePianoOutput'
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
function chosen(event: Event) {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (file) void props.recording.choose(file)
}
const emit = defineEmits<{ along: [change: Partial<PlayAlong>]; sound: [change: Partial<SoundSettings>] }>()

const TURNS: [PlayAlong['turns'], string][] = [
  ['off', 'no'],
  ['two-bars', 'two bars, then you'],
  ['whole', 'all of it, then you'],
]
const CLICKS: [ClickChoice['on'], string][] = [
  ['beats', 'Every beat'],
  ['backbeats', 'On 2 and 4'],
  ['bars', 'Bar starts'],
  ['none', 'Silent, only seen'],
]
const PARTS: [ClickChoice['within'], string][] = [
  ['auto', 'As the tempo needs'],
  [1, 'Beats alone'],
  [2, 'In two'],
  [3, 'In three'],
  [4, 'In four'],
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
        <select
          v-if="along.otherHand && hands !== 'both'"
          :value="along.octaves"
          aria-label="Where the other hand plays"
          @change="
            emit('along', { octaves: Number(($event.target as HTMLSelectElement).value) as PlayAlong['octaves'] })
          "
        >
          <option v-for="octaves in DUET_OCTAVES" :key="octaves" :value="octaves">
            {{ octavesText(octaves) }}
          </option>
        </select>
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
      <label class="row"
        >Rhythm section
        <select
          :value="along.band ?? ''"
          @change="emit('along', { band: (($event.target as HTMLSelectElement).value || null) as PlayAlong['band'] })"
        >
          <option value="">none</option>
          <option v-for="style in styles" :key="style" :value="style">{{ STYLE_NAMES[style] }}</option>
        </select></label
      >
      <label class="row"
        >Program goes first
        <select
          :value="along.turns"
          @change="emit('along', { turns: ($event.target as HTMLSelectElement).value as PlayAlong['turns'] })"
        >
          <option v-for="[value, label] in TURNS" :key="value" :value="value">{{ label }}</option>
        </select></label
      >
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
          <UButton v-else variant="outline" color="neutral" :disabled="fileState === 'reading'" @click="input?.click()"
            >Choose</UButton
          >
        </span>
        <input
          ref="input"
          type="file"
          accept="audio/*"
          class="sr-only"
          tabindex="-1"
          aria-label="Recording to play along with"
          @change="chosen"
        />
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
      <label class="row"
        >Clicks
        <select
          :value="sound.click.on"
          @change="click({ on: ($event.target as HTMLSelectElement).value as ClickChoice['on'] })"
        >
          <option v-for="[value, label] in CLICKS" :key="value" :value="value">{{ label }}</option>
        </select></label
      >
      <label v-if="sound.click.on === 'beats'" class="row"
        >Beats divided
        <select
          :value="sound.click.within"
          @change="click({ within: PARTS[($event.target as HTMLSelectElement).selectedIndex]![0] })"
        >
          <option v-for="[value, label] in PARTS" :key="value" :value="value">{{ label }}</option>
        </select></label
      >
      <label v-if="sound.click.on !== 'none'" class="row"
        >Drops out
        <select
          :value="dropIndex"
          @change="click({ dropOut: DROPS[($event.target as HTMLSelectElement).selectedIndex] })"
        >
          <option v-for="(drop, index) in DROPS" :key="index" :value="index">
            {{ drop ? dropOutText(drop) : 'never' }}
          </option>
        </select></label
      >
    </section>
    <section aria-labelledby="volumes">
      <h2 id="volumes">How loud</h2>
      <div v-for="channel in channels" :key="channel" class="level" :class="{ muted: levelOf(channel).muted }">
        <label :for="`level-${channel}`">{{ NAMES[channel] }}</label>
        <input
          :id="`level-${channel}`"
          type="range"
          min="0"
          max="1"
          step="0.05"
          :value="levelOf(channel).volume"
          @input="mix(channel, { volume: Number(($event.target as HTMLInputElement).value), muted: false })"
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
      <label v-if="outputs.length > 0" class="row"
        >Program's piano on
        <select :value="pianoOutput" @change="choosePiano(($event.target as HTMLSelectElement).value)">
          <option value="">this computer</option>
          <option v-for="output in outputs" :key="output.name ?? ''" :value="output.name ?? ''">
            {{ output.name }}
          </option>
        </select></label
      >
      <p class="soft">With headphones, keep it as low as you can still hear it well.</p>
    </section>
  </div>
</template>

<style scoped>
.sound {
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
section :deep(.acts button) {
  min-height: 2.75rem;
  min-width: 2.75rem;
  justify-content: center;
}
select {
  min-height: 2.75rem;
  max-width: 14rem;
  padding: 0 0.6rem;
  background: var(--tread);
  color: var(--ink);
  border: 1px solid var(--rule);
  border-radius: 0.25rem;
}
.level {
  display: grid;
  grid-template-columns: 8rem minmax(6rem, 1fr) auto;
  align-items: center;
  gap: var(--step);
}
.level input {
  accent-color: var(--together);
  min-height: 2.75rem;
}
.level :deep(button) {
  min-height: 2.75rem;
  min-width: 2.75rem;
  justify-content: center;
}
.muted label {
  color: var(--ink-soft);
  text-decoration: line-through;
}
@media (max-width: 46rem) {
  .sound {
    grid-template-columns: 1fr;
  }
}
</style>
