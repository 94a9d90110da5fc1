import { ref } from 'vue'
import { defineStore } from 'pinia'
import { useDebounceFn } from '@vueuse/core'
import { delayOf, STAND_LOOK, type KeyboardDelay, type PlayerSettings, type StandLook } from '#shared/utils/settings'
import { SOUND, type SoundSettings } from '#shared/utils/sound'
import type { Controls } from '#shared/utils/controls'
import type { CoachSettings } from '#core/coach/settings'
import type { Strictness } from '#core/ear/parameters'
import type { NoteNames } from '#core/words/note-names'

const KEPT_AFTER_MS = 600

/** What the player has set for every pass; the server keeps it. */
export const useSettingsStore = defineStore('settings', () => {
  const strictness = ref<Strictness>('normal')
  const keyboardDelayMs = ref(0)
  const reachHalfSteps = ref(15)
  const noteNames = ref<NoteNames>('letters')
  const coach = ref<Partial<CoachSettings>>({})
  const sessionMinutes = ref(30)
  const controls = ref<Controls>({})
  const stand = ref<StandLook>(STAND_LOOK)
  const sound = ref<SoundSettings>(SOUND)
  const delays = ref<KeyboardDelay[]>([])
  const { loggedIn } = useUserSession()
  let asked: Promise<void> | undefined

  function take(settings: PlayerSettings) {
    strictness.value = settings.strictness
    keyboardDelayMs.value = settings.keyboardDelayMs
    reachHalfSteps.value = settings.reachHalfSteps
    noteNames.value = settings.noteNames
    coach.value = settings.coach
    sessionMinutes.value = settings.sessionMinutes
    controls.value = settings.controls
    stand.value = { ...STAND_LOOK, ...settings.stand }
    sound.value = { ...SOUND, ...settings.sound }
    delays.value = settings.delays
    if (import.meta.client) void keepTimeZone(settings.timeZone)
  }

  /** The player's days begin and end where the player is. */
  async function keepTimeZone(known: string) {
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions()
    if (timeZone && timeZone !== known)
      await $fetch('/api/settings', { method: 'PATCH', body: { timeZone } }).catch(() => {})
  }

  /** Asks the server once; until it has answered, and where it does not, the usual settings hold. */
  async function load() {
    if (!loggedIn.value) return
    asked ??= useRequestFetch()('/api/settings')
      .then(take)
      .catch(() => {
        asked = undefined
      })
    await asked
  }

  async function change(settings: Partial<PlayerSettings>) {
    take(await $fetch<PlayerSettings>('/api/settings', { method: 'PATCH', body: settings }))
  }

  /**
   * How late a keyboard answers with an output of such a delay, ms: as it was measured, else as the player has set it
   * for all.
   */
  const delayMsOf = (keyboard: string | undefined, outputMs: number): number =>
    (keyboard === undefined ? undefined : delayOf(delays.value, keyboard, outputMs)?.delayMs) ?? keyboardDelayMs.value

  const keepSound = useDebounceFn(() => change({ sound: sound.value }).catch(() => {}), KEPT_AFTER_MS)
  /** A change of the sound holds at once; the server keeps it a moment later, when the fader rests. */
  function changeSound(changed: Partial<SoundSettings>) {
    sound.value = { ...sound.value, ...changed }
    void keepSound()
  }

  return {
    sound,
    delays,
    delayMsOf,
    changeSound,
    strictness,
    keyboardDelayMs,
    reachHalfSteps,
    noteNames,
    coach,
    sessionMinutes,
    controls,
    stand,
    load,
    change,
  }
})
