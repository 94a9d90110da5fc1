import { useSound } from '~/composables/sound/useSound'
import { useSettingsStore } from '~/stores/settings'
import { keyEvent, type TimedMessage } from '#core/ear/take'
import type { KeyboardSource } from '~/keyboards/source'

/** Lets the program's piano sound for keys that are silent by themselves: to be told of every message. */
export function useKeysSound() {
  const settings = useSettingsStore()
  return (message: TimedMessage, source: KeyboardSource): void => {
    if (!settings.sound.keysSound || !(source.silent || settings.sound.midiIsSilent)) return
    const event = keyEvent(message)
    void useSound()
      .start()
      .then(sound => {
        if (event?.kind === 'down') sound.press(event.pitch, event.velocity)
        if (event?.kind === 'up') sound.release(event.pitch)
      })
  }
}
