<script setup lang="ts">
import { useHearPart } from '~/composables/sound/useHearPart'
import { useWording } from '~/composables/ui/useWording'
import { standLink } from '~/utils/stand/standLink'
import { currentBpm, type ShownStage } from '#core/coach/stairs'
import type { Hands } from '#core/music/arrangement'
import type { Likeness } from '#core/parts/likeness'
import { tempoText } from '#core/words/amounts'
import { stageText, gatesText, mendedText } from '#core/words/stairs'
import { HANDS_LABELS } from '#core/words/passes'
import { likenessText } from '#core/words/likeness'

/** What a hand has to do with the parts before. */
type PartLikeness = Omit<Likeness, 'likeIndex' | 'notes' | 'newNotes'>
interface PartProgress {
  id: string
  name: string
  place: string
  notes: Record<'left' | 'right', number>
  reached: { hands: Hands; passes: number; cleanBpm: number | null; from?: string }[]
  likeness: Record<'left' | 'right', PartLikeness>
}

/**
 * A part of the song, opened: where each hand stands, what is new, what was hard; to be heard, practised and worked on.
 * `chosen`: the step that was pointed at.
 */
const props = defineProps<{
  part: PartProgress
  flights: readonly ShownStage[]
  songId: string
  chosen?: { hands: Hands; bpm: number }
}>()

const { wording } = useWording()
const newsOf = (hands: Hands): string =>
  hands === 'both' ? '' : likenessText(props.part.likeness[hands], wording.value)
const rows = computed(() =>
  props.flights.map(flight => {
    const isChosen = props.chosen?.hands === flight.hands
    const bpm = isChosen ? props.chosen!.bpm : currentBpm(flight)
    const isOwnTime = !isChosen && flight.ownTime !== undefined && !flight.isDone
    return {
      flight,
      isChosen,
      bpm,
      name: HANDS_LABELS[flight.hands],
      standing: stageText(flight, props.part.reached.find(one => one.hands === flight.hands)?.from),
      past: [gatesText(flight), mendedText(flight)].filter(text => text !== ''),
      news: newsOf(flight.hands),
      link: standLink(props.part.id, { hands: flight.hands, bpm, mode: isOwnTime ? 'own-time' : 'steady' }),
      act: isOwnTime ? 'Practise in your own time' : `Practise at ${tempoText(bpm, flight.meter)}`,
    }
  }),
)
const resting = computed(() => (['left', 'right'] as const).filter(hand => props.part.notes[hand] === 0))

const { toggle, stop, isOn, problem } = useHearPart()
function listen() {
  const { hands, bpm } = props.chosen ?? { hands: 'both' as const, bpm: currentBpm(props.flights.at(-1)!) }
  void toggle('part', { partId: props.part.id, hands, bpm })
}
watch(() => props.part.id, stop)
</script>

<template>
  <article aria-label="The chosen part">
    <header>
      <div>
        <h2>{{ part.name }}</h2>
        <p class="soft">
          {{ part.place }}
        </p>
      </div>
      <div class="acts">
        <UButton
          variant="outline"
          size="sm"
          :icon="isOn('part') ? 'i-lucide-square' : 'i-lucide-volume-2'"
          @click="listen"
        >
          {{ isOn('part') ? 'Stop' : 'Listen' }}
        </UButton>
        <UButton
          variant="ghost"
          color="neutral"
          size="sm"
          icon="i-lucide-pencil-ruler"
          :to="{ path: `/workbench/${songId}`, query: { part: part.id } }"
          :aria-label="`Edit ${part.name} on the Workbench`"
        >
          Edit
        </UButton>
        <UButton
          variant="ghost"
          color="neutral"
          size="sm"
          icon="i-lucide-notebook-text"
          :to="{ path: '/logbook', query: { song: songId, part: part.id } }"
          :aria-label="`Passes of ${part.name} in the Logbook`"
        >
          Passes
        </UButton>
      </div>
    </header>
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
    <ul class="rows">
      <li v-for="row in rows" :key="row.flight.hands" :class="[row.flight.hands, { chosen: row.isChosen }]">
        <h3>{{ row.name }}</h3>
        <div class="figure">
          <p>{{ row.standing }}</p>
          <p v-if="row.news" class="soft news">
            {{ row.news }}
          </p>
          <p v-for="text in row.past" :key="text" class="soft">
            {{ text }}
          </p>
        </div>
        <UButton
          :to="row.link"
          :variant="row.isChosen ? 'solid' : 'outline'"
          size="sm"
          icon="i-lucide-play"
          :aria-label="`${row.act}: ${row.name.toLowerCase()}, ${part.name}`"
        >
          {{ row.act }}
        </UButton>
      </li>
      <li v-for="hand in resting" :key="hand" :class="hand">
        <h3>{{ HANDS_LABELS[hand] }}</h3>
        <p class="soft">rests here</p>
      </li>
    </ul>
  </article>
</template>

<style scoped>
article {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(1.5 * var(--step)) calc(2 * var(--step));
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--step) calc(2 * var(--step));
  align-items: start;
}
h2 {
  font-family: var(--font-serif);
  font-size: 1.35rem;
  line-height: 1.2;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem;
}
.rows {
  margin-top: var(--step);
}
.rows li {
  display: grid;
  grid-template-columns: 6.5rem minmax(0, 1fr) auto;
  gap: 0.25rem calc(2 * var(--step));
  align-items: start;
  border-top: 1px solid var(--rule);
  padding: var(--step) 0 var(--step) 0.6rem;
  border-left: 4px solid transparent;
}
.rows .chosen {
  border-left-color: var(--hand);
}
h3 {
  font-weight: 600;
  color: var(--hand);
}
.left {
  --hand: var(--left-hand);
}
.right {
  --hand: var(--right-hand);
}
.both {
  --hand: var(--together);
}
.rows .soft {
  font-size: 0.95rem;
}
.news::first-letter {
  text-transform: uppercase;
}
@media (max-width: 44rem) {
  .rows li {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
