<script setup lang="ts">
import type { NoteAssessment } from '#core/ear/assessment'
import type { Arrangement } from '#core/music/arrangement'
import { spellInKey } from '#core/music/pitch'
import { displayName } from '#core/words/note-names'

const props = defineProps<{ notes: readonly NoteAssessment[]; arrangement: Arrangement; chosen: string }>()
const emit = defineEmits<{ choose: [id: string] }>()

const written = computed(() => new Map(props.arrangement.notes.map(note => [note.id, note])))
/** Only what went otherwise than written, or everything. */
const everything = ref(false)
const rows = computed(() =>
  props.notes
    .filter(note => everything.value || note.outcome !== 'right' || note.overlapMs !== undefined)
    .map(note => {
      const own = written.value.get(note.id)
      const fifths = props.arrangement.bars[own?.barIndex ?? 0]?.fifths ?? 0
      return {
        note,
        key: `${note.id}:${note.time ?? 1}`,
        name: displayName(own?.spelled ?? ''),
        outcome: note.sharedKey ? 'shared key' : note.octave ? 'octave' : note.outcome,
        played:
          note.playedPitch === null || note.outcome === 'right'
            ? ''
            : displayName(spellInKey(note.playedPitch, fifths)),
      }
    }),
)
const ms = (value: number | null | undefined) =>
  value === null || value === undefined ? '' : `${value > 0 ? '+' : ''}${Math.round(value)}`
</script>

<template>
  <USwitch v-model="everything" label="Show every note, not only those that went otherwise" />
  <p v-if="rows.length === 0">Every note went as it is written.</p>
  <div v-else class="ledger card scroll" tabindex="0" role="group" aria-label="Note by note">
    <table class="figure">
      <thead>
        <tr>
          <th
            v-for="heading in [
              'Note',
              'Bar',
              'Beat',
              'Hand',
              'Outcome',
              'Played',
              'Deviation, ms',
              'In chord, ms',
              'Held, %',
              'Overlap, ms',
              'Loudness',
            ]"
            :key="heading"
            scope="col"
          >
            {{ heading }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ note, key, name, outcome, played } in rows" :key="key" :class="{ chosen: note.id === chosen }">
          <th scope="row">
            <button type="button" :aria-pressed="note.id === chosen" @click="emit('choose', note.id)">
              {{ name }}
            </button>
          </th>
          <td>{{ note.bar }}</td>
          <td>{{ Number(note.beat.toFixed(2)) }}</td>
          <td>{{ note.hand }}</td>
          <td :class="note.sharedKey ? 'right' : note.outcome">
            {{ outcome }}
          </td>
          <td>{{ played }}</td>
          <td>{{ ms(note.deviationMs) }}</td>
          <td>{{ ms(note.spreadMs) }}</td>
          <td>{{ note.articulation === null ? '' : Math.round(100 * note.articulation) }}</td>
          <td>{{ ms(note.overlapMs) }}</td>
          <td>{{ note.velocity ?? '' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: 30rem;
  margin-top: var(--step);
}
th,
td {
  white-space: nowrap;
}
.scroll thead th {
  position: sticky;
  top: 0;
  background: var(--sheet);
  padding-top: 0.6rem;
}
button {
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  min-width: 2rem;
  min-height: 1.5rem;
  text-align: left;
  font-weight: 600;
}
.chosen {
  background: color-mix(in oklab, var(--together) 14%, var(--sheet));
}
.wrong {
  color: var(--heard-wrong);
  font-weight: 600;
}
.missed {
  color: var(--heard-missed);
  font-weight: 600;
}
p {
  margin-top: var(--step);
  color: var(--ink-soft);
}
</style>
