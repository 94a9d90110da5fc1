<script setup lang="ts">
import { inversionText, type PartChord } from '#core/hands/part-chords'
import { beatText } from '#core/words/places'

defineProps<{ chords: readonly PartChord[], words: string }>()
const symbolText = (symbol: string) => symbol.replaceAll('#', '♯').replace(/(?<=[A-G])b/g, '♭').replace(/b(?=\d)/g, '♭')
</script>

<template>
  <div>
    <p class="words">
      <b>The hands fall</b> {{ words || 'nowhere: this part is silent' }}
    </p>
    <div
      v-if="chords.length"
      class="ledger"
    >
      <table>
        <thead>
          <tr><th>Where</th><th>Chord</th><th>In the key</th><th>Position</th><th>Notes, from the left</th><th>Left hand</th><th>Right hand</th></tr>
        </thead>
        <tbody>
          <tr
            v-for="chord in chords"
            :key="`${chord.onset.n}/${chord.onset.d}`"
          >
            <td class="figure">
              {{ chord.bar === 0 ? 'pickup' : `bar ${chord.bar}` }}, {{ beatText(chord.beat) }}
            </td>
            <th scope="row">
              {{ symbolText(chord.symbol) }}<span class="found">{{ chord.from === 'notes' ? ' heard' : '' }}</span>
            </th>
            <td>{{ chord.roman }}</td>
            <td>{{ inversionText(chord.inversion) }}</td>
            <td>
              {{ chord.notes.join(' ') }}<span
                v-if="chord.missing.length"
                class="found"
              > without {{ chord.missing.join(', ') }}</span>
            </td>
            <td>{{ chord.leftMove }}</td>
            <td>{{ chord.rightMove }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else>
      No chord of three notes is struck here, and no chord symbol is written.
    </p>
  </div>
</template>

<style scoped>
.words { margin-bottom: calc(1.5 * var(--step)); max-width: 60rem; }
.found { color: var(--ink-soft); font-weight: 400; font-size: 0.9rem; }
</style>
