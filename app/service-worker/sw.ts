/// <reference lib="webworker" />
import { clientsClaim } from 'workbox-core'
import { ExpirationPlugin } from 'workbox-expiration'
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'
import { CacheFirst, NetworkFirst } from 'workbox-strategies'
import {
  isCachedOffline,
  OFFLINE_CACHE,
  cacheKeyOf,
  SERVER_CHANNEL,
  serverOf,
  APP_SHELL,
  type ServerNews,
} from '../../shared/utils/kept-answers'

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] }

/** How long to wait for the server when a cached answer exists, seconds. */
const PATIENCE = { answer: 6, page: 8 } as const
const [MAX_ANSWERS, MAX_SOUNDS] = [600, 160]

// What the program is made of. A new version takes its place when all pages of the old one are closed: none of them
// loses a piece under way.
precacheAndRoute(self.__WB_MANIFEST)
cleanupOutdatedCaches()
clientsClaim()

const channel = new BroadcastChannel(SERVER_CHANNEL)
const tell = (news: ServerNews) => channel.postMessage(news)

/** What became of one request: the answer of a server that has too much to do. */
interface Seen {
  busy?: Response
}

// The header with the time of a cached answer, used while the server is away.
const KEPT_AT = 'x-half-step-kept-at'
registerRoute(
  ({ url, request }) => request.method === 'GET' && isCachedOffline(url.pathname),
  new NetworkFirst({
    cacheName: OFFLINE_CACHE,
    networkTimeoutSeconds: PATIENCE.answer,
    plugins: [
      {
        cacheKeyWillBeUsed: async ({ request }) => cacheKeyOf(new URL(request.url)),
        fetchDidSucceed: async ({ response, state }) => {
          const server = serverOf(response)
          if (server === 'busy') (state as Seen).busy = response
          if (server !== 'there') throw new Error('the server cannot answer')
          tell({ kind: 'there' })
          return response
        },
        cacheWillUpdate: async ({ response }) => {
          if (response.status !== 200) return null
          const headers = new Headers(response.headers)
          headers.set(KEPT_AT, new Date().toISOString())
          return new Response(await response.blob(), { status: 200, headers })
        },
        cachedResponseWillBeUsed: async ({ cachedResponse, state }) => {
          if (cachedResponse)
            tell({
              kind: (state as Seen).busy ? 'busy' : 'away',
              keptAt: cachedResponse.headers.get(KEPT_AT) ?? undefined,
            })
          return cachedResponse
        },
        handlerDidError: async ({ state }) => {
          const { busy } = state as Seen
          tell({ kind: busy ? 'busy' : 'away' })
          return (
            busy ??
            Response.json(
              { statusCode: 503, message: 'the server does not answer, and this was not kept in this browser' },
              { status: 503 },
            )
          )
        },
      },
      new ExpirationPlugin({ maxEntries: MAX_ANSWERS, purgeOnQuotaError: true }),
    ],
  }),
)

registerRoute(
  ({ url }) => url.pathname.startsWith('/samples/'),
  new CacheFirst({
    cacheName: 'half-step-sounds',
    plugins: [new ExpirationPlugin({ maxEntries: MAX_SOUNDS, purgeOnQuotaError: true })],
  }),
)

// A page comes from the server while it is there; otherwise the empty page that fills itself with what is kept.
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      const answer = await Promise.race([
        fetch(request as Request).catch(() => undefined),
        new Promise<undefined>(resolve => setTimeout(() => resolve(undefined), 1_000 * PATIENCE.page)),
      ])
      if (answer && serverOf(answer) === 'there') return answer
      // What the page then asks for says whether the server is away or busy.
      return (await matchPrecache(APP_SHELL)) ?? answer ?? Response.error()
    },
    { denylist: [/^\/api\//] },
  ),
)
