<script setup lang="ts">
import { HAND_CHOICES } from '~/utils/ui/choices'
import type { Fingering } from '#core/hands/fingering'
import { barAt, positionIn, type Arrangement, type Hand, type Note, EACH_HAND } from '#core/music/arrangement'
import type { ComparedFinger } from '#core/hands/alternatives'
import { comparedText, describeEvent } from '#core/words/fingering'
import { displayName, type NoteNames } from '#core/words/note-names'
import { barText, beatText } from '#core/words/places'

/** Fingers of the part: what is suggested, what a chosen note could have instead, and what the hands do. */
const props = defineProps<{
  arrangement: Arrangement
  fingerings: Record<Hand, Fingering>
  chosen: readonly string[]
  others: readonly ComparedFinger[]
  reach: number
  names: NoteNames
}>()
const emit = defineEmits<{ finger: [id: string, finger: number | null]; keep: [hand: Hand] }>()

const notes = computed(() => new Map(props.arrangement.notes.map(note => [note.id, note])))
const note = computed(() => (props.chosen.length === 1 ? notes.value.get(props.chosen[0]!) : undefined))
const found = computed(
  () => note.value && props.fingerings[note.value.hand].notes.find(one => one.id === note.value!.id),
)
const placeOf = (one: Note) => {
  const { bar, beat } = positionIn(barAt(props.arrangement, one.onset), one.onset)
  return `${barText(bar)}, ${beatText(beat)}`
}
const SERIOUS = ['beyond-reach', 'impossible']
const events = computed(() =>
  EACH_HAND.flatMap(hand =>
    props.fingerings[hand].events.flatMap(event => {
      const own = notes.value.get(event.id)
      return own
        ? [
            {
              key: `${event.kind}:${event.id}:${event.from}`,
              hand,
              place: placeOf(own),
              serious: SERIOUS.includes(event.kind),
              text: describeEvent(event, own.spelled, props.names),
              onset: own.onset.n / own.onset.d,
            },
          ]
        : []
    }),
  ).sort((a, b) => a.onset - b.onset),
)
const suggested = (hand: Hand) => props.fingerings[hand].notes.some(one => !one.locked)
</script>

<template>
  <div class="fingers">
    <div>
      <p class="soft">
        Italic digits are suggestions; upright ones are fixed, by the file or by you. Choose a note and type 1 to 5, or
        0 to clear it. Suggestions never stretch further than {{ reach }} half steps, as set in
        <NuxtLink to="/settings">Settings</NuxtLink>.
      </p>
      <div
        v-if="note && found"
        class="note"
        role="group"
        :aria-label="`Finger of ${displayName(note.spelled, true, names)}`"
      >
        <p>
          <b>{{ displayName(note.spelled, true, names) }}</b>, {{ note.hand }} hand, {{ placeOf(note) }}: finger
          <b>{{ found.finger }}</b>{{
            found.locked ? (note.fingerBy === 'player' ? ', yours' : ', from the file') : ', suggested'
          }}
        </p>
        <div class="digits">
          <UButton
            v-for="finger in [1, 2, 3, 4, 5]"
            :key="finger"
            :variant="found.finger === finger ? 'solid' : 'outline'"
            :aria-pressed="found.finger === finger"
            @click="emit('finger', note.id, finger)"
          >
            {{ finger }}
          </UButton>
          <UButton v-if="found.locked" variant="ghost" @click="emit('finger', note.id, null)"> Clear </UButton>
        </div>
        <ul v-if="others.length" class="soft" aria-label="Other fingers">
          <li v-for="other in others" :key="other.finger">
            <b class="figure">{{ other.finger }}</b> {{ comparedText(other) }}
          </li>
        </ul>
      </div>
      <p v-else>Choose a note to see what other fingers would cost.</p>
      <div class="digits">
        <UButton
          v-for="hand in HAND_CHOICES"
          :key="hand.value"
          variant="soft"
          :disabled="!suggested(hand.value)"
          @click="emit('keep', hand.value)"
        >
          Keep the suggestion for the {{ hand.label }}
        </UButton>
      </div>
    </div>
    <div>
      <h3>What the hands do</h3>
      <ul v-if="events.length">
        <li v-for="event in events" :key="event.key" :class="{ serious: event.serious }">
          <b :class="event.hand">{{ event.hand }}</b> {{ event.place }}: {{ event.text }}
        </li>
      </ul>
      <p v-else class="soft">Both hands stay in one position.</p>
    </div>
  </div>
</template>

<style scoped>
.fingers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: calc(4 * var(--step));
}
.soft a {
  text-decoration: underline;
}
.note {
  margin: calc(1.5 * var(--step)) 0;
}
.digits {
  display: flex;
  flex-wrap: wrap;
  gap: 0.375rem;
  margin: var(--step) 0;
}
h3 {
  font-weight: 700;
}
ul {
  display: grid;
  gap: 0.25rem;
  max-height: 16rem;
  overflow-y: auto;
}
.right {
  color: var(--right-hand);
}
.left {
  color: var(--left-hand);
}
.serious {
  color: var(--heard-wrong);
}
@media (max-width: 52rem) {
  .fingers {
    grid-template-columns: 1fr;
  }
}
</style>
