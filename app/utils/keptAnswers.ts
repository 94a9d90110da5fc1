/** What the service worker and the pages both know of answers that are kept in the browser for the time the server is away. */

/** The cache of kept answers; the empty page that any page can be made from; where news of the server are told. */
export const KEPT_ANSWERS = 'half-step-answers'
export const SHELL = '/kept'
export const SERVER_CHANNEL = 'half-step-server'
/** The server, or what stands before it, is not there. */
export const AWAY_STATUSES: readonly number[] = [502, 503, 504]

/** Whether the server answered, or something kept was shown in its place, and from when (ISO 8601). */
export type ServerNews = { kind: 'there' } | { kind: 'away', keptAt?: string }

/** Files to be saved, and what is only true while the server is there. */
const NOT_KEPT = /^\/api\/(archive|songs\/[^/]+\/archive|passes\/[^/]+\/take|logbook\/export|today\/calendar|health|door)$/

export const isKeptAnswer = (path: string): boolean => path.startsWith('/api/') && !NOT_KEPT.test(path)

/** By what an answer is kept: its address, whatever moment it was asked for. */
export function keptName(url: URL): string {
  const name = new URL(url)
  name.searchParams.delete('at')
  name.searchParams.sort()
  return name.href
}
