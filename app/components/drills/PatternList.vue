<script setup lang="ts">
import { choicesOf } from '~/utils/ui/choices'
import { saveAsFile, nameOfFile } from '~/utils/ui/saveAsFile'
import { usePatterns } from '~/composables/songs/usePatterns'
import { useHearPattern } from '~/composables/sound/useHearPattern'
import { useSettingsStore } from '~/stores/settings'
import { useAction } from '~/composables/ui/useAction'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { metersOfHand } from '#core/patterns/hand-pattern'
import { patternDocument } from '#core/patterns/write-documents'
import { handPatternNamed } from '#core/patterns/hand-patterns'
import { meterOfGrid } from '~/utils/songs/patternGrid'
import type { OfferedPattern } from '~/composables/songs/usePatterns'

/** All patterns, easiest first, to be heard; the player's own to be changed; any to begin one's own from. */
const settings = useSettingsStore()
const { data: own, refresh } = await useLazyFetch('/api/patterns', {
  key: 'own-patterns',
  server: false,
  deep: false,
  default: () => [],
})
const meter = ref('4/4')
const METERS = ['2/4', '3/4', '4/4', '6/8', '12/8']
const bpm = 100
const { offered } = usePatterns(
  () => ({ hand: 'left', meter: meterOfGrid({ meter: meter.value }), bpm, reach: settings.reachHalfSteps }),
  () => own.value,
)
const hearing = useHearPattern()
const editing = shallowRef<{ pattern: HandPattern; id?: string }>()
const { act, problem } = useAction()

const isOwn = (one: OfferedPattern): one is OfferedPattern & { id: string } => one.id !== undefined
async function remove(id: string) {
  await act(async () => {
    await $fetch(`/api/patterns/${id}`, { method: 'DELETE' })
    await refresh()
  })
}
async function saved() {
  editing.value = undefined
  await refresh()
}
</script>

<template>
  <div class="patterns">
    <div class="head fields">
      <ChoiceField v-model="meter" label="Meter" :choices="choicesOf(METERS)" />
      <p class="soft">
        Easiest first, for the left hand at {{ bpm }}. Choose one when you import a chart, or for a new edition of a
        song.
      </p>
      <UButton icon="i-lucide-plus" @click="editing = { pattern: handPatternNamed('root-fifth')! }">
        New pattern
      </UButton>
    </div>
    <PatternEditor
      v-if="editing"
      :id="editing.id"
      :key="editing.id ?? editing.pattern.name"
      :pattern="editing.pattern"
      @saved="saved"
      @close="editing = undefined"
    />
    <p v-if="problem || hearing.problem.value" role="alert" class="problem">
      {{ problem || hearing.problem.value }}
    </p>
    <ol>
      <li v-for="one in offered" :key="one.key">
        <span class="figure level">{{ one.level?.toFixed(1) ?? '' }}</span>
        <div>
          <h3>{{ one.title }}<span v-if="isOwn(one)" class="own">yours</span></h3>
          <p class="soft">
            {{ one.about
            }}<template v-if="!one.about">
              {{ metersOfHand(one.pattern).join(', ') }}
            </template>
          </p>
        </div>
        <div class="acts">
          <UButton
            variant="ghost"
            color="neutral"
            :icon="hearing.isOn(one.key) ? 'i-lucide-square' : 'i-lucide-volume-2'"
            :aria-label="hearing.isOn(one.key) ? 'Stop listening' : `Hear ${one.title}`"
            @click="
              hearing.toggle(one.key, one.pattern, meterOfGrid({ meter }), {
                bpm,
                hand: 'left',
                reach: settings.reachHalfSteps,
              })
            "
          />
          <UButton
            variant="ghost"
            color="neutral"
            icon="i-lucide-grid-3x3"
            :aria-label="isOwn(one) ? `Change ${one.title}` : `A pattern of your own from ${one.title}`"
            @click="editing = isOwn(one) ? { pattern: one.pattern, id: one.id } : { pattern: one.pattern }"
          />
          <UButton
            v-if="isOwn(one)"
            variant="ghost"
            color="neutral"
            icon="i-lucide-download"
            :aria-label="`Take ${one.title} as a file`"
            @click="saveAsFile(nameOfFile(one.title, 'json'), JSON.stringify(patternDocument(one.pattern), null, 2))"
          />
          <UButton
            v-if="isOwn(one)"
            variant="ghost"
            color="neutral"
            icon="i-lucide-trash-2"
            :aria-label="`Delete ${one.title}`"
            @click="remove(one.id)"
          />
        </div>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.patterns {
  display: grid;
  gap: calc(2 * var(--step));
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: var(--step) calc(3 * var(--step));
}
.head > :last-child {
  margin-left: auto;
}
ol {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 30rem), 1fr));
  column-gap: calc(4 * var(--step));
}
li {
  display: grid;
  grid-template-columns: 2.5rem minmax(0, 1fr) auto;
  gap: var(--step);
  align-items: center;
  padding: var(--step) 0;
  border-top: 1px solid var(--rule);
}
h3 {
  font-weight: 600;
}
.level {
  font-size: 1.1rem;
  color: var(--left-hand);
  font-weight: 700;
}
.own {
  margin-left: 0.5rem;
  padding: 0 0.4rem;
  border: 1px solid var(--rule);
  color: var(--ink-soft);
  font-size: 0.95rem;
  font-weight: 400;
}
.soft {
  color: var(--ink-soft);
}
.acts {
  display: flex;
}
</style>
