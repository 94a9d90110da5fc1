import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { demoScore } from '../../../tests/material/demo'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { clickEvents, renderPassage } from '#core/sound/of-score'
import type { RenderedScore, SoundEvent } from '#core/sound/performance'
import { runTo as runClockTo, silentSound } from '../../../tests/material/sound'
import { useListening } from './useListening'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const PASSAGE = spanPassage(quarters(0), quarters(8), 'both')
const BPM = 120
const EXPECTED = expectedNotes(arrangement, PASSAGE, BPM)

function listener(prepare: () => Promise<void> = () => Promise.resolve()) {
  const { sound, heard, placed, tick } = silentSound({ prepare })
  const runTo = (pageMs: number) => runClockTo(pageMs, tick, vi.advanceTimersByTime)
  return { ...useListening(() => Promise.resolve(sound)), heard, placed, runTo }
}

const PLAYED = renderPassage(arrangement, PASSAGE, { hands: ['right', 'left'] }, BPM)
const plain = (events: SoundEvent[], lengthMs = 2000): RenderedScore => ({
  voices: [{ id: 'player', name: 'Played', instrument: { kind: 'piano' } }],
  events,
  pedals: [],
  tempos: [],
  lengthMs,
})

describe('listening', () => {
  const run = inFakeTime()

  it('plays every note once, at its moment and for its length, the melody above the accompaniment', async () => {
    const listening = run(() => listener())
    await listening.play(PLAYED)
    listening.runTo(6000)
    const heard = listening.heard()
    expect(heard.map(note => [note.pitch, Math.round(note.atMs - 200)]).sort()).toEqual(
      EXPECTED.map(note => [note.pitch, Math.round(note.onsetMs)]).sort(),
    )
    const loudest = (hand: string) =>
      Math.max(...heard.filter(({ voice }) => voice === hand).map(({ velocity }) => velocity))
    expect(loudest('right')).toBeGreaterThan(loudest('left'))
    expect([listening.playing.value, listening.sounding.value.size, listening.atMs.value]).toEqual([
      false,
      0,
      undefined,
    ])
  })

  it('tells which notes sound now', async () => {
    const listening = run(() => listener())
    await listening.play(PLAYED)
    listening.runTo(200 + 550)
    const now = PLAYED.events
      .filter(note => note.atMs <= 550 && note.atMs + note.lengthMs > 550)
      .map(note => note.noteId)
    expect([...listening.sounding.value].sort()).toEqual(now.sort())
    expect(now.length).toBeGreaterThan(0)
    expect(listening.last.value!.atMs).toBe(500)
    expect(listening.atMs.value).toBeCloseTo(550, 0)
  })

  it('is stopped at once: what sounds is let go within 20 ms, what was planned never sounds, nothing more is planned', async () => {
    const listening = run(() => listener())
    await listening.play(PLAYED)
    listening.runTo(900)
    listening.stop()
    const count = listening.placed.length
    listening.runTo(4000)
    expect([listening.placed.length, listening.playing.value, listening.sounding.value.size]).toEqual([count, false, 0])
    for (const one of listening.placed.filter(({ atMs, lengthMs }) => atMs + lengthMs > 900))
      expect(one.letGoMs).toBeLessThan(920)
    expect(listening.heard().every(({ atMs }) => atMs <= 900)).toBe(true)
  })

  it('stopped while the piano is still loading, it does not begin', async () => {
    let loaded = () => {}
    const listening = run(() =>
      listener(
        () =>
          new Promise(resolve => {
            loaded = resolve
          }),
      ),
    )
    const begun = listening.play(PLAYED)
    await Promise.resolve()
    listening.stop()
    loaded()
    await begun
    listening.runTo(2000)
    expect([listening.placed.length, listening.playing.value]).toEqual([0, false])
  })

  it('does not wait for ever for the piano: it begins with another sound', async () => {
    const listening = run(() => listener(() => new Promise(() => {})))
    const begun = listening.play(PLAYED)
    await vi.advanceTimersByTimeAsync(1_400)
    expect(listening.heard()).toEqual([])
    await vi.advanceTimersByTimeAsync(200)
    await begun
    listening.runTo(performance.now() + 1000)
    expect(listening.heard().length).toBeGreaterThan(0)
  })

  it('says when there is no sound', async () => {
    const listening = run(() => useListening(() => Promise.reject(new Error('no audio device'))))
    await listening.play(PLAYED)
    expect([listening.playing.value, listening.problem.value]).toEqual([
      false,
      'The sound could not be started (no audio device).',
    ])
  })

  it('clicks with it, and says when it began', async () => {
    const listening = run(() => listener())
    let begun = 0
    const clicks = clickEvents(
      [0, 500, 1000, 1500].map((atMs, index) => ({ atMs, downbeat: index === 0, beat: index + 1 })),
    )
    await listening.play(plain([{ voice: 'player', pitch: 60, atMs: 0, lengthMs: 400, velocity: 80 }, ...clicks]), {
      onBegin: startMs => {
        begun = startMs
      },
    })
    listening.runTo(begun + 520)
    listening.stop()
    listening.runTo(begun + 3000)
    expect(listening.heard('click').map(({ atMs }) => Math.round(atMs - begun))).toEqual([0, 500])
  })
})
