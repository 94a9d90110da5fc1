<script setup lang="ts">
import { useKeyboardsStore } from '~/stores/keyboards'
import { STAND_ACTIONS, isSameTrigger, type Controls, type StandAction, type Trigger } from '#shared/utils/controls'
import { spellInKey } from '#core/music/pitch'
import { displayName } from '#core/words/note-names'

/** Piano keys and pedals given to what the Stand does. */
const props = defineProps<{ controls: Controls }>()
const emit = defineEmits<{ change: [controls: Controls] }>()
const keyboards = useKeyboardsStore()
const asking = ref<StandAction>()
const NAMES: Record<StandAction, string> = {
  start: 'Start and stop',
  again: 'Again',
  slower: 'Slower',
  faster: 'Faster',
  next: 'Next',
  from: 'Begin the loop here',
  to: 'End the loop here',
  back: 'Back to the part',
  listen: 'Hear it',
}
const PEDALS = { 64: 'sustain pedal', 66: 'middle pedal', 67: 'left pedal' } as const
const nameOf = (trigger: Trigger | undefined) =>
  !trigger
    ? 'none'
    : 'key' in trigger
      ? `the key ${displayName(spellInKey(trigger.key, 0))}`
      : `the ${PEDALS[trigger.pedal]}`

onMounted(() => {
  const unhear = keyboards.hear(({ bytes }) => {
    const [kind, first, second] = [(bytes[0] ?? 0) & 0xf0, bytes[1] ?? 0, bytes[2] ?? 0]
    if (!asking.value) return
    if (kind === 0x90 && second > 0) give(asking.value, { key: first })
    else if (kind === 0xb0 && second >= 64 && (first === 64 || first === 66 || first === 67))
      give(asking.value, { pedal: first })
  })
  onBeforeUnmount(unhear)
})

/** A key does one thing: given to another it leaves the first. */
function give(action: StandAction, trigger: Trigger | undefined) {
  asking.value = undefined
  const others = Object.fromEntries(
    Object.entries(props.controls).filter(([key, other]) => key !== action && !isSameTrigger(other, trigger)),
  )
  emit('change', trigger ? { ...others, [action]: trigger } : others)
}
</script>

<template>
  <fieldset class="controls">
    <legend>Hands-free</legend>
    <p class="soft">
      Assign keys at the ends of the piano, or a pedal, to what you would otherwise click. On the Stand, an assigned key
      does not count as a note.
    </p>
    <ul>
      <li v-for="action in STAND_ACTIONS" :key="action">
        <b>{{ NAMES[action] }}</b>
        <span :role="asking === action ? 'status' : undefined">{{
          asking === action ? 'Press a key or pedal …' : nameOf(controls[action])
        }}</span>
        <UButton
          variant="outline"
          :aria-label="`Assign a key to ${NAMES[action]}`"
          @click="asking = asking === action ? undefined : action"
        >
          {{ asking === action ? 'Cancel' : 'Assign' }}
        </UButton>
        <UButton
          v-if="controls[action]"
          variant="ghost"
          color="neutral"
          :aria-label="`Clear the key of ${NAMES[action]}`"
          @click="give(action, undefined)"
        >
          Clear
        </UButton>
      </li>
    </ul>
  </fieldset>
</template>

<style scoped>
fieldset.controls {
  justify-items: stretch;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(2 * var(--step));
  display: grid;
  gap: var(--step);
}
legend {
  float: left;
  width: 100%;
  font-weight: 700;
  font-size: 1.15rem;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step) calc(2 * var(--step));
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 0.4rem 0;
}
b {
  min-width: 9rem;
  font-weight: 600;
}
span {
  flex: 1;
  min-width: 10rem;
}
</style>
