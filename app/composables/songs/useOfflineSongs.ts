import { onScopeDispose, watch } from 'vue'
import { OFFLINE_CACHE, cacheKeyOf } from '#shared/utils/kept-answers'

/** Songs cached for offline use, and parts of each; the pause between two requests, ms. */
const MOST = { songs: 4, parts: 60 } as const
const REST_MS = 400

/** Answers that pages need beside the songs: where the server renders a page, the browser has not fetched them. */
const PAGES = [
  '/api/_auth/session',
  '/api/settings',
  '/api/songs',
  '/api/songs?archived=true',
  '/api/deleted-songs',
  '/api/today',
] as const

interface OfflineSong {
  arrangementId: string
  parts: readonly { id: string }[]
}

/** Which arrangement a part was kept of, by the part. */
const MARK = 'half-step:kept-parts'

/**
 * Keeps the songs that are being practised in this browser while a page rests: their stairs, the coach's record and
 * every part with its notes, so that the Stand opens also while the server is away. A part is fetched again only when
 * the song's notes have changed.
 */
export function useOfflineSongs(
  songIds: () => readonly string[] | undefined,
  {
    request = (async url => await $fetch(url)) as (url: string) => Promise<unknown>,
    hasWorker = () => navigator.serviceWorker?.controller != null,
    rest = (ms: number) => new Promise<void>(resolve => setTimeout(resolve, ms)),
    isKept = async (path: string) =>
      (await (await caches.open(OFFLINE_CACHE)).match(cacheKeyOf(new URL(path, location.href)))) !== undefined,
    memory = localStorage as Pick<Storage, 'getItem' | 'setItem'>,
  } = {},
) {
  let isLeft = false
  onScopeDispose(() => {
    isLeft = true
  })

  async function keep(ids: readonly string[]) {
    for (const page of PAGES) await request(page)
    const marks = JSON.parse(memory.getItem(MARK) ?? '{}') as Record<string, string>
    for (const id of ids.slice(0, MOST.songs)) {
      const song = (await request(`/api/songs/${id}`)) as OfflineSong
      await request(`/api/songs/${id}/coach`)
      for (const part of song.parts.slice(0, MOST.parts)) {
        if (isLeft) return
        if (marks[part.id] === song.arrangementId && (await isKept(`/api/parts/${part.id}`))) continue
        await rest(REST_MS)
        await request(`/api/parts/${part.id}`)
        marks[part.id] = song.arrangementId
        memory.setItem(MARK, JSON.stringify(marks))
      }
    }
  }

  watch(
    songIds,
    ids => {
      // Without a worker nothing would be kept. What cannot be fetched now is kept the next time.
      if (ids && ids.length > 0 && hasWorker()) void keep(ids).catch(() => {})
    },
    { immediate: true },
  )
}
