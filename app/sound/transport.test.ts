import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { SoundEvent } from '#core/sound/performance'
import { runTo as runClockTo, silentSound } from '../../tests/material/sound'
import { AHEAD_MS } from './transport'

const event = (atMs: number, voice = 'piano', lengthMs = 100): SoundEvent => ({
  voice,
  atMs,
  lengthMs,
  pitch: 60,
  velocity: 80,
})
const times = (events: readonly { atMs: number }[]) => events.map(({ atMs }) => Math.round(atMs))

describe('the transport', () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance', 'Date'] })
    performance.mark ??= (() => {}) as never
  })
  afterEach(() => {
    vi.useRealTimers()
  })
  const transport = () => {
    const made = silentSound()
    return { ...made, runTo: (pageMs: number) => runClockTo(pageMs, made.tick, vi.advanceTimersByTime) }
  }

  it('places each event once, at its time, whatever the order in which they were added', () => {
    const { sound, placed, runTo } = transport()
    const line = sound.line()
    line.add([event(900), event(100)], 1000)
    line.add([event(50)], 1500)
    runTo(4000)
    expect(times(placed)).toEqual([1100, 1550, 1900])
  })

  it('a page that is busy for 200 ms is late with nothing', () => {
    const { sound, placed, tick, runTo } = transport()
    sound.line().add(
      Array.from({ length: 100 }, (_, index) => event(index * 50)),
      1000,
    )
    while (performance.now() < 7000) {
      vi.advanceTimersByTime(200)
      const now = performance.now()
      const before = placed.length
      tick()
      for (const one of placed.slice(before)) expect(one.atMs).toBeGreaterThanOrEqual(now)
    }
    runTo(7100)
    expect(placed).toHaveLength(100)
    expect(AHEAD_MS).toBeGreaterThanOrEqual(400)
  })

  it('takes back what has not begun, event by event, and lets go of what sounds', () => {
    const { sound, heard, placed, runTo } = transport()
    const line = sound.line()
    line.add([event(0, 'piano', 3000), event(200, 'click'), event(400), event(2000), event(2000, 'click')], 1000)
    runTo(1100)
    line.cut({ which: ({ voice }) => voice === 'piano' })
    runTo(5000)
    expect(times(heard('click'))).toEqual([1200, 3000])
    expect(times(heard('piano'))).toEqual([1000])
    expect(placed.find(({ voice }) => voice === 'piano')).toMatchObject({ how: 'stop' })
    expect(placed.find(({ voice }) => voice === 'piano')!.letGoMs! - 1100).toBeLessThan(20)
  })

  it('cuts at a moment to come: what begins before it still sounds until then', () => {
    const { sound, heard, runTo } = transport()
    const line = sound.line()
    line.add([event(0, 'piano', 1000), event(300), event(600)], 1000)
    runTo(1010)
    line.cut({ fromMs: 1500 })
    runTo(4000)
    expect(heard().map(({ atMs, letGoMs }) => [Math.round(atMs), Math.round(letGoMs!)])).toEqual([
      [1000, 1500],
      [1300, 1500],
    ])
  })

  it("a cut of one player's events leaves another's alone", () => {
    const { sound, heard, runTo } = transport()
    const [one, other] = [sound.line(), sound.line()]
    one.add([event(500)], 1000)
    other.add([event(600)], 1000)
    one.cut()
    runTo(3000)
    expect(times(heard())).toEqual([1600])
  })

  it('leaves out what would sound much too late, and begins in its midst what still goes on for long', () => {
    const { sound, heard, runTo } = transport()
    runTo(2000)
    sound.line().add([event(0, 'click', 40), event(0, 'piano', 4000)], 1800)
    expect(heard().map(({ voice, atMs, lengthMs }) => [voice, Math.round(atMs), Math.round(lengthMs)])).toEqual([
      ['piano', 2000, 3800],
    ])
  })

  it('holds what is struck until it is let go', () => {
    const { sound, placed } = transport()
    const struck = sound.line().strike('keys', { pitch: 60, velocity: 90, lengthMs: Infinity }, performance.now())
    vi.advanceTimersByTime(300)
    struck.letGo(performance.now())
    expect(placed[0]!.letGoMs! - placed[0]!.atMs).toBeCloseTo(300, 3)
    expect(placed[0]!.how).toBe('key')
  })
})
