import { computed, ref, shallowRef, watch } from 'vue'
import { defineStore } from 'pinia'
import type { TimedMessage } from '#core/ear/take'
import { computerKeys } from '~/keyboards/computer-keys'
import { onScreenKeys } from '~/keyboards/on-screen'
import { simulatedKeys } from '~/keyboards/simulated'
import type { KeyboardSource } from '~/keyboards/source'
import { followMidiInputs, type MidiAccess } from '~/keyboards/web-midi'

type Heard = (message: TimedMessage, source: KeyboardSource) => void

/**
 * The keyboards there are and which of them are listened to. MIDI keyboards are listened to as soon as they are
 * plugged in; the others when the player chooses them.
 */
export const useKeyboardsStore = defineStore('keyboards', () => {
  const access = ref<MidiAccess>('asking')
  const midiInputs = shallowRef<KeyboardSource[]>([])
  const silenced = ref(new Set<string>())
  const chosen = ref(new Set<string>())
  /** The name of a keyboard that was unplugged while it was listened to. */
  const lost = ref('')
  const onScreen = onScreenKeys()
  const simulated = simulatedKeys(20_261)
  const extras: KeyboardSource[] = [computerKeys(), onScreen, simulated]

  const listening = computed(() => [
    ...midiInputs.value.filter(source => !silenced.value.has(source.id)),
    ...extras.filter(source => chosen.value.has(source.id)),
  ])
  const hearers = new Set<Heard>()
  const stops = new Map<string, { source: KeyboardSource; stop: () => void }>()
  let unfollow: (() => void) | undefined
  let users = 0

  function follow(sources: readonly KeyboardSource[]) {
    for (const [id, { source, stop }] of stops) {
      if (sources.includes(source)) continue
      stops.delete(id)
      stop()
    }
    for (const source of sources) {
      if (stops.has(source.id)) continue
      const stop = source.listen(message => {
        for (const heard of hearers) heard(message, source)
      })
      stops.set(source.id, { source, stop })
    }
  }

  /** Hears every keyboard that is listened to, until the function it gives back is called. */
  function hear(heard: Heard): () => void {
    hearers.add(heard)
    if (users++ === 0) {
      void followMidiInputs((state, inputs) => {
        // While access is being requested again, the plugged-in devices are unknown.
        const gone =
          state === 'ready' ? midiInputs.value.find(source => !inputs.some(input => input.id === source.id)) : undefined
        lost.value = gone ? gone.name : inputs.length > 0 ? '' : lost.value
        access.value = state
        midiInputs.value = inputs
      }).then(stop => {
        if (users > 0) unfollow = stop
        else stop()
      })
      follow(listening.value)
    }
    return () => {
      hearers.delete(heard)
      if (--users > 0) return
      unfollow?.()
      unfollow = undefined
      follow([])
    }
  }
  watch(listening, sources => {
    if (users > 0) follow(sources)
  })

  function choose(id: string, on: boolean) {
    const next = new Set(chosen.value)
    if (on) next.add(id)
    else next.delete(id)
    chosen.value = next
  }

  function silence(id: string, off: boolean) {
    const next = new Set(silenced.value)
    if (off) next.add(id)
    else next.delete(id)
    silenced.value = next
  }

  return { access, midiInputs, silenced, chosen, lost, extras, onScreen, simulated, listening, hear, choose, silence }
})
