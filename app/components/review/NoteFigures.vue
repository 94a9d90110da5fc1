<script setup lang="ts">
import type { NoteAssessment } from '#core/ear/assessment'
import type { Arrangement } from '#core/music/arrangement'
import { spellInKey } from '#core/music/pitch'
import { displayName } from '#core/words/note-names'

const props = defineProps<{ note?: NoteAssessment; arrangement: Arrangement; toleranceMs: number }>()

const written = computed(() => props.arrangement.notes.find(one => one.id === props.note?.id))
const fifths = computed(() => props.arrangement.bars[written.value?.barIndex ?? 0]?.fifths ?? 0)
const figures = computed((): [string, string][] => {
  const { note } = props
  if (!note) return []
  const all: [string, string | undefined][] = [
    ['Outcome', note.sharedKey ? 'one key for both hands' : note.octave ? 'wrong: another octave' : note.outcome],
    [
      'Played',
      note.playedPitch === null || note.outcome === 'right'
        ? undefined
        : displayName(spellInKey(note.playedPitch, fifths.value)),
    ],
    [
      'Against the beat',
      note.deviationMs === null ? undefined : `${signed(note.deviationMs)} ms (± ${Math.round(props.toleranceMs)})`,
    ],
    ['In its chord', note.spreadMs === undefined ? undefined : `${signed(note.spreadMs)} ms from the middle`],
    ['Held', note.articulation === null ? undefined : `${Math.round(100 * note.articulation)} % of its length`],
    ['Into the next', note.overlapMs === undefined ? undefined : `${Math.round(note.overlapMs)} ms`],
    ['Loudness', note.velocity === null ? undefined : `${note.velocity} of 127`],
  ]
  return all.filter((one): one is [string, string] => one[1] !== undefined)
})
const signed = (ms: number) => `${ms > 0 ? '+' : ''}${Math.round(ms)}`
</script>

<template>
  <div class="figures" role="status" aria-live="polite">
    <p v-if="!note || !written">Choose a note in the music, the picture or the list to read what was measured of it.</p>
    <template v-else>
      <h3>
        {{ displayName(written.spelled) }}
        <span>bar {{ note.bar }}, beat {{ Number(note.beat.toFixed(2)) }}, {{ note.hand }} hand</span>
      </h3>
      <dl class="figure">
        <div v-for="[name, value] in figures" :key="name">
          <dt>{{ name }}</dt>
          <dd>{{ value }}</dd>
        </div>
      </dl>
    </template>
  </div>
</template>

<style scoped>
.figures {
  border-top: 1px solid var(--rule);
  padding: calc(1.5 * var(--step)) calc(3 * var(--step));
  min-height: 5.5rem;
}
h3 {
  font-weight: 700;
  font-size: 1.15rem;
}
h3 span {
  font-weight: 400;
  color: var(--ink-soft);
  font-size: 1rem;
  margin-left: 0.5rem;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem calc(3 * var(--step));
}
dl div {
  display: flex;
  gap: 0.5rem;
}
dt,
p {
  color: var(--ink-soft);
}
dd {
  font-weight: 600;
}
</style>
