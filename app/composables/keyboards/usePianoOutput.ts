import { ref, shallowRef } from 'vue'
import { midiOutputs } from '~/keyboards/web-midi'
import type { MidiOut } from '~/sound/midi-voice'
import { PIANO_OUTPUT, useSound } from '../sound/useSound'

/**
 * Which instrument plays what the program's piano would: this computer, or one on a cable, remembered on this machine
 * by its name ('' is this computer).
 */
export function usePianoOutput({
  outputs = midiOutputs as () => Promise<readonly MidiOut[]>,
  started = useSound().started,
  storage = localStorage as Pick<Storage, 'getItem' | 'setItem'>,
} = {}) {
  const chosen = ref(storage.getItem(PIANO_OUTPUT) ?? '')
  const all = shallowRef<readonly MidiOut[]>([])

  /** Looks what is plugged in. */
  async function look() {
    all.value = await outputs()
  }

  function choose(name: string) {
    chosen.value = name
    storage.setItem(PIANO_OUTPUT, name)
    void started()
      ?.then(sound => sound.setPianoOutput(all.value.find(output => output.name === name)))
      .catch(() => {})
  }

  return { chosen, all, look, choose }
}
