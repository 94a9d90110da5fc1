<script setup lang="ts">
import { standLink } from '~/utils/stand/standLink'
import { sentence } from '~/utils/ui/sentence'
import { currentBpm, reachedShares, type ShownStage, type ShownJoin, type Stairs, type Tread } from '#core/coach/stairs'
import type { Hand, Hands } from '#core/music/arrangement'
import { HANDS_LABELS } from '#core/words/passes'
import { sectionRuns } from '#core/parts/edit'
import { tempoFigure } from '#core/words/amounts'
import { unitText } from '#core/words/coach'
import { readyText } from '#core/words/stairs'

interface PartOfStairs {
  id: string
  name: string
  place: string
  section: string | null
}
/** A part that is pointed at, and the step of it. */
export interface ChosenStep {
  place: number
  hands?: Hands
  bpm?: number
}

/**
 * The song as stairs, section by section. Each part is a flight for the left hand from the left and one for the right
 * hand from the right; they meet at the landing, and from there both go up together to the target tempo. Between two
 * parts lies what joins them. Every section is drawn small, one of them large. What is to be read of the chosen part
 * goes into the slot.
 */
const props = defineProps<{ stairs: Stairs; parts: readonly PartOfStairs[]; letters: readonly string[] }>()
const chosen = defineModel<ChosenStep>('chosen', { required: true })

const TREAD_PX = 24
const RISE_PX = 9
const GROUND_PX = 28
const TOWER_TREAD_PX = 25
const LANDING_PX = 6
/** Parts shown at once; of a longer song one section. */
const MAX_OPEN = 4

interface Shown {
  part: PartOfStairs
  letter: string
  place: number
  flights: (ShownStage & { side: Hand | 'both' })[]
  treads: number
  landingPx: number
  widthPx: number
  heightPx: number
  seam?: ShownJoin
  pair?: ShownJoin
}

const small = computed(() => reachedShares(props.stairs))
const nextPlace = computed(() => props.stairs.next?.first)
const sections = computed(() =>
  sectionRuns(props.parts.map(({ section }) => (section === null ? {} : { section }))).map(({ name, first, count }) => {
    const parts = props.parts.slice(first, first + count)
    const ready = parts.filter((_, index) => props.stairs.parts[first + index]!.every(flight => flight.isDone)).length
    return {
      first,
      count,
      parts,
      name: name ?? (count === props.parts.length ? '' : `Parts ${first + 1} to ${first + count}`),
      status: readyText(ready, count),
    }
  }),
)
const sectionOf = (place: number) =>
  sections.value.findIndex(({ first, count }) => place >= first && place < first + count)
/** The section whose parts are seen. */
const open = ref(sectionOf(nextPlace.value ?? 0))
const hasSections = computed(() => sections.value.length > 1 && props.parts.length > MAX_OPEN)

function shownPart(part: PartOfStairs, place: number): Shown {
  const flights = (props.stairs.parts[place] ?? []).map(flight => ({ ...flight, side: flight.hands }))
  const treads = Math.max(3, ...flights.filter(flight => flight.side !== 'both').map(flight => flight.treads.length))
  const landingPx = GROUND_PX + (treads - 1) * RISE_PX + LANDING_PX
  const both = flights.find(flight => flight.side === 'both')
  const join = (kind: ShownJoin['kind']) =>
    props.stairs.joins.find(one => one.kind === kind && one.first === place && one.last === place + 1)
  return {
    part,
    letter: props.letters[place] ?? '',
    place,
    flights,
    treads,
    landingPx,
    widthPx: 2 * treads * TREAD_PX,
    heightPx: landingPx + (both?.treads.length ?? 0) * TOWER_TREAD_PX + 4,
    seam: join('seam'),
    pair: join('pair'),
  }
}
const shown = computed(() => {
  const { first, parts } = hasSections.value
    ? (sections.value[open.value] ?? sections.value[0]!)
    : { first: 0, parts: props.parts }
  return parts.map((part, index) => shownPart(part, first + index))
})
const highest = computed(() => Math.max(0, ...shown.value.map(one => one.heightPx)))
const longer = computed(() => props.stairs.joins.filter(join => join.kind === 'chain' || join.kind === 'song'))
/** The other parts that are the same music. */
const twinsOf = (place: number) =>
  props.parts
    .filter((_, other) => other !== place && props.letters[other] === props.letters[place])
    .map(part => part.name)
const hasTwins = computed(() => new Set(props.letters).size < props.letters.length)

function styleOf(one: Shown, flight: Shown['flights'][number], index: number) {
  if (flight.side === 'both') {
    const width = one.widthPx * 0.84 * (1 - 0.12 * index)
    return {
      left: `${(one.widthPx - width) / 2}px`,
      width: `${width}px`,
      height: `${TOWER_TREAD_PX - 2}px`,
      bottom: `${one.landingPx + index * TOWER_TREAD_PX}px`,
    }
  }
  // Flights of fewer treads begin further in: both end at the landing.
  const step = index + one.treads - flight.treads.length
  return {
    [flight.side]: `${step * TREAD_PX}px`,
    width: `${TREAD_PX - 1}px`,
    height: `${GROUND_PX + step * RISE_PX}px`,
    bottom: '0',
  }
}
const stateOf = (tread: Tread, flight: ShownStage) => ({
  reached: tread.isReached,
  clean: !tread.isReached && tread.isClean,
  here: tread.isHere && flight.isOpen,
  waits: !flight.isOpen,
})
const words = (tread: Tread, flight: ShownStage) =>
  tread.isReached
    ? 'reached'
    : tread.isHere && flight.isOpen
      ? 'you are here'
      : tread.isClean
        ? 'played clean'
        : flight.isOpen
          ? 'not yet'
          : 'later'
const label = (name: string, hands: Hands, tread: Tread, flight: ShownStage) =>
  `${HANDS_LABELS[hands]} at ${tempoFigure(tread.bpm, flight.meter)}, ${name}, ${words(tread, flight)}`
const isChosen = (place: number, flight: ShownStage, tread: Tread) =>
  chosen.value.place === place && chosen.value.hands === flight.hands && chosen.value.bpm === tread.bpm
const joinLink = (join: ShownJoin, bpm: number) =>
  standLink(props.parts[join.first]!.id, { hands: join.hands, bpm, stretch: join.stretch })
const joinWords = (join: ShownJoin) =>
  join.isDone ? 'joined' : join.isOpen ? 'can be joined now' : 'comes after its parts'
</script>

<template>
  <div class="all">
    <div v-if="hasSections" class="sections" role="group" aria-label="Sections">
      <button
        v-for="(section, index) in sections"
        :key="section.first"
        type="button"
        :aria-pressed="open === index"
        @click="open = index"
      >
        <span class="name">{{ section.name }}</span>
        <SmallStairs
          :parts="small.slice(section.first, section.first + section.count)"
          :next="nextPlace !== undefined && sectionOf(nextPlace) === index ? nextPlace - section.first : undefined"
          :label="section.status"
        />
        <span class="soft figure" aria-hidden="true">{{ section.status }}</span>
      </button>
    </div>
    <div class="seen">
      <ol class="stairs" :style="{ '--highest': `${highest}px` }">
        <li
          v-for="one in shown"
          :key="one.part.id"
          :class="{
            next: nextPlace === one.place,
            twin: chosen.place !== one.place && letters[chosen.place] === one.letter,
            chosen: chosen.place === one.place,
          }"
        >
          <section :aria-label="one.part.name">
            <div class="flights" :style="{ width: `${one.widthPx}px`, height: `${highest}px` }">
              <template v-for="flight in one.flights" :key="flight.hands">
                <button
                  v-for="(tread, step) in flight.treads"
                  :key="`${flight.hands} ${tread.bpm}`"
                  type="button"
                  :class="['tread', flight.hands, stateOf(tread, flight)]"
                  :style="styleOf(one, flight, step)"
                  :aria-label="label(one.part.name, flight.hands, tread, flight)"
                  :aria-pressed="isChosen(one.place, flight, tread)"
                  :title="label(one.part.name, flight.hands, tread, flight)"
                  @click="chosen = { place: one.place, hands: flight.hands, bpm: tread.bpm }"
                >
                  <span class="figure">{{ tempoFigure(tread.bpm, flight.meter) }}</span>
                </button>
              </template>
              <p v-if="one.flights.length === 0" class="soft rests">rests</p>
            </div>
            <h2>
              <button type="button" :aria-pressed="chosen.place === one.place" @click="chosen = { place: one.place }">
                <span class="letter">{{ one.letter }}</span> {{ one.part.name }}
              </button>
            </h2>
            <p v-if="hasTwins" class="twins" :style="{ maxWidth: `${one.widthPx}px` }">
              {{ twinsOf(one.place).length ? `same as ${twinsOf(one.place).join(', ')}` : '' }}
            </p>
          </section>
          <div v-if="one.seam || one.pair" class="landing" :style="{ paddingBottom: hasTwins ? '3.3rem' : '1.9rem' }">
            <NuxtLink
              v-for="join in [one.pair, one.seam].filter(one => one !== undefined)"
              :key="join.kind"
              :to="joinLink(join, currentBpm(join))"
              :class="['join', { reached: join.isDone, here: join.isOpen && !join.isDone, waits: !join.isOpen }]"
              :aria-label="`${sentence(unitText(join)).replace(/\.$/, '')}: ${joinWords(join)}`"
              :title="`${unitText(join)}: ${joinWords(join)}`"
              >{{ join.kind === 'seam' ? '⌒' : '+' }}</NuxtLink
            >
          </div>
        </li>
      </ol>
      <div class="details">
        <slot />
      </div>
    </div>
    <ul v-if="longer.length" class="longer" aria-label="Longer runs">
      <li v-for="join in longer" :key="`${join.first} ${join.last}`">
        <b>{{ sentence(unitText(join)).replace(/\.$/, '') }}</b>
        <NuxtLink
          v-for="tread in join.treads"
          :key="tread.bpm"
          :to="joinLink(join, tread.bpm)"
          :class="['join', 'both', stateOf(tread, join)]"
          :aria-label="label(unitText(join), join.hands, tread, join)"
        >
          <span class="figure">{{ tempoFigure(tread.bpm, join.meter) }}</span>
        </NuxtLink>
        <span class="soft">{{ joinWords(join) }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.all {
  display: grid;
  gap: calc(3 * var(--step));
}
.sections {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
}
.sections button {
  display: grid;
  gap: 0.3rem;
  justify-items: start;
  align-content: start;
  padding: var(--step) calc(1.5 * var(--step));
  border-top: 3px solid var(--rule);
  text-align: left;
  max-width: 100%;
}
.sections button:hover {
  background: var(--sheet);
}
.sections button[aria-pressed='true'] {
  background: var(--sheet);
  border-top-color: var(--together);
}
.sections .name {
  font-weight: 700;
}
.sections .soft {
  font-size: 0.9rem;
}
/* Beside the stairs where there is room, otherwise under them. */
.seen {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step)) calc(3 * var(--step));
  align-items: start;
}
.details {
  flex: 1 1 31rem;
  min-width: 0;
}
.stairs {
  display: flex;
  flex-wrap: wrap;
  min-width: 0;
  gap: calc(2 * var(--step)) 2px;
  align-items: end;
}
.stairs > li {
  display: flex;
  align-items: end;
}
.flights {
  position: relative;
  border-bottom: 3px solid var(--ink-soft);
  max-width: 100%;
}
.rests {
  position: absolute;
  bottom: 0;
  width: 100%;
  text-align: center;
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
.tread {
  position: absolute;
  background: var(--tread);
  border-top: 3px solid var(--hand);
  color: var(--ink);
  display: flex;
  align-items: start;
  justify-content: center;
  font-size: 0.78rem;
  line-height: 1.45;
}
.tread:hover,
.join:hover {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
  z-index: 1;
}
.tread.both {
  align-items: center;
}
.join {
  --hand: var(--together);
  min-width: 1.5rem;
  min-height: 1.75rem;
  padding-inline: 0.2rem;
  display: inline-grid;
  place-items: center;
  background: var(--tread);
  border-top: 3px solid var(--hand);
  font-size: 0.85rem;
}
/* Filled: reached. Filled from below: played clean. Framed and bold: you are here. Dotted top: waits for others. */
.reached {
  background: var(--hand);
  color: var(--sheet);
  font-weight: 600;
}
.clean {
  background: linear-gradient(to top, color-mix(in oklab, var(--hand) 30%, var(--tread)) 55%, var(--tread) 55%);
}
.here {
  background: var(--sheet);
  color: var(--ink);
  box-shadow: inset 0 0 0 2px var(--hand);
  font-weight: 800;
}
.waits {
  border-top-style: dotted;
}
h2 {
  height: 1.9rem;
}
h2 button {
  display: block;
  width: 100%;
  font-weight: 600;
  text-align: center;
  padding: 0.25rem 0.4rem 0;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
h2 button[aria-pressed='true'] {
  color: var(--together);
}
.stairs > .chosen .flights {
  border-color: var(--together);
  border-bottom-width: 5px;
}
.tread[aria-pressed='true'] {
  outline: 3px solid var(--ink);
  outline-offset: 0;
  z-index: 2;
}
.next h2 {
  text-decoration: underline;
  text-decoration-thickness: 3px;
  text-underline-offset: 5px;
  text-decoration-color: var(--together);
}
.twins {
  height: 1.4rem;
  font-size: 0.85rem;
  color: var(--ink-soft);
  text-align: center;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  margin: 0 auto;
}
/* Parts that are learned as one are shown as one. */
.twin .flights {
  border-color: var(--together);
}
.twin h2 button,
.twin .twins {
  color: var(--together);
}
.letter {
  font-family: var(--font-serif);
  color: var(--ink-soft);
  margin-right: 0.15rem;
}
.landing {
  display: grid;
  gap: 3px;
  padding-inline: 1px;
}
.longer {
  display: grid;
  gap: var(--step);
}
.longer li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 3px;
  border-top: 1px solid var(--rule);
  padding-top: var(--step);
}
.longer b {
  min-width: 14rem;
  font-weight: 600;
}
.longer .join {
  min-width: 3.25rem;
}
.longer .soft {
  margin-left: var(--step);
}
</style>
