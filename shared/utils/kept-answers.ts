/**
 * What the service worker, the pages and the server know of answers that are kept in the browser for the time the
 * server is away.
 */

/** The cache of kept answers; the empty page that any page can be made from; where news of the server are told. */
export const OFFLINE_CACHE = 'half-step-answers'
export const APP_SHELL = '/kept'
export const SERVER_CHANNEL = 'half-step-server'
/** Marks an answer 503 of a server that is there and has too much to do at the moment. */
export const BUSY_HEADER = 'x-half-step-busy'

/** The server, or what stands before it, cannot answer. */
const NO_ANSWER: readonly number[] = [502, 503, 504]

/**
 * Whether the server answered; or, while it is away or has too much to do, something kept was shown in its place, and
 * from when (ISO 8601).
 */
export type ServerNews = { kind: 'there' } | { kind: 'away' | 'busy'; keptAt?: string }

/** How the server is that answered so; one that says nothing at all is away. */
export function serverOf(answer: Response | undefined): ServerNews['kind'] {
  if (answer && !NO_ANSWER.includes(answer.status)) return 'there'
  return answer?.headers.has(BUSY_HEADER) ? 'busy' : 'away'
}

/** Files to be saved, and what is only true while the server is there. */
const NOT_KEPT =
  /^\/api\/(archive|songs\/[^/]+\/archive|passes\/[^/]+\/take|logbook\/export|today\/calendar|health|door)$/

export const isCachedOffline = (path: string): boolean => path.startsWith('/api/') && !NOT_KEPT.test(path)

/** By what an answer is kept: its address, whatever moment it was asked for. */
export function cacheKeyOf(url: URL): string {
  const name = new URL(url)
  name.searchParams.delete('at')
  name.searchParams.sort()
  return name.href
}
