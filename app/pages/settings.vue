<script setup lang="ts">
import type { PlayerSettings } from '#shared/utils/settings'
import { useSettingsStore } from '~/stores/settings'
import { useAction } from '~/composables/ui/useAction'
import { choicesFrom, choicesOf } from '~/utils/ui/choices'
import type { Strictness } from '#core/ear/parameters'
import { CAUTIONS } from '#core/coach/cautions'
import { CARE } from '#core/words/coach'
import { REACHES_HALF_STEPS } from '#core/hands/ergonomics'
import { NOTE_NAME_SCALES } from '#core/words/note-names'
import { reachText } from '#core/words/first-steps'

useHead({ title: 'Settings · Half Step' })
const settings = useSettingsStore()
await settings.load()

const LEVELS: { value: Strictness; label: string; description: string }[] = [
  {
    value: 'gentle',
    label: 'Gentle',
    description: 'For the first passes of a part: right notes first, timing tolerance 50 % wider.',
  },
  {
    value: 'normal',
    label: 'Normal',
    description: 'For an adult learner at a practice tempo: several times what a listener just notices.',
  },
  { value: 'strict', label: 'Strict', description: 'For a part that is ready: tolerances a third narrower.' },
]
const delay = ref(settings.keyboardDelayMs)
const said = ref('')
const { act, problem } = useAction()

async function change(what: Partial<PlayerSettings>) {
  said.value = ''
  await act(async () => {
    await settings.change(what)
    said.value = 'Saved.'
  })
}

const REACHES = choicesOf(REACHES_HALF_STEPS, reachText)
const HEARD = [
  { value: 'ask', label: 'is offered for the Logbook' },
  { value: 'always', label: 'always goes into the Logbook' },
  { value: 'off', label: 'is not listened to' },
] as const
const PIANO = [
  { value: 'on', label: 'sounds for keys that are silent by themselves, and for what is touched' },
  { value: 'off', label: 'stays silent' },
] as const
const MIDI = [
  { value: 'sounds', label: 'sounds by itself' },
  { value: 'silent', label: 'is silent: the program’s piano sounds for it' },
] as const
const NOTE_NAMES = choicesFrom(NOTE_NAME_SCALES)
</script>

<template>
  <div class="settings">
    <h1>Settings</h1>
    <CoachChoices :coach="settings.coach" @change="change({ coach: $event })" />
    <StandControls :controls="settings.controls" @change="change({ controls: $event })" />
    <fieldset>
      <legend>Scoring strictness</legend>
      <p>The program hears the same at every level; only the tolerances differ.</p>
      <URadioGroup
        legend="Scoring strictness"
        :items="LEVELS"
        :model-value="settings.strictness"
        :ui="{ legend: 'sr-only', label: 'font-bold' }"
        @update:model-value="change({ strictness: $event })"
      />
    </fieldset>
    <KeyboardDelays :delays="settings.delays" @change="change({ delays: $event })" />
    <form @submit.prevent="change({ keyboardDelayMs: delay })">
      <fieldset>
        <legend>Delay of all other keyboards</legend>
        <p>
          For keyboards that were not measured, or to set it by hand: if passes that feel exact are always scored late
          by the same amount, enter it here; it is subtracted from every key.
        </p>
        <TextField
          v-model.number="delay"
          label="Delay in ms"
          type="number"
          min="-500"
          max="500"
          step="1"
          required
          class="figure"
        />
        <UButton type="submit"> Save delay </UButton>
      </fieldset>
    </form>
    <fieldset class="delay">
      <legend>Sound and listening</legend>
      <p>
        While a page other than the Stand is open and a keyboard is connected, the program can recognise which of your
        songs you play. The keys of the last ten minutes stay in this browser; only what is kept is sent.
      </p>
      <ChoiceField
        label="What you play by the way"
        :model-value="settings.sound.heard"
        :choices="HEARD"
        @update:model-value="change({ sound: { heard: $event } })"
      />
      <ChoiceField
        label="The program's piano"
        :model-value="settings.sound.keysSound ? 'on' : 'off'"
        :choices="PIANO"
        @update:model-value="change({ sound: { keysSound: $event === 'on' } })"
      />
      <ChoiceField
        label="The MIDI keyboard"
        :model-value="settings.sound.midiIsSilent ? 'silent' : 'sounds'"
        :choices="MIDI"
        @update:model-value="change({ sound: { midiIsSilent: $event === 'silent' } })"
      />
    </fieldset>
    <fieldset class="delay">
      <legend>Your hand</legend>
      <p>
        Suggested fingerings never stretch further than this from thumb to little finger. An octave is 12 half steps, a
        ninth 14, a minor tenth 15, a major tenth 16. Measure what you reach comfortably: forcing a stretch can injure
        your hand.
      </p>
      <ChoiceField
        label="Reach"
        :model-value="settings.reachHalfSteps"
        :choices="REACHES"
        @update:model-value="change({ reachHalfSteps: $event })"
      />
    </fieldset>
    <fieldset class="delay">
      <legend>Note names</legend>
      <ChoiceField
        label="Name notes as"
        :model-value="settings.noteNames"
        :choices="NOTE_NAMES"
        @update:model-value="change({ noteNames: $event })"
      />
    </fieldset>
    <p role="status" class="said">
      {{ said }}
    </p>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
    <section aria-labelledby="care">
      <h2 id="care">Take care</h2>
      <p>{{ CARE }}</p>
      <p>
        After {{ CAUTIONS.playedMinutes }} minutes of playing without a break of {{ CAUTIONS.pauseMinutes }}, after
        {{ CAUTIONS.sameInARow }} times or {{ CAUTIONS.sameMinutes }} minutes of one place, and after
        {{ CAUTIONS.dayMinutes }} minutes in a day, the program reminds you. You can dismiss the reminder for the
        session; it returns in the next.
      </p>
    </section>
  </div>
</template>

<style scoped>
.settings {
  max-width: 48rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(3 * var(--step));
}
h1 {
  font-size: 2.25rem;
}
h2,
legend {
  font-weight: 700;
  font-size: 1.15rem;
}
fieldset {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(2 * var(--step));
  display: grid;
  gap: var(--step);
  justify-items: start;
}
legend {
  float: left;
  width: 100%;
}
fieldset p,
section p,
.said {
  color: var(--ink-soft);
}
.problem {
  color: var(--heard-wrong);
}
.said:empty {
  display: none;
}
</style>
