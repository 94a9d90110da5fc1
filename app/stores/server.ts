import { ref } from 'vue'
import { defineStore } from 'pinia'
import { SERVER_CHANNEL, type ServerNews } from '#shared/utils/kept-answers'
import { useOutboxStore } from './outbox'

/** Probe interval while the server is away, ms. */
const LOOK_MS = 4_000

/**
 * Whether the server is there, away, or too busy, as the service worker and this page find it; what is shown meanwhile
 * was kept earlier.
 */
export const useServerStore = defineStore('server', () => {
  const now = ref<ServerNews['kind']>('there')
  /** When the oldest of what is shown now was kept, ISO 8601. */
  const keptAt = ref<string>()
  let looking: ReturnType<typeof setInterval> | undefined

  function hear(news: ServerNews) {
    if (news.kind === 'there') return back()
    if (news.keptAt && (!keptAt.value || news.keptAt < keptAt.value)) keptAt.value = news.keptAt
    now.value = news.kind
    looking ??= setInterval(() => void look(), LOOK_MS)
  }

  async function look() {
    if (
      await fetch('/api/health').then(
        answer => answer.ok,
        () => false,
      )
    )
      back()
  }

  function back() {
    clearInterval(looking)
    looking = undefined
    if (now.value === 'there') return
    now.value = 'there'
    keptAt.value = undefined
    // Passes played meanwhile are sent; what is shown is fetched again once they are there.
    void useOutboxStore()
      .send()
      .then(() => refreshNuxtData())
  }

  /** Listens to the service worker, until the page is closed. */
  function listen() {
    if (!('BroadcastChannel' in window)) return
    new BroadcastChannel(SERVER_CHANNEL).onmessage = ({ data }) => hear(data as ServerNews)
  }

  return { now, keptAt, hear, listen }
})
