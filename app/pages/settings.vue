<script setup lang="ts">
import type { PlayerSettings } from '#shared/utils/settings'
import { useSettingsStore } from '~/stores/settings'
import { messageOf } from '~/utils/ui/messageOf'
import type { Strictness } from '#core/ear/parameters'
import { CAUTIONS } from '#core/coach/cautions'
import { CARE } from '#core/words/coach'
import { MIN_REACH, MAX_REACH } from '#core/hands/ergonomics'
import type { NoteNames } from '#core/words/note-names'
import type { SoundSettings } from '#shared/utils/sound'
import Joi from 'joi'

useHead({ title: 'Settings · Half Step' })
const settings = useSettingsStore()
await settings.load()

const LEVELS: { value: Strictness; label: string; why: string }[] = [
  {
    value: 'gentle',
    label: 'Gentle',
    why: 'For the first passes of a part: right notes first, timing tolerance 50 % wider.',
  },
  {
    value: 'normal',
    label: 'Normal',
    why: 'For an adult learner at a practice tempo: several times what a listener just notices.',
  },
  { value: 'strict', label: 'Strict', why: 'For a part that is ready: tolerances a third narrower.' },
]
const delay = ref(String(settings.keyboardDelayMs))
const said = ref('')
const problem = ref('')
const reachSchema = Joi.number().integer().min(MIN_REACH).max(MAX_REACH).required().label('Reach')
const delaySchema = Joi.number().integer().min(-500).max(500).required().label('Keyboard delay')

async function change(what: Partial<PlayerSettings>) {
  problem.value = ''
  try {
    await settings.change(what)
    said.value = 'Saved.'
  } catch (error) {
    said.value = ''
    problem.value = messageOf(error)
  }
}

function changeReach(event: Event) {
  const { error, value } = reachSchema.validate((event.target as HTMLInputElement).value, { convert: true })
  if (error) {
    problem.value = error.message
    said.value = ''
  } else void change({ reachHalfSteps: value as number })
}

function changeDelay() {
  const { error, value } = delaySchema.validate(delay.value, { convert: true })
  if (error) {
    problem.value = error.message
    said.value = ''
  } else void change({ keyboardDelayMs: value as number })
}
</script>

<template>
  <div class="settings">
    <h1>Settings</h1>
    <CoachChoices :coach="settings.coach" @change="change({ coach: $event })" />
    <StandControls :controls="settings.controls" @change="change({ controls: $event })" />
    <fieldset>
      <legend>Scoring strictness</legend>
      <p>The program hears the same at every level; only the tolerances differ.</p>
      <label
        v-for="level in LEVELS"
        :key="level.value"
        class="level"
        :class="{ chosen: settings.strictness === level.value }"
      >
        <input
          type="radio"
          name="strictness"
          :value="level.value"
          :checked="settings.strictness === level.value"
          @change="change({ strictness: level.value })"
        />
        <span
          ><b>{{ level.label }}</b> {{ level.why }}</span
        >
      </label>
    </fieldset>
    <KeyboardDelays :delays="settings.delays" @change="change({ delays: $event })" />
    <form @submit.prevent="changeDelay">
      <fieldset>
        <legend>Delay of all other keyboards</legend>
        <p>
          For keyboards that were not measured, or to set it by hand: if passes that feel exact are always scored late
          by the same amount, enter it here; it is subtracted from every key.
        </p>
        <label class="delay"
          >Delay in ms
          <input v-model="delay" inputmode="numeric" class="figure" />
        </label>
        <UButton type="submit"> Save delay </UButton>
      </fieldset>
    </form>
    <fieldset class="delay">
      <legend>Sound and listening</legend>
      <p>
        While a page other than the Stand is open and a keyboard is connected, the program can recognise which of your
        songs you play. The keys of the last ten minutes stay in this browser; only what is kept is sent.
      </p>
      <label
        >What you play by the way
        <select
          :value="settings.sound.heard"
          @change="change({ sound: { heard: ($event.target as HTMLSelectElement).value as SoundSettings['heard'] } })"
        >
          <option value="ask">is offered for the Logbook</option>
          <option value="always">always goes into the Logbook</option>
          <option value="off">is not listened to</option>
        </select></label
      >
      <label
        >The program's piano
        <select
          :value="settings.sound.keysSound ? 'on' : 'off'"
          @change="change({ sound: { keysSound: ($event.target as HTMLSelectElement).value === 'on' } })"
        >
          <option value="on">sounds for keys that are silent by themselves, and for what is touched</option>
          <option value="off">stays silent</option>
        </select></label
      >
      <label
        >The MIDI keyboard
        <select
          :value="settings.sound.midiIsSilent ? 'silent' : 'sounds'"
          @change="change({ sound: { midiIsSilent: ($event.target as HTMLSelectElement).value === 'silent' } })"
        >
          <option value="sounds">sounds by itself</option>
          <option value="silent">is silent: the program's piano sounds for it</option>
        </select></label
      >
    </fieldset>
    <fieldset class="delay">
      <legend>Your hand</legend>
      <p>
        Suggested fingerings never stretch further than this from thumb to little finger. An octave is 12 half steps, a
        ninth 14, a minor tenth 15, a major tenth 16. Measure what you reach comfortably: forcing a stretch can injure
        your hand.
      </p>
      <label
        >Reach in half steps
        <input type="number" :min="MIN_REACH" :max="MAX_REACH" :value="settings.reachHalfSteps" @change="changeReach"
      /></label>
    </fieldset>
    <fieldset class="delay">
      <legend>Note names</legend>
      <label
        >Name notes as
        <select
          :value="settings.noteNames"
          @change="change({ noteNames: ($event.target as HTMLSelectElement).value as NoteNames })"
        >
          <option value="letters">C D E F G A B</option>
          <option value="solfege">Do Re Mi Fa Sol La Si</option>
          <option value="german">C D E F G A H</option>
        </select></label
      >
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
.level {
  display: flex;
  gap: var(--step);
  align-items: baseline;
  padding: 0.4rem 0.6rem;
  border-left: 4px solid transparent;
  width: 100%;
}
.level.chosen {
  border-color: var(--together);
}
.delay select {
  margin-left: 0.5rem;
  background: var(--ground);
  border: 1px solid var(--ink-soft);
  border-radius: 0.375rem;
  padding: 0.3rem 0.5rem;
}
.delay input {
  width: 6rem;
  margin-left: 0.5rem;
  background: var(--ground);
  border: 1px solid var(--ink-soft);
  border-radius: 0.375rem;
  padding: 0.3rem 0.5rem;
}
.problem {
  color: var(--heard-wrong);
}
.said:empty {
  display: none;
}
</style>
