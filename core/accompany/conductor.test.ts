import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import { median } from '../ear/statistics'
import type { Take } from '../ear/take'
import type { Arrangement } from '../music/arrangement'
import { expectedNotes, wholePassage } from '../music/passage'
import { MACHINE, type PlayerHabits } from '../players/habits'
import { simulatePlayer } from '../players/simulate'
import { renderPassage } from '../sound/of-score'
import { accompanyTake, Conductor, type Conducting } from './conductor'

const BPM = 90
const beatMs = 60_000 / BPM

/**
 * The right hand of somebody who plays with both, accompanied by the left: what sounded against what their own left
 * hand did.
 */
function accompanied(arrangement: Arrangement, habits: Partial<PlayerHabits>, seed: number) {
  const expected = expectedNotes(arrangement, wholePassage(arrangement, 'both'), BPM)
  const { take, truth } = simulatePlayer(expected, { ...MACHINE, jitterMs: 14, jitterMemory: 0.3, ...habits }, seed)
  const strokesOf = (hand: string) =>
    truth.notes.flatMap(({ id, time, played }, index) =>
      played !== null && expected[index]!.hand === hand ? [{ id, time, played, stroke: take.notes[played]! }] : [],
    )
  const rightPlayed = new Set(take.notes.map((_, played) => played))
  for (const { played } of strokesOf('left')) rightPlayed.delete(played)
  const right: Take = { notes: take.notes.filter((_, played) => rightPlayed.has(played)), pedals: [] }
  const request: Conducting = {
    expected: expectedNotes(arrangement, wholePassage(arrangement, 'right'), BPM),
    bars: arrangement.bars,
    isTempoTold: true,
    beatMs,
    accompaniment: renderPassage(arrangement, wholePassage(arrangement, 'left'), { hands: ['left'] }, BPM).events,
  }
  const sounded = accompanyTake(request, right)
  const off = strokesOf('left').map(({ id, stroke }) =>
    Math.min(...sounded.filter(event => event.noteId === id).map(event => Math.abs(event.atMs - stroke.onsetMs))),
  )
  return { sounded, right, off: off.sort((a, b) => a - b), request }
}

const share = (sorted: readonly number[], part: number) => sorted[Math.floor(part * (sorted.length - 1))]!

describe('the conductor', () => {
  it.each(DEMO_FILES)('%s: is with a steady player, and with one whose tempo drifts by 8 percent', file => {
    const { arrangement } = demoScore(file)
    for (const habits of [
      {},
      { stretch: [1.08, 0.92] },
      { stretch: [0.92, 1.08] },
      { tempoWanderPercent: 4 },
    ] as Partial<PlayerHabits>[]) {
      const { off } = accompanied(arrangement, habits, 5)
      expect(median(off)).toBeLessThan(25)
      expect(share(off, 0.95)).toBeLessThan(70)
    }
  })

  it('finds a tempo that nobody told it, by the third note', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    for (const slow of [0.6, 1.8]) {
      const { off } = accompanied(arrangement, { stretch: [slow, slow] }, 3)
      expect(share(off, 0.9)).toBeLessThan(80)
    }
  })

  it('waits where the player hesitates, and is with them again at once', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    const pauseMs = 2_500
    const { right, sounded } = accompanied(
      arrangement,
      { hesitations: [{ bar: 5, beat: 1, ms: pauseMs, catchUp: 0 }] },
      2,
    )
    const gap = right.notes.findIndex(
      (note, index) => note.onsetMs - (right.notes[index - 1]?.onsetMs ?? note.onsetMs) > pauseMs,
    )
    const [before, again] = [right.notes[gap - 1]!.onsetMs, right.notes[gap]!.onsetMs]
    // What was written before their next note may still come; then nothing until they play it.
    expect(sounded.filter(({ atMs }) => atMs > before + 2 * beatMs && atMs < again - 1)).toEqual([])
    expect(sounded.filter(({ atMs }) => atMs >= again - 1 && atMs < again + 1.5 * beatMs).length).toBeGreaterThan(0)
  })

  it('takes up again where the player takes up again: mostly within a beat and a half, as fast as the notes tell where that is', () => {
    const lateBeats: number[] = []
    for (const file of DEMO_FILES) {
      const { arrangement } = demoScore(file)
      const { request } = accompanied(arrangement, {}, 1)
      for (const [bar, eventsBack] of [
        [4, 2],
        [7, 4],
        [10, 6],
        [13, 9],
      ] as const) {
        const beat = request.expected.find(note => note.bar === bar)?.beat
        if (beat === undefined) continue
        const { take, truth } = simulatePlayer(
          request.expected,
          { ...MACHINE, jitterMs: 14, restarts: [{ bar, beat, eventsBack, pauseMs: 2000 }] },
          bar,
        )
        const conductor = new Conductor(request)
        const first = Math.max(...truth.restarted) + 1
        const placeOf = new Map(truth.notes.map(({ played }, index) => [played, request.expected[index]!.eventMs]))
        const found = take.notes.findIndex(({ pitch, onsetMs }, played) => {
          conductor.hear(pitch, onsetMs)
          return played >= first && Math.abs(conductor.placeAt(onsetMs) - placeOf.get(played)!) < 60
        })
        lateBeats.push(found < 0 ? Infinity : (take.notes[found]!.onsetMs - take.notes[first]!.onsetMs) / beatMs)
      }
    }
    lateBeats.sort((a, b) => a - b)
    expect(lateBeats.length).toBeGreaterThan(12)
    expect(share(lateBeats, 0.6)).toBeLessThanOrEqual(1.5)
    expect(share(lateBeats, 0.9)).toBeLessThanOrEqual(4)
  })

  it('never runs away: without the player nothing sounds beyond their next note', () => {
    const { arrangement } = demoScore('side-street-shuffle.musicxml')
    const { request } = accompanied(arrangement, {}, 1)
    expect(
      accompanyTake(request, { notes: [], pedals: [] }).every(
        ({ onset }) => onset!.n / onset!.d <= arrangement.notes.find(note => note.hand === 'right')!.onset.n,
      ),
    ).toBe(true)
    const [first] = request.expected
    const conductor = new Conductor(request)
    conductor.hear(first!.pitch, 1000)
    let count = 0
    for (let cue = conductor.upcoming; cue && count < 1000; cue = conductor.upcoming, count++) conductor.done(cue)
    expect(count).toBeLessThan(50)
    expect(conductor.placeAt(60_000)).toBe(
      request.expected.find(({ eventMs: eventMs }) => eventMs > first!.eventMs)!.eventMs,
    )
  })

  it('decides by what was heard: what comes later changes nothing that has sounded', () => {
    const { arrangement } = demoScore('tide-clerk.musicxml')
    const { request, right } = accompanied(arrangement, { jitterMs: 25, missed: 0.05, wrong: 0.05 }, 8)
    const half = right.notes.length >> 1
    const untilMs = right.notes[half]!.onsetMs
    const told = (events: readonly { atMs: number; pitch: number }[]) =>
      events.filter(({ atMs }) => atMs < untilMs).map(({ atMs, pitch }) => `${Math.round(atMs)} ${pitch}`)
    expect(told(accompanyTake(request, { notes: right.notes.slice(0, half + 1), pedals: [] }))).toEqual(
      told(accompanyTake(request, right)),
    )
  })

  it('lets everything end: no note of the accompaniment is left sounding', () => {
    const { arrangement } = demoScore('snow-on-the-towpath.musicxml')
    const { sounded, request } = accompanied(arrangement, {}, 4)
    expect(sounded.length).toBe(request.accompaniment.length)
    for (const { lengthMs } of sounded) expect(Number.isFinite(lengthMs) && lengthMs > 0).toBe(true)
  })
})
