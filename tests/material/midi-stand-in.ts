import type { Page } from '@playwright/test'
import { runOnTestClock } from './test-clock'

/**
 * A MIDI message to be sent at a moment of the page's clock; `timeStamp` is that moment, however late its timer fires.
 */
export interface Sent {
  atMs: number
  bytes: number[]
}

interface StandIn {
  plug: (name: string) => string
  unplug: (id: string) => void
  send: (id: string, messages: Sent[]) => void
  /** Sends one message at once. */
  sendNow: (id: string, bytes: number[]) => void
  /** What was to be sent and has not been is not sent any more. */
  forget: () => void
}

declare global {
  interface Window {
    standIn: StandIn
  }
}

/**
 * Puts a stand-in behind `navigator.requestMIDIAccess`, so that the page's own Web MIDI code runs with it, on a clock
 * of the tests' own; with `realTime` on the machine's, for what measures time itself.
 */
export async function standInForMidi(page: Page, { realTime = false } = {}): Promise<void> {
  if (!realTime) await runOnTestClock(page)
  await page.addInitScript(() => {
    const inputs = new Map<string, EventTarget & { id: string; name: string; state: string }>()
    const access = Object.assign(new EventTarget(), { inputs, outputs: new Map(), sysexEnabled: false })
    let count = 0
    let waiting: ReturnType<typeof setTimeout>[] = []
    const changed = () => access.dispatchEvent(new Event('statechange'))
    Object.defineProperty(navigator, 'requestMIDIAccess', { configurable: true, value: () => Promise.resolve(access) })
    const dispatch = (id: string, bytes: number[], atMs: number) => {
      const event = new Event('midimessage')
      Object.defineProperties(event, { data: { value: Uint8Array.from(bytes) }, timeStamp: { value: atMs } })
      inputs.get(id)?.dispatchEvent(event)
    }
    window.standIn = {
      plug(name) {
        const id = `stand-in-${++count}`
        inputs.set(id, Object.assign(new EventTarget(), { id, name, state: 'connected' }))
        changed()
        return id
      },
      unplug(id) {
        inputs.get(id)!.state = 'disconnected'
        inputs.delete(id)
        changed()
      },
      send(id, messages) {
        waiting.push(
          ...messages.map(({ atMs, bytes }) =>
            setTimeout(() => dispatch(id, bytes, atMs), Math.max(0, atMs - performance.now())),
          ),
        )
      },
      sendNow: (id, bytes) => dispatch(id, bytes, performance.now()),
      forget() {
        waiting.forEach(timer => clearTimeout(timer))
        waiting = []
      },
    }
  })
}

/** When round number `round` of the loop begins, on the page's clock: read from the mark the loop leaves. */
export async function roundStart(page: Page, round: number): Promise<number> {
  const found = await page.waitForFunction(
    wanted => {
      const marks = performance.getEntriesByName('half-step:round') as PerformanceMark[]
      return marks.find(mark => (mark.detail as { round: number }).round === wanted)?.startTime
    },
    round,
    { timeout: 60_000, polling: 20 },
  )
  return (await found.jsonValue())!
}

/** Strokes as note-on and note-off messages. */
export const strokes = (notes: { pitch: number; onsetMs: number; durationMs: number }[], startMs: number): Sent[] =>
  notes.flatMap(({ pitch, onsetMs, durationMs }) => [
    { atMs: startMs + onsetMs, bytes: [0x90, pitch, 70] },
    { atMs: startMs + onsetMs + durationMs * 0.8, bytes: [0x80, pitch, 0] },
  ])
