import { useEngraver } from '~/composables/notation/useEngraver'

/** While the first page rests the engraver gets ready: music is there at once when it is wanted. */
export default defineNuxtPlugin(app => {
  app.hook('app:suspense:resolve', () => {
    const { loggedIn } = useUserSession()
    if (loggedIn.value) onNuxtReady(() => useEngraver().warm())
  })
})
