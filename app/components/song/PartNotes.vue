<script setup lang="ts">
import { tempoFigure, tempoText } from '#core/words/amounts'
import { placeWords, stretchText } from '#core/words/places'
import type { Hands } from '#core/music/arrangement'
import type { ShownFlight } from '#core/coach/stairs'
import type { Likeness } from '#core/parts/likeness'
import { likenessText } from '#core/words/likeness'

/** What a hand has to do with the parts before. */
type PartLikeness = Omit<Likeness, 'likeIndex' | 'notes' | 'newNotes'>
interface PartProgress {
  id: string
  name: string
  place: string
  notes: Record<'left' | 'right', number>
  reached: { hands: Hands, passes: number, cleanBpm: number | null, from?: string }[]
  likeness: Record<'left' | 'right', PartLikeness>
}

/** A part in words: where each hand stands, what is hard, what is known from before. */
const props = defineProps<{ part: PartProgress, flights: readonly ShownFlight[], songId: string }>()
const NAMES: Record<Hands, string> = { left: 'Left hand', right: 'Right hand', both: 'Together' }

function standing(flight: ShownFlight): string {
  const learned = props.part.reached.find(one => one.hands === flight.hands)
  const from = learned?.from ? `learned in ${learned.from}; ` : ''
  if (flight.isDone) return `${from}ready at ${tempoText(flight.treads.findLast(tread => tread.isReached)?.bpm ?? flight.wantedBpm, flight.meter)}`
  if (!flight.isOpen) return 'waits for both hands'
  if (flight.spot) return `${from}hard spot, ${stretchText(flight.spot.place)}, at ${tempoText(flight.spot.bpm, flight.meter)}`
  if (flight.ownTime) return `${from}in your own time, ${flight.ownTime.inARow} of ${flight.ownTime.gate}`
  const here = flight.treads.find(tread => tread.isHere)?.bpm
  return `${from}at ${here === undefined ? '–' : tempoText(here, flight.meter)}, ${flight.gate?.inARow ?? 0} of ${flight.gate?.of ?? 0} clean in a row`
}
const { wording } = useWording()
const known = computed(() => (['left', 'right'] as const).map(hand => ({ hand, text: likenessText(props.part.likeness[hand], wording.value) })).filter(one => one.text))
</script>

<template>
  <article>
    <header>
      <h3>{{ part.name }}</h3>
      <p>
        {{ part.place }} · <NuxtLink
          :to="{ path: `/workbench/${songId}`, query: { part: part.id } }"
          class="work"
          :aria-label="`Work on ${part.name}`"
        >work on it</NuxtLink>
      </p>
    </header>
    <dl>
      <template
        v-for="flight in flights"
        :key="flight.hands"
      >
        <dt :class="flight.hands">
          {{ NAMES[flight.hands] }}
        </dt>
        <dd class="figure">
          {{ standing(flight) }}<span
            v-if="flight.passes"
            class="soft"
          > · {{ flight.passes }} {{ flight.passes === 1 ? 'pass' : 'passes' }}{{ flight.gates.length ? `; gates: ${flight.gates.map(gate => `${tempoFigure(gate.bpm, flight.meter)} after ${gate.passes}`).join(', ')}` : '' }}{{ flight.mended.length ? `; mended: ${flight.mended.map(placeWords).join('; ')}` : '' }}</span>
        </dd>
      </template>
      <template
        v-for="hand in (['left', 'right'] as const).filter(one => part.notes[one] === 0)"
        :key="hand"
      >
        <dt :class="hand">
          {{ NAMES[hand] }}
        </dt>
        <dd class="soft">
          rests here
        </dd>
      </template>
    </dl>
    <ul
      v-if="known.length"
      class="known"
      aria-label="Known from before"
    >
      <li
        v-for="one in known"
        :key="one.hand"
      >
        <b :class="one.hand">{{ NAMES[one.hand] }}</b> {{ one.text }}
      </li>
    </ul>
  </article>
</template>

<style scoped>
article { background: var(--sheet); border: 1px solid var(--rule); border-radius: 0.5rem; padding: calc(1.5 * var(--step)) calc(2 * var(--step)); height: 100%; }
header { display: flex; flex-wrap: wrap; justify-content: space-between; gap: 0 var(--step); align-items: baseline; }
h3 { font-weight: 700; font-size: 1.1rem; }
header p { color: var(--ink-soft); font-size: 0.95rem; }
.work { text-decoration: underline; }
dl { display: grid; grid-template-columns: auto 1fr; gap: 0.1rem var(--step); margin-top: 0.35rem; }
dt { font-weight: 600; color: var(--hand); }
.left { --hand: var(--left-hand); }
.right { --hand: var(--right-hand); }
.both { --hand: var(--together); }
.known { margin-top: var(--step); padding-top: var(--step); border-top: 1px solid var(--rule); font-size: 0.95rem; color: var(--ink-soft); }
.known b { color: var(--hand); font-weight: 600; }
</style>
