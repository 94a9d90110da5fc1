import type { Strictness } from '#core/ear/parameters'

/** What the player has set for every pass; the server keeps it. */
export const useSettingsStore = defineStore('settings', () => {
  const strictness = ref<Strictness>('normal')
  const keyboardDelayMs = ref(0)
  const { loggedIn } = useUserSession()
  let asked: Promise<void> | undefined

  function take(settings: { strictness: Strictness, keyboardDelayMs: number }) {
    strictness.value = settings.strictness
    keyboardDelayMs.value = settings.keyboardDelayMs
  }

  /** Asks the server once; until it has answered, and where it does not, the usual settings hold. */
  async function load() {
    if (!loggedIn.value) return
    asked ??= useRequestFetch()('/api/settings').then(take).catch(() => { asked = undefined })
    await asked
  }

  async function change(settings: { strictness?: Strictness, keyboardDelayMs?: number }) {
    take(await $fetch('/api/settings', { method: 'PATCH', body: settings }))
  }

  return { strictness, keyboardDelayMs, load, change }
})
