import type { Hands } from '#core/music/arrangement'
import type { Take } from '#core/ear/take'
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

/** A pass on its way to the server, as POST /api/passes takes it. */
export interface WaitingPass {
  id: string
  partId: string
  hands: Hands
  bpm: number
  startedAt: string
  lengthMs: number
  offsetMs: number
  take: Take
}

interface OutboxSchema extends DBSchema {
  passes: { key: string, value: WaitingPass & { playerId: string } }
}

const RETRY_MS = [2000, 5000, 15_000, 60_000]

/**
 * Passes are put into the browser's own database the moment they end and leave it when the server has them: the
 * practice loop never waits, and a lost connection or a closed tab loses nothing.
 */
export const useOutboxStore = defineStore('outbox', () => {
  const waiting = ref(0)
  const refused = ref(0)
  const stuck = ref(false)
  const lastError = ref('')
  const { user } = useUserSession()
  let db: Promise<IDBPDatabase<OutboxSchema>> | undefined
  let sending = false
  let tries = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  const opened = () => db ??= openDB<OutboxSchema>('half-step', 1, {
    upgrade: database => void database.createObjectStore('passes', { keyPath: 'id' }),
  })

  function open() {
    window.addEventListener('online', () => void send())
    void send()
  }

  async function keep(pass: WaitingPass) {
    if (!user.value) return
    try {
      await (await opened()).put('passes', { ...pass, playerId: user.value.id })
      void send()
    }
    catch {
      // Without a browser database (private windows of some browsers) the pass goes straight out.
      await post(pass).catch(() => { refused.value++ })
    }
  }

  async function send() {
    if (sending || !user.value) return
    sending = true
    clearTimeout(timer)
    try {
      const passes = (await (await opened()).getAll('passes')).filter(pass => pass.playerId === user.value?.id)
      waiting.value = passes.length
      for (const { playerId: _playerId, ...pass } of passes) {
        await post(pass)
        await (await opened()).delete('passes', pass.id)
        waiting.value--
      }
      stuck.value = false
      tries = 0
    }
    catch {
      stuck.value = true
      timer = setTimeout(() => void send(), RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)])
    }
    finally { sending = false }
  }

  /** Sends one pass. A pass the server will never take is counted as refused; anything else is thrown, to be tried again. */
  async function post(pass: WaitingPass) {
    try {
      await $fetch('/api/passes', { method: 'POST', body: pass })
    }
    catch (error) {
      const status = (error as { statusCode?: number }).statusCode ?? 0
      if (![400, 404, 409, 413, 422].includes(status)) throw error
      refused.value++
      lastError.value = (error as { data?: { message?: string } }).data?.message ?? `the server answered ${status}`
    }
  }

  return { waiting, refused, stuck, lastError, open, keep, send }
})
