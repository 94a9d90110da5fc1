/** Everything but the sign-in page belongs to a player. */
export default defineNuxtRouteMiddleware(to => {
  // A page that could not be made says so, whoever looks at it.
  if (useError().value) return
  const { loggedIn } = useUserSession()
  if (!loggedIn.value && to.path !== '/sign-in') return navigateTo('/sign-in')
})
