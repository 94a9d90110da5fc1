<script setup lang="ts">
import { useKeyboardsStore } from '~/stores/keyboards'
import { useSettingsStore } from '~/stores/settings'
import { CARE } from '#core/words/coach'
import { FIRST_STEP_WORDS, FIRST_STEPS, type FirstStep } from '#core/words/first-steps'

useHead({ title: 'First steps · Half Step' })
const route = useRoute()
const settings = useSettingsStore()
await settings.load()
const keyboards = useKeyboardsStore()

const step = computed<FirstStep>(() => FIRST_STEPS.find(one => one === route.query.step) ?? FIRST_STEPS[0])
const songId = computed(() =>
  typeof route.query.song === 'string' && /^[\da-f-]{36}$/.test(route.query.song) ? route.query.song : undefined,
)
const index = computed(() => FIRST_STEPS.indexOf(step.value))
const words = computed(() => FIRST_STEP_WORDS[step.value])
/** What was done in this visit: the way on is then the thing to press. */
const done = ref(new Set<FirstStep>())
const isDone = computed(() => done.value.has(step.value))
const finish = () => {
  done.value = new Set(done.value).add(step.value)
}

const heading = useTemplateRef('heading')
async function go(to: FirstStep, query: { song?: string } = {}) {
  await navigateTo({ query: { ...route.query, ...query, step: to } })
  // Screen readers announce the new place.
  heading.value?.focus()
}
const next = computed(() => FIRST_STEPS[index.value + 1])
const before = computed(() => FIRST_STEPS[index.value - 1])
const lastStep = computed(() => step.value as 'listen' | 'play' | 'sentence')
const needsSong = computed(() => ['listen', 'play', 'sentence'].includes(step.value) && !songId.value)
const LEADS_ON = new Set<FirstStep>(['song', 'play'])
</script>

<template>
  <div class="first">
    <header>
      <p class="soft">First steps · {{ index + 1 }} of {{ FIRST_STEPS.length }}</p>
      <h1 ref="heading" tabindex="-1">
        {{ words.title }}
      </h1>
      <StepStairs :now="step" />
    </header>
    <section class="sheet">
      <p class="what">
        {{ words.what }}
      </p>
      <ClientOnly>
        <KeyboardStep v-if="step === 'keyboard'" @done="finish" />
        <HearStep v-else-if="step === 'hear'" @done="finish" />
        <KeyboardDelays
          v-else-if="step === 'delay'"
          :delays="settings.delays"
          @change="settings.change({ delays: $event }).then(finish)"
        />
        <ReachStep v-else-if="step === 'reach'" @done="finish" />
        <NamesStep v-else-if="step === 'names'" @done="finish" />
        <LevelStep v-else-if="step === 'level'" @done="finish" />
        <SongStep v-else-if="step === 'song'" @chosen="go('listen', { song: $event })" />
        <p v-else-if="needsSong">
          First a song. <UButton variant="outline" @click="go('song')"> Choose a song </UButton>
        </p>
        <FirstPart v-else :key="`${step} ${songId}`" :step="lastStep" :song-id="songId!" @done="finish" />
        <OnScreenKeyboard
          v-if="keyboards.chosen.has('on-screen') && index < FIRST_STEPS.indexOf('song')"
          :keys="keyboards.onScreen"
          :expected="[]"
          :wanted="[]"
        />
      </ClientOnly>
    </section>
    <footer>
      <UButton v-if="before" variant="ghost" color="neutral" icon="i-lucide-arrow-left" @click="go(before)">
        Back
      </UButton>
      <UButton
        v-if="next && !LEADS_ON.has(step)"
        size="lg"
        :variant="isDone ? 'solid' : 'outline'"
        trailing-icon="i-lucide-arrow-right"
        @click="go(next)"
      >
        {{ isDone ? 'Go on' : 'Skip this step' }}
      </UButton>
      <UButton class="leave" variant="ghost" color="neutral" to="/"> Leave the first steps </UButton>
    </footer>
    <p class="care soft">
      {{ CARE }}
    </p>
  </div>
</template>

<style scoped>
.first {
  max-width: 56rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(3 * var(--step));
}
header {
  display: grid;
  gap: var(--step);
}
h1 {
  font-size: 2.25rem;
  line-height: 1.15;
  outline: none;
}
.sheet {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(3 * var(--step));
  display: grid;
  gap: calc(3 * var(--step));
}
.what {
  font-size: 1.35rem;
  max-width: 48ch;
  text-wrap: pretty;
}
.sheet :deep(.step) {
  display: grid;
  gap: calc(2 * var(--step));
  justify-items: start;
}
.sheet :deep(.step > fieldset) {
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
}
.sheet :deep(.found) {
  display: flex;
  gap: var(--step);
  align-items: center;
  color: var(--heard-right);
  font-weight: 600;
}
.sheet :deep(.large) {
  font-size: 1.25rem;
}
footer {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: center;
}
.leave {
  margin-left: auto;
}
.care {
  font-size: 0.95rem;
}
</style>
