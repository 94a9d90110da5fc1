import { watch } from 'vue'
import { midiOutputs } from '~/keyboards/web-midi'
import { useSettingsStore } from '~/stores/settings'
import type { Sound } from '~/sound/sound'

/** Where this machine remembers which instrument plays for the program's piano. */
export const PIANO_OUTPUT = 'half-step:piano-output'

let made: Promise<Sound> | undefined

async function make(): Promise<Sound> {
  const { makeSound } = await import('~/sound/make-sound')
  const sound = await makeSound()
  const settings = useSettingsStore()
  // Volumes are heard as soon as they are set, for as long as there is this sound.
  watch(
    () => settings.sound.mix,
    mix => sound.mixer.set(mix),
    { immediate: true },
  )
  const output = localStorage.getItem(PIANO_OUTPUT)
  // Where that instrument is not plugged in, this computer plays.
  if (output)
    void midiOutputs()
      .then(all => sound.setPianoOutput(all.find(one => one.name === output)))
      .catch(() => {})
  return sound
}

/**
 * The program's sound, made at the player's first key or click as browsers ask. What it is made of is only loaded then.
 */
export function useSound() {
  return {
    /** The sound if it was started already: no page makes a sound before it is touched. */
    started: (): Promise<Sound> | undefined => made,
    start: (): Promise<Sound> =>
      (made ??= make().catch((error: unknown) => {
        made = undefined
        throw error
      })),
  }
}
