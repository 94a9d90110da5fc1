import { useSettingsStore } from '~/stores/settings'
import type { Sound } from '~/sound/sound'

let made: Promise<Sound> | undefined

async function make(): Promise<Sound> {
  const { makeSound } = await import('~/sound/make-sound')
  const sound = await makeSound()
  sound.mixer.set(useSettingsStore().sound.mix)
  return sound
}

/** The program's sound, made at the player's first key or click as browsers ask. What it is made of is only loaded then. */
export function useSound() {
  return {
    /** The sound if it was made already: nobody's page makes a sound before it is touched. */
    started: (): Promise<Sound> | undefined => made,
    start: (): Promise<Sound> => made ??= make().catch((error: unknown) => { made = undefined; throw error }),
  }
}
