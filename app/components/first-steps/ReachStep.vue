<script setup lang="ts">
import { useHeldKeys } from '~/composables/keyboards/useHeldKeys'
import { useSettingsStore } from '~/stores/settings'
import { choicesOf } from '~/utils/ui/choices'
import { useAction } from '~/composables/ui/useAction'
import { MIN_REACH, MAX_REACH, REACHES_HALF_STEPS } from '#core/hands/ergonomics'
import { reachText } from '#core/words/first-steps'

/** The reach of the hand, from the widest chord that is held. */
const emit = defineEmits<{ done: [] }>()
const settings = useSettingsStore()
const { chord } = useHeldKeys()
const REACHES = choicesOf(REACHES_HALF_STEPS, reachText)
const said = ref('')
const { act, problem } = useAction()
const span = computed(() => (chord.value.length > 1 ? chord.value.at(-1)! - chord.value[0]! : 0))

/** A chord that is held for a moment counts; the widest of them is kept as it is played. */
const keepIt = useDebounceFn(async (halfSteps: number) => {
  if (halfSteps < MIN_REACH) return
  if (halfSteps > MAX_REACH) {
    said.value = ''
    problem.value = `That is ${halfSteps} half steps, more than one hand: please play it with one hand.`
    return
  }
  await save(halfSteps)
}, 500)
async function save(reachHalfSteps: number) {
  await act(async () => {
    await settings.change({ reachHalfSteps })
    said.value = `Your hand reaches ${reachText(reachHalfSteps)}. Play another chord to change it.`
    emit('done')
  })
}
watch(span, now => void keepIt(now))
</script>

<template>
  <div class="step">
    <p class="large figure" role="status">
      {{ said || `Set until now: ${reachText(settings.reachHalfSteps)}.` }}
    </p>
    <ChoiceField
      label="Or choose it"
      :model-value="settings.reachHalfSteps"
      :choices="REACHES"
      @update:model-value="save"
    />
    <p v-if="problem" role="alert" class="problem">
      {{ problem }}
    </p>
  </div>
</template>
