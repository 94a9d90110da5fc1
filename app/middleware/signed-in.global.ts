/** What anybody may see; everything else belongs to a player. */
const PUBLIC_PAGES = ['/sign-in', '/licences']

export default defineNuxtRouteMiddleware(to => {
  // A page that failed to render says so to everybody.
  if (useError().value) return
  const { loggedIn } = useUserSession()
  if (!loggedIn.value && !PUBLIC_PAGES.includes(to.path)) return navigateTo('/sign-in')
})
