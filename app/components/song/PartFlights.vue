<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'
import { tempoSteps } from '#core/coach/tempo-steps'
import type { Relation } from '#core/parts/likeness'

interface PartProgress {
  id: string
  name: string
  place: string
  targetBpm: number
  notes: { right: number, left: number }
  reached: { hands: Hands, passes: number, cleanBpm: number | null, from?: string }[]
  likeness: Record<'left' | 'right', PartLikeness>
}

/** What a hand has to do with the parts before. */
interface PartLikeness { relation: Relation, like?: string, transposedBy: number, stepsInKey?: number, differs: string[] }

const props = defineProps<{ part: PartProgress, songId: string }>()
const steps = computed(() => tempoSteps(props.part.targetBpm))
const NAMES: Record<Hands, string> = { left: 'Left hand', right: 'Right hand', both: 'Together' }

function flight(hands: Hands) {
  const reached = props.part.reached.find(one => one.hands === hands)
  const treads = steps.value.map((bpm, index) => ({ bpm, index, climbed: (reached?.cleanBpm ?? 0) >= bpm - 0.5 }))
  const next = treads.find(tread => !tread.climbed)
  return { hands, name: NAMES[hands], passes: reached?.passes ?? 0, from: reached?.from, treads, next, playable: hands === 'both' || props.part.notes[hands] > 0 }
}

const flights = computed(() => (['left', 'both', 'right'] as const).map(flight))

const known = computed(() => (['left', 'right'] as const).map(hand => ({ hand, name: NAMES[hand], text: likenessText(props.part.likeness[hand]) })).filter(one => one.text))

const label = (name: string, tread: { bpm: number, climbed: boolean }, isNext: boolean) =>
  `${name} at ${tread.bpm}, ${tread.climbed ? 'played clean' : isNext ? 'next' : 'not yet'}`
</script>

<template>
  <article>
    <header>
      <h2>{{ part.name }}</h2>
      <p>
        {{ part.place }} · <NuxtLink
          :to="{ path: `/workbench/${songId}`, query: { part: part.id } }"
          class="work"
          :aria-label="`Work on ${part.name}`"
        >work on it</NuxtLink>
      </p>
    </header>
    <div class="flights">
      <section
        v-for="one in flights"
        :key="one.hands"
        :class="['flight', one.hands]"
        :aria-label="one.name"
      >
        <p
          v-if="!one.playable"
          class="rests"
        >
          rests here
        </p>
        <div
          v-else
          class="treads"
        >
          <NuxtLink
            v-for="tread in one.treads"
            :key="tread.bpm"
            :to="{ path: `/stand/${part.id}`, query: { hands: one.hands, bpm: tread.bpm } }"
            :class="['tread', { climbed: tread.climbed, next: tread === one.next }]"
            :style="{ '--rise': tread.index + 1 }"
            :aria-label="label(one.name, tread, tread === one.next)"
          >
            <span class="figure">{{ tread.bpm }}</span>
          </NuxtLink>
        </div>
        <p class="name">
          {{ one.name }}<span class="passes figure">{{ one.passes ? ` · ${one.passes} passes` : '' }}{{ one.from ? ` · learned in ${one.from}` : '' }}</span>
        </p>
      </section>
    </div>
    <ul
      v-if="known.length"
      class="known"
      aria-label="Known from before"
    >
      <li
        v-for="one in known"
        :key="one.hand"
      >
        <b :class="one.hand">{{ one.name }}</b> {{ one.text }}
      </li>
    </ul>
  </article>
</template>

<style scoped>
article { background: var(--sheet); border: 1px solid var(--rule); border-radius: 0.5rem; padding: calc(2 * var(--step)); }
header { display: flex; justify-content: space-between; gap: var(--step); align-items: baseline; }
h2 { font-weight: 700; font-size: 1.15rem; }
header p { color: var(--ink-soft); font-size: 0.95rem; }
.work { text-decoration: underline; }
.flights { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 0.375rem; align-items: start; }
.treads { display: flex; align-items: end; gap: 2px; height: 8.5rem; }
.rests { text-align: center; color: var(--ink-soft); }
.right .treads { flex-direction: row-reverse; }
.left { --hand: var(--left-hand); }
.right { --hand: var(--right-hand); }
.both { --hand: var(--together); }
.tread {
  flex: 1; min-width: 1.5rem; height: calc(1.75rem + var(--rise) * 0.55rem);
  background: var(--tread); border-top: 3px solid var(--hand); color: var(--ink);
  display: flex; align-items: start; justify-content: center; padding-top: 0.15rem; font-size: 0.85rem;
}
/* Where the hands play together the stairs go on from the landing, above both. */
.both .tread { height: calc(4.5rem + var(--rise) * 0.7rem); }
.tread:hover { background: color-mix(in oklab, var(--hand) 25%, var(--tread)); }
.tread.climbed { background: var(--hand); color: var(--sheet); font-weight: 600; }
.tread.next { background: var(--sheet); box-shadow: inset 0 0 0 2px var(--hand); font-weight: 700; }
.name { font-size: 0.9rem; margin-top: 0.35rem; text-align: center; color: var(--hand); font-weight: 600; }
.known { margin-top: var(--step); padding-top: var(--step); border-top: 1px solid var(--rule); font-size: 0.95rem; color: var(--ink-soft); }
.known b { color: var(--hand); font-weight: 600; }
.passes { color: var(--ink-soft); font-weight: 400; }
@media (max-width: 30rem) { .tread { font-size: 0.7rem; } }
</style>
