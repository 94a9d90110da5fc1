import { useKeysSound } from '~/composables/sound/useKeysSound'
import { useKeyboardsStore } from '~/stores/keyboards'
import { keyEvent } from '#core/ear/take'

/**
 * The keys that are down on the keyboards that are listened to, what was pressed last and where; sounded where they are
 * silent by themselves.
 */
export function useHeldKeys() {
  const keyboards = useKeyboardsStore()
  const soundKey = useKeysSound()
  const held = shallowRef<ReadonlySet<number>>(new Set())
  const last = shallowRef<{ pitch: number; keyboard: string }>()
  /** The most keys held together since the last key was pressed from rest. */
  const chord = shallowRef<readonly number[]>([])
  onMounted(() => {
    onBeforeUnmount(
      keyboards.hear((message, source) => {
        soundKey(message, source)
        const event = keyEvent(message)
        if (event?.kind !== 'down' && event?.kind !== 'up') return
        const before = held.value
        const next = new Set(before)
        if (event.kind === 'down') {
          next.add(event.pitch)
          last.value = { pitch: event.pitch, keyboard: source.name }
          chord.value =
            before.size === 0 ? [event.pitch] : [...new Set([...chord.value, event.pitch])].sort((a, b) => a - b)
        } else next.delete(event.pitch)
        held.value = next
      }),
    )
  })
  return { held, last, chord }
}
