import { ref } from 'vue'
import { defineStore } from 'pinia'
import { useEventListener } from '@vueuse/core'
import { messageOf } from '~/utils/messageOf'
import type { Hands } from '#core/music/arrangement'
import type { Stretch } from '#core/music/passage'
import type { Strictness } from '#core/ear/parameters'
import type { Take } from '#core/ear/take'
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

/** A pass on its way to the server, as POST /api/passes takes it. */
export interface WaitingPass {
  id: string
  partId: string
  hands: Hands
  mode: 'steady' | 'own-time'
  stretch?: Stretch
  /** The player has called the place hard. */
  isOwnSpot?: boolean
  bpm: number
  startedAt: string
  lengthMs: number
  offsetMs: number
  strictness?: Strictness
  take: Take
}

/** A pass that the server would not take stays here with the reason, and is not sent again. */
interface OutboxSchema extends DBSchema {
  passes: { key: string, value: WaitingPass & { playerId: string, refused?: string } }
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
  let database: Promise<IDBPDatabase<OutboxSchema>> | undefined
  let sending = false
  let more = false
  let tries = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  if (import.meta.client) useEventListener(window, 'online', () => void send())

  const opened = () => database ??= openDB<OutboxSchema>('half-step', 1, {
    upgrade: db => void db.createObjectStore('passes', { keyPath: 'id' }),
  })

  async function keep(pass: WaitingPass) {
    if (!user.value) return
    try {
      await (await opened()).put('passes', { ...pass, playerId: user.value.id })
      void send()
    }
    catch {
      // Without a browser database (private windows of some browsers) the pass goes straight out, and only once.
      await post(pass).catch((error: unknown) => {
        refused.value++
        lastError.value = messageOf(error)
      })
    }
  }

  async function send() {
    more = sending
    if (sending || !user.value) return
    sending = true
    clearTimeout(timer)
    try {
      const db = await opened()
      const own = (await db.getAll('passes')).filter(pass => pass.playerId === user.value?.id)
      refused.value = own.filter(pass => pass.refused !== undefined).length
      lastError.value = own.findLast(pass => pass.refused !== undefined)?.refused ?? ''
      const passes = own.filter(pass => pass.refused === undefined)
      waiting.value = passes.length
      for (const kept of passes) {
        const { playerId: _playerId, refused: _refused, ...pass } = kept
        const reason = await post(pass)
        if (reason === undefined) await db.delete('passes', pass.id)
        else {
          await db.put('passes', { ...kept, refused: reason })
          refused.value++
          lastError.value = reason
        }
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
    // Kept while these were on their way.
    if (more) void send()
  }

  /** Sends one pass. Gives the reason when the server will never take it; throws for anything that may pass. */
  async function post(pass: WaitingPass): Promise<string | undefined> {
    try {
      await $fetch('/api/passes', { method: 'POST', body: pass })
      return undefined
    }
    catch (error) {
      const status = (error as { statusCode?: number }).statusCode ?? 0
      if ([400, 404, 409, 413, 422].includes(status)) return messageOf(error)
      throw error
    }
  }

  return { waiting, refused, stuck, lastError, keep, send }
})
