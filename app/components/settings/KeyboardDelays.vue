<script setup lang="ts">
import { useCalibration } from '~/composables/sound/useCalibration'
import { useDates } from '~/composables/ui/useDates'
import { useKeyboardsStore } from '~/stores/keyboards'
import { withDelay, type KeyboardDelay } from '#shared/utils/settings'
import { CALIBRATION, isWireless } from '#core/ear/calibration'
import { delayText } from '#core/words/sound'
import { plural } from '#core/words/amounts'

/** How late each keyboard is heard against the click: measured by tapping, kept with its date, taken off every key. */
const props = defineProps<{ delays: readonly KeyboardDelay[] }>()
const emit = defineEmits<{ change: [delays: KeyboardDelay[]] }>()
const { isRunning, problem, beat, offs, measured, start, stop } = useCalibration()
const keyboards = useKeyboardsStore()
const dates = useDates()
const found = computed(() => (measured.value && 'delayMs' in measured.value ? measured.value : undefined))
const refusal = computed(() => {
  const one = measured.value
  if (!one || 'delayMs' in one) return ''
  return one.why === 'few'
    ? `Only ${plural(one.taps, 'tap')} came with the click; at least ${CALIBRATION.fewest} are needed. Tap one key with every click.`
    : `The taps lie too far apart (${one.spreadMs} ms) to say how late the keyboard is. Try again, tapping with the click as evenly as you can.`
})

function keep() {
  const { keyboard, outputMs, delayMs, spreadMs } = found.value!
  emit(
    'change',
    withDelay(props.delays, { keyboard, outputMs, delayMs, spreadMs, measuredAt: new Date().toISOString() }),
  )
  measured.value = undefined
}

/** Where a tap stands in the picture: from 150 ms early to 300 ms late. */
const placeOf = (ms: number): string => `${Math.max(0, Math.min(100, (ms + 150) / 4.5))}%`
onMounted(() => {
  onBeforeUnmount(keyboards.hear(() => {}))
})
</script>

<template>
  <fieldset class="measure">
    <legend>Keyboard delay</legend>
    <p>
      Between the click you hear and the key the program hears lies a delay: a few milliseconds by cable, a fifth of a
      second with wireless sound. Tap any one key with the click for about twenty seconds, as you would play. What is
      measured is taken off every key when your timing is judged; your own habit of tapping slightly early is part of
      it.
    </p>
    <div class="run">
      <UButton
        :icon="isRunning ? 'i-lucide-square' : 'i-lucide-metronome'"
        variant="outline"
        @click="isRunning ? stop() : start()"
      >
        {{ isRunning ? 'Stop' : 'Measure the delay' }}
      </UButton>
      <span v-if="isRunning" class="figure">{{ beat }} of {{ CALIBRATION.beats }}</span>
    </div>
    <div
      v-if="isRunning || offs.length > 0"
      class="picture"
      role="img"
      :aria-label="`${plural(offs.length, 'tap')} so far`"
    >
      <span class="click" :style="{ left: placeOf(0) }">click</span>
      <i v-for="(ms, index) in offs" :key="index" class="tap" :style="{ left: placeOf(ms) }" />
    </div>
    <p v-if="problem || refusal" role="alert">
      {{ problem || refusal }}
    </p>
    <div v-if="found" class="found" role="status">
      <p>
        <b>{{ found.keyboard }}</b>: {{ delayText(found) }}
        <template v-if="isWireless(found.delayMs) || isWireless(found.outputMs)">
          That is the delay of wireless sound. It can be taken off when you are judged, but what you play along with
          will always feel late: a cable, or the computer's own loudspeaker, is better for practising.
        </template>
      </p>
      <UButton @click="keep"> Use this </UButton>
    </div>
    <table v-if="delays.length > 0">
      <caption class="sr-only">
        Measured keyboards
      </caption>
      <thead>
        <tr>
          <th>Keyboard</th>
          <th>Delay</th>
          <th>Spread</th>
          <th>Sound</th>
          <th>Measured</th>
          <th><span class="sr-only">Forget</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in delays" :key="`${one.keyboard} ${one.outputMs}`">
          <td>{{ one.keyboard }}</td>
          <td class="figure">{{ one.delayMs }} ms</td>
          <td class="figure">{{ one.spreadMs }} ms</td>
          <td>{{ isWireless(one.outputMs) || isWireless(one.delayMs) ? 'wireless' : 'by cable' }}</td>
          <td>
            <ClientOnly>{{ dates.dayName(one.measuredAt) }}</ClientOnly>
          </td>
          <td>
            <UButton
              variant="ghost"
              color="neutral"
              icon="i-lucide-x"
              :aria-label="`Forget the delay of ${one.keyboard}`"
              @click="
                emit(
                  'change',
                  delays.filter(other => other !== one),
                )
              "
            />
          </td>
        </tr>
      </tbody>
    </table>
  </fieldset>
</template>

<style scoped>
legend {
  float: left;
  width: 100%;
  font-weight: 700;
  font-size: 1.15rem;
}
p {
  color: var(--ink-soft);
}
.run {
  display: flex;
  align-items: center;
  gap: calc(2 * var(--step));
}
.picture {
  position: relative;
  width: 100%;
  height: 3.2rem;
  background: var(--ground);
  border-radius: 0.3rem;
  overflow: hidden;
}
.click {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 3px solid var(--ink);
  padding-left: 0.35rem;
  font-size: 0.8rem;
  color: var(--ink-soft);
}
.tap {
  position: absolute;
  bottom: 0.5rem;
  width: 0.6rem;
  height: 1.3rem;
  margin-left: -0.3rem;
  background: var(--together);
  opacity: 0.55;
  border-radius: 0.15rem;
}
.found {
  display: grid;
  gap: var(--step);
  justify-items: start;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 0.3rem 0.6rem 0.3rem 0;
  border-bottom: 1px solid var(--rule);
}
th {
  font-weight: 600;
}
</style>
