<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { useWording } from '~/composables/ui/useWording'
import { standLink } from '~/utils/stand/standLink'
import type { Finding, FindingKind } from '#core/ear/finding'
import type { Hands } from '#core/music/arrangement'
import type { SpanPlace } from '#core/music/stretch-place'
import { passName } from '#core/words/passes'

interface LoggedPass {
  id: string
  songTitle: string
  partName: string
  partId: string | null
  hands: Hands
  bpm: number
  startedAt: string
  notes: number
  right: number
  onTimeShare: number
  clean: boolean
  found: Finding[] | null
  sentence: string | null
  place: SpanPlace | null
  fromN: number
  fromD: number
  toN: number
  toD: number
  cleanBut: FindingKind[]
  cleanBefore: boolean | null
  mode: 'steady' | 'free' | 'own-time'
  remark: string
}

/** `chosen`: passes to be compared, by id. */
defineProps<{ passes: readonly LoggedPass[]; chosen: readonly string[] }>()
defineEmits<{ choose: [id: string, on: boolean] }>()
const { told } = useWording()
const dates = useDates()
/** The same bars and hands again, in the same way. */
const againLink = ({ partId, hands, bpm, mode, place, fromN, fromD, toN, toD }: LoggedPass) =>
  standLink(partId!, {
    hands,
    bpm,
    mode: mode === 'own-time' ? mode : 'steady',
    stretch: place === null ? undefined : { from: { n: fromN, d: fromD }, to: { n: toN, d: toD } },
  })
const HANDS: Record<Hands, string> = { left: 'left', right: 'right', both: 'together' }
</script>

<template>
  <div class="ledger" tabindex="0" role="group" aria-label="Passes">
    <table>
      <thead>
        <tr>
          <th scope="col">Time</th>
          <th scope="col">Part</th>
          <th scope="col">Hands</th>
          <th scope="col" class="number">bpm</th>
          <th scope="col" class="number">Right</th>
          <th scope="col" class="number">In time</th>
          <th scope="col">Result</th>
          <th scope="col">Take</th>
          <th scope="col">Compare</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="pass in passes" :key="pass.id">
          <td class="figure">
            {{ dates.timeOfDay(pass.startedAt) }}
          </td>
          <td>
            <NuxtLink v-if="pass.partId" :to="againLink(pass)">{{ pass.songTitle }}: {{ passName(pass) }}</NuxtLink>
            <template v-else> {{ pass.songTitle }}: {{ passName(pass) }} </template>
          </td>
          <td>{{ HANDS[pass.hands] }}</td>
          <td class="figure number">
            {{ pass.mode === 'own-time' ? 'own time' : Math.round(pass.bpm) }}
          </td>
          <td class="figure number">{{ pass.right }} of {{ pass.notes }}</td>
          <td class="figure number">
            {{ pass.mode === 'own-time' ? '–' : `${Math.round(pass.onTimeShare * 100)} %` }}
          </td>
          <td>
            <span v-if="pass.clean" class="clean">✓{{ ' ' }}</span>
            <NuxtLink :to="`/passes/${pass.id}`">{{ told(pass) }}</NuxtLink><i
              v-if="pass.cleanBefore !== null"
              class="remark"
              >reassessed; it counted as {{ pass.cleanBefore ? 'clean' : 'not clean' }} when it was played</i
            ><i v-if="pass.remark" class="remark">“{{ pass.remark }}”</i>
          </td>
          <td>
            <a :href="`/api/passes/${pass.id}/take`" :aria-label="`Take of ${dates.timeOfDay(pass.startedAt)} as MIDI`"
              >MIDI</a
            >
          </td>
          <td>
            <UCheckbox
              :model-value="chosen.includes(pass.id)"
              :aria-label="`Compare the pass of ${dates.timeOfDay(pass.startedAt)}`"
              @update:model-value="$emit('choose', pass.id, $event === true)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.number {
  text-align: right;
  white-space: nowrap;
}
a {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.remark {
  display: block;
  color: var(--ink-soft);
}
.clean {
  color: var(--heard-right);
  font-weight: 700;
}
td:nth-child(2) {
  min-width: 15rem;
}
td:nth-child(7) {
  min-width: 16rem;
}
</style>
