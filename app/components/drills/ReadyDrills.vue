<script setup lang="ts">
import { useDrillStart } from '~/composables/songs/useDrillStart'
import { usePatternsWorker } from '~/composables/songs/usePatternsWorker'
import { usePreviewSound } from '~/composables/sound/usePreviewSound'
import { useSettingsStore } from '~/stores/settings'
import { sentence } from '~/utils/ui/sentence'
import { READY_DRILLS, type ReadyDrill } from '#core/patterns/drills/bank'
import { drillAbout, drillFigureText, drillTitle, keysText } from '#core/words/patterns'

/** The drills that ship, by what they are for; each can be heard and begun. */
const settings = useSettingsStore()
const { busy, problem, start } = useDrillStart()
const hearing = usePreviewSound()

const GROUPS: { title: string; of: (drill: ReadyDrill) => boolean }[] = [
  {
    title: 'Five fingers and scales',
    of: ({ recipe: { material, hands } }) =>
      (material.kind === 'five-finger' || material.kind === 'scale') && hands !== 'staggered',
  },
  {
    title: 'Chords and arpeggios',
    of: ({ recipe: { material } }) => ['arpeggio', 'inversions', 'sevenths'].includes(material.kind),
  },
  { title: 'Progressions', of: ({ recipe: { material } }) => material.kind === 'progression' },
  {
    title: 'One hand against the other',
    of: ({ recipe: { material, hands } }) => material.kind === 'against' || hands === 'staggered',
  },
]
const groups = GROUPS.map(({ title, of }) => ({
  title,
  drills: READY_DRILLS.filter(of).map(drill => ({
    ...drill,
    about: drillAbout(drill.name),
    recipe: { title: '', ...drill.recipe },
  })),
}))
const titleOf = (recipe: ReadyDrill['recipe']) => drillTitle(recipe, settings.noteNames)
/** Bars that give an idea of a voice. */
const HEARD_BARS = 4

const hear = ({ name, recipe }: (typeof groups)[number]['drills'][number]) =>
  hearing.toggle(name, async () => await usePatternsWorker().drill(recipe, settings.reachHalfSteps), {
    bars: HEARD_BARS,
  })
</script>

<template>
  <div class="ready">
    <p v-if="problem || hearing.problem.value" role="alert" class="problem">
      {{ problem || hearing.problem.value }}
    </p>
    <section v-for="group in groups" :key="group.title" :aria-label="group.title">
      <h2>{{ group.title }}</h2>
      <ul>
        <li v-for="drill in group.drills" :key="drill.name">
          <div>
            <h3>{{ drillFigureText(drill.recipe) }}</h3>
            <p class="soft">{{ drill.about }} {{ sentence(keysText(drill.recipe, settings.noteNames)) }}</p>
          </div>
          <div class="acts">
            <UButton
              variant="ghost"
              color="neutral"
              :icon="hearing.isOn(drill.name) ? 'i-lucide-square' : 'i-lucide-volume-2'"
              :aria-label="hearing.isOn(drill.name) ? 'Stop listening' : `Hear ${titleOf(drill.recipe)}`"
              @click="hear(drill)"
            />
            <UButton
              variant="outline"
              icon="i-lucide-play"
              :loading="busy === drill.name"
              :aria-label="`Begin ${titleOf(drill.recipe)}`"
              @click="start({ ...drill.recipe, title: titleOf(drill.recipe) }, drill.name)"
            >
              Begin
            </UButton>
          </div>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.ready {
  display: grid;
  gap: calc(3 * var(--step));
}
h2 {
  font-weight: 700;
  font-size: 1.25rem;
  margin-bottom: var(--step);
}
h3 {
  font-weight: 600;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 30rem), 1fr));
  column-gap: calc(4 * var(--step));
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: calc(2 * var(--step));
  padding: var(--step) 0;
  border-top: 1px solid var(--rule);
}
.soft {
  color: var(--ink-soft);
}
.acts {
  display: flex;
  gap: 0.25rem;
  flex: none;
}
</style>
