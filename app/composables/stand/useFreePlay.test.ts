import type { LoopChoice, EndedPass } from './practised'
import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { demoScore } from '../../../tests/material/demo'
import { judged, judgeHere } from '../../../tests/material/judge'
import { runTo as runClockTo, silentSound } from '../../../tests/material/sound'
import { renderAccompaniment } from '#core/accompany/along'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { useFreePlay } from './useFreePlay'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const STRETCH = { from: quarters(0), to: quarters(16) }
const PASSAGE = spanPassage(STRETCH.from, STRETCH.to, 'right')
const CHOICE: LoopChoice = {
  stretch: STRETCH,
  hands: 'right',
  bpm: 80,
  restBars: 0,
  strictness: 'normal',
  keyboardDelayMs: 0,
}
const LEFT = renderAccompaniment(arrangement, PASSAGE, { hands: ['left'] }, CHOICE.bpm).events
const NOTES = expectedNotes(arrangement, PASSAGE, CHOICE.bpm)

describe('playing freely', () => {
  const run = inFakeTime()

  function playing(hasSound = true) {
    const { sound, heard, tick } = silentSound()
    const passes: EndedPass[] = []
    const told: string[] = []
    const free = run(() =>
      useFreePlay({
        arrangement,
        choice: () => CHOICE,
        accompany: () => LEFT,
        begins: () => told.push('begins'),
        passEnded: pass => passes.push(pass),
        notThis: () => told.push('not this'),
        judge: judgeHere(arrangement),
        startSound: () => (hasSound ? Promise.resolve(sound) : Promise.reject(new Error('no audio device'))),
      }),
    )!
    const runTo = (ms: number) => runClockTo(ms, tick, vi.advanceTimersByTime)
    const strike = (pitch: number, atMs: number, heldMs = 150) => {
      runTo(atMs)
      free.hear({ bytes: [0x90, pitch, 70], atMs })
      runTo(atMs + heldMs)
      free.hear({ bytes: [0x80, pitch, 0], atMs: atMs + heldMs })
    }
    return { free, passes, told, heard, runTo, strike }
  }

  it('begins with the first key, ends with a rest, is judged at the tempo it had, and begins anew', async () => {
    const { free, passes, told, runTo, strike } = playing()
    await free.start()
    runTo(5_000)
    expect([told, free.atMs.value]).toEqual([[], undefined])
    const startMs = performance.now() + 100
    for (const note of NOTES) strike(note.pitch, startMs + (note.onsetMs * 80) / 60)
    expect(free.atMs.value).toBeCloseTo(NOTES.at(-1)!.eventMs, 0)
    runTo(performance.now() + 4_500)
    await judged()
    expect(passes).toHaveLength(1)
    expect(passes[0]).toMatchObject({ mode: 'free', stretch: STRETCH, hands: 'right' })
    expect(passes[0]!.bpm).toBeCloseTo(60, 0)
    expect(passes[0]!.assessment.summary).toMatchObject({ right: NOTES.length, clean: true })
    expect(free.atMs.value).toBeUndefined()
    strike(NOTES[0]!.pitch, performance.now() + 500)
    expect(told).toEqual(['begins', 'begins'])
  })

  it('the other hand goes with the player: what is struck together sounds together, at half the tempo too', async () => {
    const { free, heard, strike } = playing()
    await free.start()
    const startMs = performance.now() + 100
    for (const note of NOTES) strike(note.pitch, startMs + note.onsetMs * 2)
    const left = heard('left')
    expect(left.length).toBeGreaterThan(8)
    const together = LEFT.filter(event => NOTES.some(note => Math.abs(note.onsetMs - event.atMs) < 1))
    for (const event of together.slice(1)) {
      const nearest = Math.min(
        ...left
          .filter(({ pitch }) => pitch === event.pitch)
          .map(({ atMs }) => Math.abs(atMs - (startMs + event.atMs * 2))),
      )
      expect(nearest, `${event.atMs}`).toBeLessThan(60)
    }
  })

  it('waits where the player hesitates, and never runs on by itself', async () => {
    const { free, heard, strike, runTo } = playing()
    await free.start()
    const startMs = performance.now() + 100
    const some = NOTES.filter(note => note.onsetMs < 4_000)
    for (const note of some) strike(note.pitch, startMs + note.onsetMs)
    runTo(startMs + some.at(-1)!.onsetMs + 3_500)
    const next = NOTES.find(note => note.onsetMs >= 4_000)!.onsetMs
    expect(heard('left').every(({ atMs }) => atMs - startMs < next + 60)).toBe(true)
  })

  it('who stops after two bars has played two bars, and nothing else is held against them', async () => {
    const { free, passes, runTo, strike } = playing()
    await free.start()
    const startMs = performance.now() + 100
    const two = NOTES.filter(note => note.barIndex <= 2)
    for (const note of two) strike(note.pitch, startMs + note.onsetMs)
    runTo(performance.now() + 6_000)
    await judged()
    expect(passes[0]!.stretch).toEqual({ from: STRETCH.from, to: arrangement.bars[3]!.start })
    expect(passes[0]!.assessment.summary).toMatchObject({ missed: 0, right: two.length })
  })

  it('what is nothing of these bars is no pass', async () => {
    const { free, passes, told, runTo, strike } = playing()
    await free.start()
    for (let key = 0; key < 8; key++) strike(28 + (key % 2), performance.now() + 300)
    runTo(performance.now() + 6_000)
    await judged()
    expect([passes, told]).toEqual([[], ['begins', 'not this']])
  })

  it('is heard, judged and ended by a rest where there is no sound', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'performance', 'Date'] })
    const { free, passes, strike, runTo } = playing(false)
    await free.start()
    for (const note of NOTES) strike(note.pitch, 1_000 + note.onsetMs)
    runTo(performance.now() + 5_000)
    await judged()
    expect(passes).toHaveLength(1)
  })

  it('begun twice at once it is begun once, and says from the start at which tempo it is laid out', async () => {
    const { free, passes, strike, runTo } = playing()
    const first = free.start()
    expect(free.current.value).toMatchObject({ bpm: CHOICE.bpm })
    await Promise.all([first, free.start()])
    const startMs = performance.now() + 100
    for (const note of NOTES) strike(note.pitch, startMs + note.onsetMs)
    runTo(performance.now() + 5_000)
    await judged()
    expect(passes).toHaveLength(1)
  })
})
