import type { LoopChoice, EndedPass } from './practised'
import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { demoScore } from '../../../tests/material/demo'
import { judged, judgeHere } from '../../../tests/material/judge'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { usePracticeLoop, type LoopRound } from './usePracticeLoop'
import { CLICK_KEYS, type SoundEvent } from '#core/sound/performance'
import { runTo as runClockTo, silentSound } from '../../../tests/material/sound'
import type { Sound } from '~/sound/sound'

const { arrangement } = demoScore('lantern-ferry.musicxml')
/** The pickup to bar 4, beat 3: sixteen beats, a second each at 60. */
const STRETCH = { from: quarters(0), to: quarters(16) }
const ROUND_MS = 16_000
const EXPECTED = expectedNotes(arrangement, spanPassage(STRETCH.from, STRETCH.to, 'right'), 60)

const CHOICE: LoopChoice = {
  stretch: STRETCH,
  restBars: 0,
  strictness: 'normal',
  keyboardDelayMs: 0,
  hands: 'right',
  bpm: 60,
}

/** A loop with a silent sound that counts its clicks, and a clock moved by hand. */
function practise(
  choice: LoopChoice,
  start?: () => Promise<Sound>,
  more: { choice?: (round: number) => Partial<LoopChoice>; accompany?: (round: LoopRound) => SoundEvent[] } = {},
) {
  const { sound, cues, tick, heard } = silentSound()
  const metronome = { isOn: true }
  const rounds: LoopRound[] = []
  const passes: EndedPass[] = []
  const loop = usePracticeLoop({
    arrangement,
    choice: round => ({ ...choice, ...more.choice?.(round) }),
    metronome: () => metronome.isOn,
    accompany: more.accompany,
    roundBegins: round => rounds.push(round),
    passEnded: pass => passes.push(pass),
    judge: judgeHere(arrangement),
    startSound: start ?? (() => Promise.resolve(sound)),
  })
  const runTo = (pageMs: number) => runClockTo(pageMs, tick, vi.advanceTimersByTime)
  const strike = (pitch: number, atMs: number, heldMs = 300) => {
    runTo(atMs)
    loop.hear({ bytes: [0x90, pitch, 70], atMs })
    runTo(atMs + heldMs)
    loop.hear({ bytes: [0x80, pitch, 0], atMs: atMs + heldMs })
  }
  return { loop, rounds, passes, clicks: () => heard('click'), heard, cues, metronome, choice, runTo, strike }
}

describe('the practice loop', () => {
  const run = inFakeTime()
  const inScope = (
    choice: LoopChoice = { ...CHOICE },
    start?: () => Promise<Sound>,
    more?: Parameters<typeof practise>[2],
  ) => run(() => practise(choice, start, more))

  it('counts in, and then clicks every beat over the seam without a gap', async () => {
    const { loop, rounds, clicks, runTo } = inScope()
    await loop.start()
    expect(loop.phase.value).toBe('count-in')
    const startMs = rounds[0]!.startMs
    runTo(startMs + 2 * ROUND_MS)
    expect(loop.phase.value).toBe('playing')
    // A bar, the three beats before the pickup, and two rounds.
    const all = clicks()
    const gaps = all.map(({ atMs }, index) => atMs - (all[index - 1]?.atMs ?? atMs - 1000))
    expect(all.length).toBeGreaterThanOrEqual(7 + 32)
    for (const gap of gaps) expect(gap).toBeCloseTo(1000, 6)
    expect(rounds[1]!.startMs).toBe(startMs + ROUND_MS)
    expect(
      all
        .filter(click => click.pitch === CLICK_KEYS.downbeat)
        .map(click => Math.round((click.atMs - startMs) / 1000))
        .slice(0, 5),
    ).toEqual([-7, -3, 1, 5, 9])
  })

  it('judges a pass while the next one runs, each with its own keys, an early first note with the next', async () => {
    const { loop, rounds, passes, runTo, strike } = inScope()
    await loop.start()
    const startMs = rounds[0]!.startMs
    for (const note of EXPECTED) strike(note.pitch, startMs + note.onsetMs)
    strike(EXPECTED[0]!.pitch, startMs + ROUND_MS - 80, 50)
    expect(loop.marks.value.size).toBe(EXPECTED.length)
    runTo(startMs + ROUND_MS + 500)
    await judged()
    expect(passes).toHaveLength(1)
    expect(passes[0]!.assessment.summary).toMatchObject({ right: EXPECTED.length, extra: 0, clean: true })
    expect(passes[0]!.take.notes[0]).toMatchObject({ onsetMs: 0, durationMs: 300 })
    expect(loop.marks.value.get(0)).toMatchObject({ round: 1, outcome: 'right', deviationMs: -80 })
    expect(loop.phase.value).toBe('playing')
  })

  it('takes a new tempo and new hands with the next round', async () => {
    const { rounds, choice, runTo, loop } = inScope()
    await loop.start()
    runTo(rounds[0]!.startMs + 3000)
    choice.bpm = 120
    choice.hands = 'left'
    runTo(rounds[0]!.startMs + ROUND_MS + 100)
    expect(loop.current.value).toMatchObject({ round: 1, bpm: 120, hands: 'left' })
    expect(rounds[1]!.startMs).toBe(rounds[0]!.startMs + ROUND_MS)
    expect(rounds[1]!.plan.roundMs).toBe(ROUND_MS / 2)
  })

  it('marks what was not played as missed when it can no longer come', async () => {
    const { loop, rounds, runTo } = inScope()
    await loop.start()
    runTo(rounds[0]!.startMs + 850)
    expect(loop.marks.value.size).toBe(0)
    runTo(rounds[0]!.startMs + 950)
    expect(loop.marks.value.get(0)).toMatchObject({ outcome: 'missed' })
  })

  it('keeps a pass stopped after its last note, and not one stopped before', async () => {
    const { loop, rounds, passes, runTo, strike } = inScope()
    await loop.start()
    strike(EXPECTED[0]!.pitch, rounds[0]!.startMs)
    runTo(rounds[0]!.startMs + 8000)
    loop.stop()
    await judged()
    expect(passes).toHaveLength(0)
    await loop.start()
    const again = rounds.at(-1)!.startMs
    strike(EXPECTED[0]!.pitch, again)
    runTo(again + ROUND_MS + 10)
    loop.stop()
    await judged()
    expect(passes).toHaveLength(1)
    expect(passes[0]!.assessment.summary.right).toBe(1)
  })

  it('leaves out keys tried during the count-in', async () => {
    const { loop, rounds, passes, runTo, strike } = inScope()
    await loop.start()
    strike(50, rounds[0]!.startMs - 3000)
    strike(EXPECTED[0]!.pitch, rounds[0]!.startMs - 20)
    runTo(rounds[0]!.startMs + ROUND_MS + 500)
    await judged()
    expect(passes[0]!.take.notes.map(note => [note.pitch, note.onsetMs])).toEqual([[EXPECTED[0]!.pitch, -20]])
  })

  it('says so when the sound cannot be started, and can be started again', async () => {
    const { loop } = inScope(undefined, () => Promise.reject(new Error('no audio device')))
    await loop.start()
    expect(loop.phase.value).toBe('stopped')
    expect(loop.problem.value).toContain('no audio device')
  })

  it('does not begin when it was stopped while the sound was loading', async () => {
    const { loop, rounds } = inScope()
    const starting = loop.start()
    loop.stop()
    await starting
    expect(loop.phase.value).toBe('stopped')
    expect(rounds).toEqual([])
  })

  it('records the pedal with the pass in which it moved', async () => {
    const { loop, rounds, passes, runTo, strike } = inScope()
    await loop.start()
    const startMs = rounds[0]!.startMs
    strike(EXPECTED[0]!.pitch, startMs)
    for (const [atMs, value] of [
      [startMs + 500, 127],
      [startMs + 900, 0],
      [startMs + ROUND_MS + 100, 127],
    ] as const) {
      runTo(atMs)
      loop.hear({ bytes: [0xb0, 64, value], atMs })
    }
    strike(EXPECTED[0]!.pitch, startMs + ROUND_MS + 200)
    runTo(startMs + 2 * ROUND_MS + 500)
    await judged()
    expect(passes.map(pass => pass.take.pedals)).toEqual([
      [
        { atMs: 500, down: true },
        { atMs: 900, down: false },
      ],
      [{ atMs: 100, down: true }],
    ])
  })

  it('goes on with something else after a cue and a count-in, and nothing of the broken round is kept', async () => {
    const { loop, rounds, passes, choice, cues, clicks, runTo, strike } = inScope()
    await loop.start()
    for (const note of EXPECTED) strike(note.pitch, rounds[0]!.startMs + note.onsetMs)
    runTo(rounds[0]!.startMs + ROUND_MS + 400)
    await judged()
    expect(passes).toHaveLength(1)
    choice.stretch = { from: quarters(5), to: quarters(9) }
    choice.bpm = 120
    loop.moveOn('down')
    const movedMs = performance.now()
    expect([cues, loop.phase.value]).toEqual([['down'], 'count-in'])
    const again = rounds.at(-1)!
    // The cue, then a bar is counted at the new tempo.
    expect(again.startMs - performance.now()).toBeGreaterThanOrEqual(4 * 500)
    runTo(again.startMs + again.plan.roundMs + 400)
    // What the broken round had planned never sounds.
    expect(
      clicks()
        .filter(({ atMs }) => atMs > movedMs)
        .slice(0, 6)
        .map(({ atMs }) => Math.round(atMs - again.startMs)),
    ).toEqual([-2000, -1500, -1000, -500, 0, 500])
    await judged()
    expect(passes.at(-1)).toMatchObject({ bpm: 120, stretch: choice.stretch, mode: 'steady' })
    await judged()
    expect(passes).toHaveLength(2)
    expect(new Set(rounds.map(round => round.round)).size).toBe(rounds.length)
  })

  it('is silent from the moment the click is turned off, and clicks on with the next beat', async () => {
    const { loop, rounds, clicks, metronome, runTo } = inScope()
    await loop.start()
    const startMs = rounds[0]!.startMs
    runTo(startMs + 2050)
    metronome.isOn = false
    runTo(startMs + 5050)
    metronome.isOn = true
    runTo(startMs + 8000)
    expect(
      clicks()
        .filter(({ atMs }) => atMs > startMs - 1)
        .map(({ atMs }) => Math.round((atMs - startMs) / 1000))
        .slice(0, 5),
    ).toEqual([0, 1, 2, 6, 7])
  })

  it('clicks as it was chosen, while every beat is seen', async () => {
    const { loop, rounds, clicks, runTo } = inScope({ ...CHOICE, click: { on: 'bars', within: 1 } })
    await loop.start()
    const startMs = rounds[0]!.startMs
    const seen: number[] = []
    for (let beat = 0; beat < 6; beat++) {
      runTo(startMs + beat * 1000 + 20)
      seen.push(loop.beat.value!.beat)
    }
    expect(seen).toEqual([4, 1, 2, 3, 4, 1])
    expect(
      clicks()
        .filter(({ atMs }) => atMs > startMs)
        .map(({ atMs }) => Math.round((atMs - startMs) / 1000))
        .slice(0, 2),
    ).toEqual([1, 5])
  })

  it('lets something sound beside the player in every round, and another thing as soon as it is chosen', async () => {
    const band = { pitch: 40 }
    const { loop, rounds, heard, runTo } = inScope(undefined, undefined, {
      accompany: () =>
        [0, 4000, 8000, 12_000].map(atMs => ({ voice: 'bass', atMs, lengthMs: 500, velocity: 80, pitch: band.pitch })),
    })
    await loop.start()
    const startMs = rounds[0]!.startMs
    runTo(startMs + 4100)
    band.pitch = 45
    loop.rearrange()
    runTo(startMs + ROUND_MS + 4100)
    expect(heard('bass').map(({ atMs, pitch }) => [Math.round(atMs - startMs), pitch])).toEqual([
      [0, 40],
      [4000, 40],
      [8000, 45],
      [12_000, 45],
      [16_000, 45],
      [20_000, 45],
    ])
    // What sounded when it was exchanged is silent at once.
    expect(heard('bass')[1]!.letGoMs! - (startMs + 4100)).toBeLessThan(20)
    loop.stop()
    runTo(performance.now() + 3000)
    expect(heard('bass')).toHaveLength(6)
  })

  it('takes turns: the program plays and nothing is judged, then the player', async () => {
    const { loop, rounds, passes, runTo, strike } = inScope(undefined, undefined, {
      choice: round => ({ turn: round % 2 === 0 ? 'program' : 'player' }),
    })
    await loop.start()
    const startMs = rounds[0]!.startMs
    strike(EXPECTED[0]!.pitch, startMs + 3000)
    for (const note of EXPECTED) strike(note.pitch, startMs + ROUND_MS + note.onsetMs)
    runTo(startMs + 2 * ROUND_MS + 400)
    await judged()
    expect(passes.map(pass => pass.assessment.summary.clean)).toEqual([true])
    expect(passes[0]!.take.notes).toHaveLength(EXPECTED.length)
  })

  it('leaves a bar of rest between rounds where that is wished', async () => {
    const { loop, rounds, choice, runTo } = inScope()
    choice.restBars = 1
    await loop.start()
    runTo(rounds[0]!.startMs + ROUND_MS + 3600)
    expect(rounds[1]!.startMs - rounds[0]!.startMs).toBe(ROUND_MS + 4000)
  })

  it('stops when the computer has slept, and keeps nothing of it', async () => {
    const { loop, rounds, passes, runTo } = inScope()
    await loop.start()
    runTo(rounds[0]!.startMs + 500)
    vi.advanceTimersByTime(600_000)
    runTo(performance.now() + 50)
    expect(loop.phase.value).toBe('stopped')
    await judged()
    expect(passes.filter(pass => pass.take.notes.length > 0)).toEqual([])
  })
})
