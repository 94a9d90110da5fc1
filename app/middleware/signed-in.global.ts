/** Everything but the sign-in page belongs to a player. */
export default defineNuxtRouteMiddleware((to) => {
  const { loggedIn } = useUserSession()
  if (!loggedIn.value && to.path !== '/sign-in') return navigateTo('/sign-in')
})
