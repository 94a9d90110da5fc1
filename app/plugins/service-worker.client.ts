import { OFFLINE_CACHE } from '#shared/utils/kept-answers'

/** For whom answers are kept in this browser. */
const KEPT_FOR = 'half-step:kept-for'
/** The page comes first; what is kept for later is fetched when it rests, ms. */
const REST_MS = 4_000

/**
 * Caches the program and the server's answers in this browser, so that practice continues without the server; for one
 * player at a time.
 */
export default defineNuxtPlugin(() => {
  // Browsers refuse it on pages they do not trust, and in some private windows.
  if (!('serviceWorker' in navigator) || import.meta.dev) return
  const { user } = useUserSession()
  watch(
    () => user.value?.id,
    id => {
      // While the player is unknown (the server may be away) the cache is kept.
      if (id === undefined || localStorage.getItem(KEPT_FOR) === id) return
      localStorage.setItem(KEPT_FOR, id)
      void caches.delete(OFFLINE_CACHE)
    },
    { immediate: true },
  )
  onNuxtReady(() =>
    setTimeout(
      () => void navigator.serviceWorker.register('/sw.js', { updateViaCache: 'none' }).catch(() => {}),
      REST_MS,
    ),
  )
})
