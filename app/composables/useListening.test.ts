import { effectScope, type EffectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { expectedNotes, stretchPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { useListening } from './useListening'
import type { Sound } from './useSound'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const PASSAGE = stretchPassage(quarters(0), quarters(8), 'both')
const BPM = 120
const EXPECTED = expectedNotes(arrangement, PASSAGE, BPM)

interface Played { pitch: number, velocity: number, atMs: number, durationMs: number }

function listener(loadPiano: () => Promise<void> = () => Promise.resolve()) {
  let tick = () => {}
  const played: Played[] = []
  let hushed = 0
  const clicks: [atMs: number, downbeat: boolean][] = []
  let isClicking = false
  const startSound = () => Promise.resolve({
    loadPiano, click: (atMs: number, downbeat: boolean) => clicks.push([atMs, downbeat]), setClicking: (on: boolean) => { isClicking = on }, play: (pitch: number, velocity: number, atMs: number, durationMs: number) => played.push({ pitch, velocity, atMs, durationMs }),
    hush: () => { hushed++ },
    everyTick: (act: () => void) => {
      tick = act
      return () => { tick = () => {} }
    },
  } as unknown as Sound)
  const runTo = (pageMs: number) => {
    while (performance.now() < pageMs) {
      vi.advanceTimersByTime(Math.min(25, pageMs - performance.now()))
      tick()
    }
  }
  return { ...useListening(startSound), played, runTo, hushes: () => hushed, clicks, clicking: () => isClicking }
}

describe('listening', () => {
  let scope: EffectScope
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance', 'Date'] })
    scope = effectScope()
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })

  it('plays every note once, at its moment and for its length, the melody above the accompaniment', async () => {
    const heard = scope.run(() => listener())!
    await heard.play(arrangement, PASSAGE, BPM)
    heard.runTo(6000)
    expect(heard.played.map(note => [note.pitch, Math.round(note.atMs - 200), Math.round(note.durationMs)])).toEqual(EXPECTED.map(note => [note.pitch, Math.round(note.onsetMs), Math.round(note.durationMs)]))
    const velocity = (hand: string) => heard.played[EXPECTED.findIndex(note => note.hand === hand)]!.velocity
    expect(velocity('right')).toBeGreaterThan(velocity('left'))
    expect([heard.playing.value, heard.sounding.value.size]).toEqual([false, 0])
  })

  it('tells which notes sound now', async () => {
    const heard = scope.run(() => listener())!
    await heard.play(arrangement, PASSAGE, BPM)
    heard.runTo(200 + 550)
    const now = EXPECTED.filter(note => note.onsetMs <= 550 && note.onsetMs + note.durationMs > 550).map(note => note.id)
    expect([...heard.sounding.value].sort()).toEqual(now.sort())
    expect(now.length).toBeGreaterThan(0)
    expect(heard.last.value!.onsetMs).toBe(500)
  })

  it('is stopped at once: nothing sounds on, nothing more is played', async () => {
    const heard = scope.run(() => listener())!
    await heard.play(arrangement, PASSAGE, BPM)
    heard.runTo(900)
    const count = heard.played.length
    heard.stop()
    heard.runTo(4000)
    expect([heard.played.length, heard.playing.value, heard.sounding.value.size, heard.hushes()]).toEqual([count, false, 0, 1])
  })

  it('stopped while the piano is still loading, it does not begin', async () => {
    let loaded = () => {}
    const heard = scope.run(() => listener(() => new Promise((resolve) => { loaded = resolve })))!
    const begun = heard.play(arrangement, PASSAGE, BPM)
    await Promise.resolve()
    heard.stop()
    loaded()
    await begun
    heard.runTo(2000)
    expect([heard.played.length, heard.playing.value]).toEqual([0, false])
  })

  it('says when there is no sound', async () => {
    const heard = scope.run(() => listener(() => Promise.reject(new Error('samples are missing'))))!
    await heard.play(arrangement, PASSAGE, BPM)
    expect([heard.playing.value, heard.problem.value]).toEqual([false, 'The sound could not be started (samples are missing).'])
  })

  it('clicks on the beats that are given, and no more when it is stopped', async () => {
    const heard = scope.run(() => listener())!
    let begun = 0
    await heard.playNotes([{ pitch: 60, onsetMs: 0, durationMs: 400, velocity: 80 }], 2000, [0, 500, 1000, 1500].map((atMs, index) => ({ atMs, downbeat: index === 0, beat: index + 1 })), (startMs) => { begun = startMs })
    heard.runTo(begun + 400)
    heard.stop()
    heard.runTo(begun + 3000)
    expect(heard.clicks).toEqual([[begun, true], [begun + 500, false]])
    expect(heard.clicking()).toBe(false)
    expect(heard.sounding.value.size).toBe(0)
  })
})
