<script setup lang="ts">
import type { StandPart } from '../../composables/stand/practised'
import { HAND_CHOICES, choicesOf } from '~/utils/ui/choices'
import { usePatterns } from '~/composables/songs/usePatterns'
import { usePatternsWorker } from '~/composables/songs/usePatternsWorker'
import { usePreviewSound } from '~/composables/sound/usePreviewSound'
import { useSettingsStore } from '~/stores/settings'
import { useAction } from '~/composables/ui/useAction'
import { messageOf } from '~/utils/ui/messageOf'
import { sentence } from '~/utils/ui/sentence'
import type { Hand } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import type { Level } from '#core/patterns/editions'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { stepsText } from '#core/words/amounts'
import { difficultyText, leftOutText, LEVEL_WORDS, patternTitle } from '#core/words/patterns'

/**
 * Makes another edition of a song: with another pattern for a hand, at a level, in another key, or a copy to be
 * changed. What is chosen can be heard first.
 */
const props = defineProps<{
  songId: string
  partId: string
  meter: Meter
  bpm: number
  /** What the left hand plays, where it is known. */
  now?: HandPattern
}>()
const emit = defineEmits<{ close: [] }>()

const WAYS = [
  { value: 'pattern', slot: 'pattern' as const, label: 'Another left hand' },
  { value: 'level', slot: 'level' as const, label: 'For my hands' },
  { value: 'key', slot: 'key' as const, label: 'Another key' },
  { value: 'copy', slot: 'copy' as const, label: 'A copy to edit' },
]
const way = ref('pattern')
const hand = ref<Hand>('left')
const level = ref<Level>(2)
const halfSteps = ref(1)
const name = ref('')
const { act, problem, isBusy: busy } = useAction()
const settings = useSettingsStore()
const { data: own } = await useLazyFetch('/api/patterns', {
  key: 'own-patterns',
  server: false,
  deep: false,
  default: () => [],
})
const { offered, nextUp } = usePatterns(
  () => ({ hand: hand.value, meter: props.meter, bpm: props.bpm, reach: settings.reachHalfSteps }),
  () => own.value,
)
const chosen = shallowRef<HandPattern>()
/** At first a little harder than what is played now. */
const pattern = computed({
  get: () =>
    chosen.value ??
    (props.now && nextUp(props.now.name)?.pattern) ??
    offered.value.find(one => one.pattern.name === 'root-fifth')?.pattern ??
    offered.value[0]?.pattern,
  set: value => {
    chosen.value = value
  },
})
watch(hand, () => {
  chosen.value = undefined
})

const part = shallowRef<StandPart>()
const arrangementOf = async () => (part.value ??= await $fetch<StandPart>(`/api/parts/${props.partId}`)).arrangement
type Editions = Awaited<ReturnType<ReturnType<typeof usePatternsWorker>['editions']>>
const editions = shallowRef<Editions>()
watch(way, async () => {
  if (way.value !== 'level' || editions.value) return
  try {
    editions.value = await usePatternsWorker().editions(await arrangementOf(), { reach: settings.reachHalfSteps })
  } catch (error) {
    problem.value = messageOf(error)
  }
})

const suggested = computed(() =>
  way.value === 'pattern'
    ? patternTitle(pattern.value?.name ?? '').toLowerCase()
    : way.value === 'level'
      ? LEVEL_WORDS[level.value].title.toLowerCase()
      : way.value === 'key'
        ? `${stepsText(halfSteps.value)} ${halfSteps.value > 0 ? 'higher' : 'lower'}`
        : 'copy',
)
const making = computed(() =>
  way.value === 'pattern' && pattern.value
    ? { kind: 'pattern', hand: hand.value, pattern: pattern.value }
    : way.value === 'level'
      ? { kind: 'level', level: level.value }
      : way.value === 'key'
        ? { kind: 'key', halfSteps: halfSteps.value }
        : undefined,
)

const levels = computed(() =>
  ([1, 2, 3, 4] as const).map(value => {
    const made = editions.value?.[value - 1]
    return {
      value,
      label: LEVEL_WORDS[value].title,
      description: [
        LEVEL_WORDS[value].about,
        ...(made ? [sentence(difficultyText(made.difficulty)), leftOutText(made.leftOut)] : []),
      ].join(' '),
    }
  }),
)

const hearing = usePreviewSound()
/** What can be heard before it is made. */
const canHear = computed(() =>
  way.value === 'pattern' ? pattern.value !== undefined : way.value === 'level' && editions.value !== undefined,
)
const hear = () =>
  hearing.toggle('edition', async () =>
    way.value === 'level'
      ? { made: editions.value![level.value - 1]!.arrangement }
      : await usePatternsWorker().exchange(await arrangementOf(), {
          pattern: toRaw(pattern.value!),
          hand: hand.value,
          reach: settings.reachHalfSteps,
        }),
  )

async function make() {
  await act(async () => {
    const made = await $fetch<{ id: string }>(`/api/songs/${props.songId}/editions`, {
      method: 'POST',
      body: { edition: name.value.trim() || suggested.value, ...(making.value ? { making: making.value } : {}) },
    })
    await navigateTo(way.value === 'copy' ? `/workbench/${made.id}` : `/songs/${made.id}`)
    emit('close')
  })
}
</script>

<template>
  <section class="maker" aria-labelledby="new-edition">
    <h2 id="new-edition">New edition</h2>
    <UTabs v-model="way" :items="WAYS">
      <template #pattern>
        <div class="body">
          <ChoiceField v-model="hand" label="Hand" :choices="HAND_CHOICES" />
          <PatternChoice v-model="pattern" :offered="offered" label="Plays" />
          <p class="soft">
            Over the song’s own chords; the other hand stays as it is. The figure behind each name is how hard it is at
            {{ Math.round(bpm) }}, of 10.
          </p>
        </div>
      </template>
      <template #level>
        <div class="body">
          <URadioGroup
            v-model="level"
            legend="How much of the song"
            variant="card"
            :items="levels"
            :ui="{ legend: 'sr-only', fieldset: 'gap-2', label: 'font-bold' }"
          />
        </div>
      </template>
      <template #key>
        <div class="body">
          <ChoiceField
            v-model="halfSteps"
            label="Moved by"
            :choices="
              choicesOf([1, 2, 3, 4, 5, 6, -1, -2, -3, -4, -5], by => `${stepsText(by)} ${by > 0 ? 'higher' : 'lower'}`)
            "
          />
        </div>
      </template>
      <template #copy>
        <p class="body">
          The same notes, to be simplified or extended on the Workbench. An edition can also be
          <NuxtLink :to="{ path: '/songs/add', query: { editionOf: songId } }">imported from a file</NuxtLink>.
        </p>
      </template>
    </UTabs>
    <TextField v-model="name" label="Name" maxlength="60" :placeholder="suggested" />
    <p v-if="problem || hearing.problem.value" role="alert" class="problem">
      {{ problem || hearing.problem.value }}
    </p>
    <div class="acts">
      <UButton :loading="busy" @click="make"> Make it </UButton>
      <UButton
        v-if="way === 'pattern' || way === 'level'"
        :disabled="!canHear"
        variant="outline"
        :icon="hearing.playing.value ? 'i-lucide-square' : 'i-lucide-volume-2'"
        @click="hear"
      >
        {{ hearing.playing.value ? 'Stop' : 'Hear it first' }}
      </UButton>
      <UButton variant="ghost" @click="emit('close')"> Cancel </UButton>
    </div>
  </section>
</template>

<style scoped>
.maker {
  display: grid;
  gap: calc(1.5 * var(--step));
  margin-top: calc(2 * var(--step));
  padding: calc(2 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
}
h2 {
  font-weight: 700;
  font-size: 1.25rem;
}
.body {
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
}
.soft {
  color: var(--ink-soft);
  max-width: 60ch;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
}
</style>
