/// <reference lib="webworker" />
import { clientsClaim } from 'workbox-core'
import { ExpirationPlugin } from 'workbox-expiration'
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'
import { CacheFirst, NetworkFirst } from 'workbox-strategies'
import { AWAY_STATUSES, isKeptAnswer, KEPT_ANSWERS, keptName, SERVER_CHANNEL, SHELL, type ServerNews } from '../utils/keptAnswers'

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string, revision: string | null }[] }

/** So long a server is waited for while there is something kept in its place, seconds. */
const PATIENCE = { answer: 6, page: 8 } as const
const [MOST_ANSWERS, MOST_SOUNDS] = [600, 160]

// What the program is made of. A new version takes its place when all pages of the old one are closed: none of them loses a piece under way.
precacheAndRoute(self.__WB_MANIFEST)
cleanupOutdatedCaches()
clientsClaim()

const channel = new BroadcastChannel(SERVER_CHANNEL)
const tell = (news: ServerNews) => channel.postMessage(news)
const isAway = (answer: Response) => AWAY_STATUSES.includes(answer.status)

// What the server last said, in its place while it is away.
const KEPT_AT = 'x-half-step-kept-at'
registerRoute(({ url, request }) => request.method === 'GET' && isKeptAnswer(url.pathname), new NetworkFirst({
  cacheName: KEPT_ANSWERS, networkTimeoutSeconds: PATIENCE.answer,
  plugins: [
    {
      cacheKeyWillBeUsed: async ({ request }) => keptName(new URL(request.url)),
      fetchDidSucceed: async ({ response }) => {
        if (isAway(response)) throw new Error('the server is away')
        tell({ kind: 'there' })
        return response
      },
      cacheWillUpdate: async ({ response }) => {
        if (response.status !== 200) return null
        const headers = new Headers(response.headers)
        headers.set(KEPT_AT, new Date().toISOString())
        return new Response(await response.blob(), { status: 200, headers })
      },
      cachedResponseWillBeUsed: async ({ cachedResponse }) => {
        if (cachedResponse) tell({ kind: 'away', keptAt: cachedResponse.headers.get(KEPT_AT) ?? undefined })
        return cachedResponse
      },
      handlerDidError: async () => {
        tell({ kind: 'away' })
        return Response.json({ statusCode: 503, message: 'the server does not answer, and this was not kept in this browser' }, { status: 503 })
      },
    },
    new ExpirationPlugin({ maxEntries: MOST_ANSWERS, purgeOnQuotaError: true }),
  ],
}))

registerRoute(({ url }) => url.pathname.startsWith('/samples/'), new CacheFirst({ cacheName: 'half-step-sounds', plugins: [new ExpirationPlugin({ maxEntries: MOST_SOUNDS, purgeOnQuotaError: true })] }))

// A page comes from the server while it is there; otherwise the empty page that fills itself with what is kept.
registerRoute(new NavigationRoute(async ({ request }) => {
  const answer = await Promise.race([
    fetch(request as Request).catch(() => undefined),
    new Promise<undefined>(resolve => setTimeout(() => resolve(undefined), 1_000 * PATIENCE.page)),
  ])
  if (answer && !isAway(answer)) return answer
  tell({ kind: 'away' })
  return await matchPrecache(SHELL) ?? answer ?? Response.error()
}, { denylist: [/^\/api\//] }))
