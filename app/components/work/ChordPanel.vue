<script setup lang="ts">
import { inversionText, type PartChord } from '#core/hands/part-chords'
import { chordPlan } from '#core/music/chord-plan'
import { harmonyOf } from '#core/music/song-harmony'
import type { Arrangement } from '#core/music/arrangement'
import type { PartDraft } from '#core/parts/edit'
import { sectionRuns } from '#core/parts/edit'
import { planText } from '#core/words/chord-plan'
import type { NoteNames } from '#core/words/note-names'
import { beatText } from '#core/words/places'

const props = defineProps<{
  arrangement: Arrangement
  parts: readonly PartDraft[]
  part: PartDraft
  chords: readonly PartChord[]
  words: string
  names: NoteNames
}>()

function planOf({ from, to }: Pick<PartDraft, 'from' | 'to'>): string {
  const plan = chordPlan(props.arrangement, { from, to }, harmonyOf(props.arrangement, { from, to }))
  return plan ? planText(plan, props.names) : ''
}
const plan = computed(() => planOf(props.part))
/** The whole song is looked through only when it is asked for. */
const showsSong = ref(false)
const songPlan = computed(() =>
  showsSong.value
    ? sectionRuns(props.parts).flatMap(({ name, first, count }) => {
        const inside = props.parts.slice(first, first + count)
        const whole = name === undefined ? '' : planOf({ from: inside[0]!.from, to: inside.at(-1)!.to })
        // Where a section cannot be counted as one, its parts are.
        return whole
          ? [{ name: name!, text: whole }]
          : inside.map(piece => ({ name: piece.name, text: planOf(piece) || 'cannot be counted in whole beats' }))
      })
    : [],
)
</script>

<template>
  <div>
    <p class="words"><b>The hands play</b> {{ words || 'nothing: this part is silent' }}</p>
    <p v-if="plan" class="words"><b>Chord chart</b> {{ plan }}</p>
    <details class="words" @toggle="showsSong = ($event.target as HTMLDetailsElement).open">
      <summary>Chord chart of the whole song</summary>
      <dl>
        <template v-for="(one, place) in songPlan" :key="place">
          <dt>{{ one.name }}</dt>
          <dd>{{ one.text }}</dd>
        </template>
      </dl>
    </details>
    <div v-if="chords.length" class="ledger">
      <table>
        <thead>
          <tr>
            <th>Where</th>
            <th>Chord</th>
            <th>In the key</th>
            <th>Position</th>
            <th>Notes, lowest first</th>
            <th>Left hand</th>
            <th>Right hand</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="chord in chords" :key="`${chord.onset.n}/${chord.onset.d}`">
            <td class="figure">{{ chord.bar === 0 ? 'pickup' : `bar ${chord.bar}` }}, {{ beatText(chord.beat) }}</td>
            <th scope="row">
              {{ chord.symbol }}<span class="found">{{ chord.from === 'notes' ? ' heard' : '' }}</span>
            </th>
            <td>{{ chord.roman }}</td>
            <td>{{ inversionText(chord.inversion) }}</td>
            <td>
              {{ chord.notes.join(' ')
              }}<span v-if="chord.missing.length" class="found"> without {{ chord.missing.join(', ') }}</span>
            </td>
            <td>{{ chord.leftMove }}</td>
            <td>{{ chord.rightMove }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else>No clear chord here, and no chord symbol.</p>
  </div>
</template>

<style scoped>
.words {
  margin-bottom: calc(1.5 * var(--step));
  max-width: 60rem;
}
.found {
  color: var(--ink-soft);
  font-weight: 400;
  font-size: 0.9rem;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0.15rem calc(2 * var(--step));
  margin-top: var(--step);
}
dt {
  font-weight: 600;
}
summary {
  cursor: pointer;
}
</style>
