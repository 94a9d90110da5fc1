/**
 * The outbox where the browser has no database of its own (as here): what happens in one that has is in
 * tests/browser/outbox.spec.ts.
 */
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { SentPass } from '#shared/utils/passes'
import { useOutboxStore } from './outbox'

const pass = (id: string): SentPass => ({
  id,
  partId: 'part',
  hands: 'right',
  mode: 'steady',
  bpm: 80,
  startedAt: '2026-11-20T18:00:00.000Z',
  lengthMs: 9000,
  offsetMs: 0,
  take: { notes: [], pedals: [] },
})
/** What the server says to a pass, by its id; taken where nothing is said. */
let says: Record<string, number> = {}
let taken: string[] = []

beforeEach(() => {
  setActivePinia(createPinia())
  says = {}
  taken = []
  vi.useFakeTimers()
  vi.stubGlobal('useUserSession', () => ({ user: ref({ id: 'player', name: 'Somebody', isDemo: false }) }))
  vi.stubGlobal('$fetch', async (_url: string, { body }: { body: SentPass }) => {
    const statusCode = says[body.id]
    if (statusCode !== undefined)
      throw Object.assign(new Error('refused'), { statusCode, data: { message: `said ${statusCode}` } })
    taken.push(body.id)
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const settle = async () => await vi.advanceTimersByTimeAsync(0)

describe('the outbox without a browser’s database', () => {
  it('sends what ends, and keeps in the page what the server cannot take now, said and offered as a file', async () => {
    const outbox = useOutboxStore()
    await outbox.keep(pass('a'))
    await settle()
    expect([taken, outbox.own.length, outbox.isOnlyHere]).toEqual([['a'], 0, false])
    says = { b: 503 }
    await outbox.keep(pass('b'))
    await settle()
    expect([outbox.waiting.length, outbox.stuck, outbox.isOnlyHere]).toEqual([1, true, true])
    expect(JSON.parse(outbox.asFile())).toEqual({ format: 'half-step/passes', version: 1, passes: [pass('b')] })
    says = {}
    await vi.advanceTimersByTimeAsync(10_000)
    expect([taken, outbox.own.length, outbox.stuck]).toEqual([['a', 'b'], 0, false])
  })

  it('goes past one that the server stumbles over, and stops at an outage', async () => {
    const outbox = useOutboxStore()
    says = { a: 500 }
    for (const id of ['a', 'b', 'c']) await outbox.keep(pass(id))
    await settle()
    expect([[...taken].sort(), outbox.waiting.map(one => one.id)]).toEqual([['b', 'c'], ['a']])
    says = { a: 503, d: 503 }
    await outbox.keep(pass('d'))
    await settle()
    expect(outbox.waiting.map(one => one.id)).toEqual(['a', 'd'])
  })

  it('keeps one that can never be taken, with the reason, until it is dismissed', async () => {
    const outbox = useOutboxStore()
    says = { a: 422 }
    await outbox.keep(pass('a'))
    await settle()
    expect(outbox.refused.map(one => one.refused)).toEqual(['said 422'])
    await vi.advanceTimersByTimeAsync(60_000)
    expect(outbox.stuck).toBe(false)
    await outbox.dismiss('a')
    expect(outbox.own).toEqual([])
  })

  it('never waits longer than ten seconds to try again', async () => {
    const outbox = useOutboxStore()
    says = { a: 503 }
    await outbox.keep(pass('a'))
    await vi.advanceTimersByTimeAsync(600_000)
    says = {}
    await vi.advanceTimersByTimeAsync(10_000)
    expect(taken).toEqual(['a'])
  })
})
