import { computed, ref, shallowRef, watch } from 'vue'
import { defineStore } from 'pinia'
import { useEventListener } from '@vueuse/core'
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { PastPass } from '#core/coach/pass'
import { messageOf } from '~/utils/ui/messageOf'
import type { SentPass } from '#shared/utils/passes'

/**
 * A pass on its way to the server; a permanently rejected one stays with the reason until the player has saved or
 * dismissed it.
 */
export interface WaitingPass extends SentPass {
  playerId: string
  refused?: string
  heard?: HeardPass
}

/** What the coach heard in a pass, for a page that is opened again before the server has it. */
export interface HeardPass {
  songId: string
  pass: PastPass
}

interface OutboxSchema extends DBSchema {
  passes: { key: string; value: WaitingPass }
}

/**
 * Where passes wait: in the browser's own database, or, where there is none (private windows of some browsers), in this
 * page.
 */
interface Store {
  isKept: boolean
  all: () => Promise<WaitingPass[]>
  put: (pass: WaitingPass) => Promise<unknown>
  delete: (id: string) => Promise<unknown>
}

/** Waits between tries, ms; the last one stays: a server that is back is soon found. */
const RETRY_MS = [1_000, 2_000, 5_000, 10_000] as const
/** Statuses after which a retry is pointless. */
const PERMANENT_STATUSES = [400, 404, 409, 413, 422]
/** It cannot take any pass now: there is no sense in sending the next one. */
const RETRYABLE_STATUSES = [0, 401, 429, 502, 503, 504]

/**
 * Passes are put aside the moment they end and leave when the server has them: the practice loop never waits, and a
 * lost connection or a closed tab loses nothing.
 */
export const useOutboxStore = defineStore('outbox', () => {
  const own = shallowRef<WaitingPass[]>([])
  const stuck = ref(false)
  /** Whether what waits would be lost with this page. */
  const isOnlyHere = ref(false)
  const { user } = useUserSession()
  const refused = computed(() => own.value.filter(pass => pass.refused !== undefined))
  const waiting = computed(() => own.value.filter(pass => pass.refused === undefined))
  let store: Promise<Store> | undefined
  let sending = false
  let more = false
  let tries = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  if (import.meta.client) {
    useEventListener(window, 'online', () => void send())
    useEventListener(document, 'visibilitychange', () => {
      if (!document.hidden && stuck.value) void send()
    })
    // Signed in again: what was played meanwhile goes out.
    watch(
      () => user.value?.id,
      () => void send(),
    )
  }

  const opened = () => (store ??= inBrowser().catch(inThisPage))

  async function inBrowser(): Promise<Store> {
    const db: IDBPDatabase<OutboxSchema> = await openDB<OutboxSchema>('half-step', 1, {
      upgrade: fresh => void fresh.createObjectStore('passes', { keyPath: 'id' }),
    })
    return {
      isKept: true,
      all: async () => await db.getAll('passes'),
      put: async pass => await db.put('passes', pass),
      delete: async id => await db.delete('passes', id),
    }
  }

  function inThisPage(): Store {
    const passes = new Map<string, WaitingPass>()
    return {
      isKept: false,
      all: async () => [...passes.values()],
      put: async pass => passes.set(pass.id, pass),
      delete: async id => passes.delete(id),
    }
  }

  /** `heard`: of a pass that the coach counts. */
  async function keep(pass: SentPass, heard?: HeardPass) {
    if (!user.value) return
    const one = { ...pass, playerId: user.value.id, ...(heard ? { heard } : {}) }
    const kept = await opened()
    await kept.put(one).catch(async () => {
      // The browser has no room left: in this page, then, with what waits already.
      const here = inThisPage()
      for (const before of await kept.all().catch(() => [])) await here.put(before)
      await here.put(one)
      store = Promise.resolve(here)
    })
    void send()
  }

  async function look() {
    const kept = await opened()
    own.value = (await kept.all()).filter(pass => pass.playerId === user.value?.id)
    isOnlyHere.value = !kept.isKept && own.value.length > 0
    return kept
  }

  async function send() {
    more = sending
    if (sending || !user.value) return
    sending = true
    clearTimeout(timer)
    let failed = false
    let waitMs = 0
    try {
      const kept = await look()
      for (const pass of waiting.value) {
        const answer = await post(pass)
        if (answer.kind === 'taken') await kept.delete(pass.id)
        else if (answer.kind === 'never') await kept.put({ ...pass, refused: answer.reason })
        else {
          // One that the server stumbles over does not hold up the others.
          failed = true
          waitMs = Math.max(waitMs, answer.waitMs)
          if (answer.kind === 'not-now') break
        }
      }
      await look()
    } catch {
      failed = true
    } finally {
      sending = false
    }
    stuck.value = failed
    if (failed)
      timer = setTimeout(() => void send(), Math.max(waitMs, RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)]!))
    else tries = 0
    // Kept while these were on their way.
    if (more) void send()
  }

  type Answer = { kind: 'taken' } | { kind: 'never'; reason: string } | { kind: 'not-now' | 'stumbled'; waitMs: number }

  async function post({
    playerId: _playerId,
    refused: _refused,
    heard: _heard,
    ...pass
  }: WaitingPass): Promise<Answer> {
    try {
      await $fetch('/api/passes', { method: 'POST', body: pass })
      return { kind: 'taken' }
    } catch (error) {
      const { statusCode = 0, response } = error as { statusCode?: number; response?: Response }
      if (PERMANENT_STATUSES.includes(statusCode)) return { kind: 'never', reason: messageOf(error) }
      return {
        kind: RETRYABLE_STATUSES.includes(statusCode) ? 'not-now' : 'stumbled',
        waitMs: 1000 * (Number(response?.headers.get('retry-after')) || 0),
      }
    }
  }

  /** Forgets a pass that the server will not take. */
  async function dismiss(id: string) {
    await (await opened()).delete(id)
    await look()
  }

  /**
   * What the coach heard of a song in passes that the server does not have yet, in the order in which they were played.
   */
  async function heardOf(songId: string): Promise<PastPass[]> {
    await look().catch(() => {})
    return waiting.value
      .flatMap(({ heard }) => (heard?.songId === songId ? [heard.pass] : []))
      .sort((a, b) => a.atMs - b.atMs)
  }

  /** All that waits or was refused, as the text of a file. */
  const asFile = () =>
    JSON.stringify({
      format: 'half-step/passes',
      version: 1,
      passes: own.value.map(({ playerId: _playerId, refused: _refused, heard: _heard, ...pass }) => pass),
    })

  return { own, waiting, refused, stuck, isOnlyHere, keep, send, dismiss, heardOf, asFile }
})
