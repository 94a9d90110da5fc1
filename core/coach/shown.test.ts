/** What was shown elsewhere counts; what was changed must be shown again; the rest stays learned. */
import { describe, expect, it } from 'vitest'
import { bytesOf, attributes, backup, pianoScore, quarterNotes } from '../../tests/material/score'
import { applyChange } from '../edit/change'
import { readMusicXml } from '../formats/musicxml/read'
import { readSong } from '../formats/read-score'
import { arrangementEnd, type Arrangement, type Hands } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { equal, quarters, ZERO } from '../music/quarters'
import { notesKey } from '../parts/notes-key'
import { handPatternNamed } from '../patterns/hand-patterns'
import { reasonText, relearnText } from '../words/coach'
import { barsToRelearn } from './to-show-again'
import type { PastPass } from './pass'
import { afterPasses, restoredRecord, startRecord, storedRecord } from './record'
import { withDemonstrated, knownOf, newLoops, rememberedSteps, stepsOf } from './shown'
import { coachSettings } from './settings'
import {
  afterSongPass,
  progressOf,
  isReached,
  nextOfStage,
  planSong,
  progressAfter,
  startSong,
  type SongPlan,
} from './song-plan'
import { nextInTurn } from './turns'

/** Four bars in two hands, then the same four but for one note of the last bar. */
const bar = (right: string, left: string) => `${quarterNotes(right, 1)}${backup(4)}${quarterNotes(left, 2)}`
const VERSE: [string, string][] = [
  ['C5 D5 E5 F5', 'C3 G3 E3 G3'],
  ['G5 E5 F5 D5', 'D3 A3 F3 A3'],
  ['E5 C5 D5 B4', 'C3 G3 E3 G3'],
  ['C5 E5 D5 C5', 'G2 D3 B2 D3'],
]
const bars = [...VERSE, ...VERSE.slice(0, 3), ['C5 E5 G5 C6', 'G2 D3 B2 D3'] as [string, string]].map(([right, left]) =>
  bar(right, left),
)
const { arrangement } = readMusicXml(bytesOf(pianoScore([`${attributes({ staves: 2 })}${bars[0]!}`, ...bars.slice(1)])))
const parts = [
  { id: 'a', name: 'A1', from: ZERO, to: quarters(16) },
  { id: 'b', name: 'A2', from: quarters(16), to: quarters(32) },
]
const planOf = (of: Arrangement = arrangement, past = {}, its = parts) =>
  planSong(of, its, coachSettings({ firstHand: 'right', ownTimeGate: 0 }), 1, past)
const pass = (
  stretch: ScoreSpan,
  hands: Hands,
  bpm: number,
  own: Partial<PastPass> = {},
  of = arrangement,
): PastPass => ({
  key: notesKey(of, stretch, hands),
  stretch: { from: stretch.from, to: stretch.to },
  hands,
  mode: 'steady',
  bpm,
  clean: true,
  right: 16,
  notes: 16,
  failed: [],
  atMs: 0,
  lengthMs: 10_000,
  ...own,
})
const stageOf = (plan: SongPlan, place: number, hands: Hands) =>
  plan.stages.find(stage => stage.unit.kind === 'part' && stage.unit.first === place && stage.hands === hands)!

describe('steps', () => {
  it('are named by what the hands do: the same in a twin, another where a key or the time between differs', () => {
    const [first, second] = [stepsOf(arrangement, parts[0]!, 'right'), stepsOf(arrangement, parts[1]!, 'right')]
    expect(first).toHaveLength(16)
    expect(first.slice(0, 14).map(step => step.name)).toEqual(second.slice(0, 14).map(step => step.name))
    expect(first.slice(14).map(step => step.name)).not.toEqual(second.slice(14).map(step => step.name))
    expect(new Set(stepsOf(arrangement, parts[0]!, 'both').map(step => step.name)).size).toBeGreaterThan(8)
  })
  it('of hands together show each hand too, not the other way round; own time shows the keys alone, what failed shows nothing', () => {
    const steps = rememberedSteps(arrangement)
    const both = withDemonstrated(arrangement, steps, new Map(), pass(parts[0]!, 'both', 60))
    expect(knownOf(both, steps(parts[0]!, 'left'))).toMatchObject({ bpm: 60, keys: true, fresh: [] })
    const right = withDemonstrated(arrangement, steps, new Map(), pass(parts[0]!, 'right', 60))
    expect(knownOf(right, steps(parts[0]!, 'both')).fresh).toHaveLength(15)
    const keys = withDemonstrated(arrangement, steps, new Map(), pass(parts[0]!, 'right', 60, { mode: 'own-time' }))
    expect(knownOf(keys, steps(parts[0]!, 'right'))).toMatchObject({ bpm: 0, keys: true })
    const failed = withDemonstrated(
      arrangement,
      steps,
      new Map(),
      pass(parts[0]!, 'right', 60, { failed: [quarters(5)] }),
    )
    expect(knownOf(failed, steps(parts[0]!, 'right')).fresh).toEqual([quarters(5)])
  })
  it('of a faster pass raise the tempo, of a slower one do not lower it', () => {
    const steps = rememberedSteps(arrangement)
    const once = withDemonstrated(arrangement, steps, new Map(), pass(parts[0]!, 'right', 60))
    expect(
      knownOf(withDemonstrated(arrangement, steps, once, pass(parts[0]!, 'right', 80)), steps(parts[0]!, 'right')).bpm,
    ).toBe(80)
    expect(withDemonstrated(arrangement, steps, once, pass(parts[0]!, 'right', 50))).toBe(once)
  })
  it('that are new have a loop with a beat before and after, unless that is most of it', () => {
    const steps = stepsOf(arrangement, parts[0]!, 'right')
    expect(newLoops(arrangement, parts[0]!, steps, [quarters(5)])).toEqual([{ from: quarters(4), to: quarters(7) }])
    expect(newLoops(arrangement, parts[0]!, steps, [quarters(5), quarters(7)])).toEqual([
      { from: quarters(4), to: quarters(9) },
    ])
    expect(
      newLoops(
        arrangement,
        parts[0]!,
        steps,
        [1, 5, 9, 13].map(at => quarters(at)),
      ),
    ).toEqual([])
    // From where the hand comes, however long before.
    expect(
      newLoops(
        arrangement,
        parts[0]!,
        steps.filter(step => ![3, 4, 5].some(at => equal(step.place, quarters(at)))),
        [quarters(6)],
      )[0]!.from,
    ).toEqual(quarters(2))
  })
})

describe('a part that is like an earlier one', () => {
  const plan = planOf()
  const learned = progressAfter(
    plan,
    (['right', 'left', 'both'] as const).map((hands, index) =>
      pass(parts[0]!, hands, plan.ranges.get(stageOf(plan, 0, hands).key)!.steps[2]!, { atMs: index }),
    ),
  )
  it('is learned only for what is new in it, and that is said; the hand that is the same is not asked for', () => {
    expect(isReached(plan, stageOf(plan, 1, 'left'), learned)).toBe(true)
    const next = nextOfStage(plan, learned, stageOf(plan, 1, 'right'))
    expect(next).toMatchObject({
      isNew: true,
      hands: 'right',
      mode: 'steady',
      because: { kind: 'only-new', bars: [8] },
    })
    expect(next.stretch).toEqual({ from: quarters(29), to: quarters(32) })
    expect(reasonText(next.because)).toBe('you know the rest of it: only bar 8 is new')
    const shown = afterSongPass(plan, learned, pass(next.stretch, 'right', next.bpm, { atMs: 9 }))
    expect(isReached(plan, stageOf(plan, 1, 'right'), shown)).toBe(true)
    expect(progressOf(shown, stageOf(plan, 1, 'right')).because.kind).toBe('known-elsewhere')
  })
  it('is worked on as a whole when its new bar does not go', () => {
    let standing = learned
    const stage = stageOf(plan, 1, 'right')
    for (let tries = 0; tries < 3; tries++) {
      const next = nextOfStage(plan, standing, stage)
      expect(next.isNew).toBe(true)
      standing = afterSongPass(
        plan,
        standing,
        pass(next.stretch, 'right', next.bpm, {
          clean: false,
          right: 1,
          notes: 4,
          failed: [quarters(30)],
          atMs: 10 + tries,
        }),
      )
    }
    expect(nextOfStage(plan, standing, stage)).toMatchObject({ stretch: { from: quarters(16), to: quarters(32) } })
  })
  it("bars of the player's own choice count for every part they cover, at the tempo they were played at", () => {
    const across = { from: parts[0]!.from, to: quarters(20) }
    const at = progressAfter(plan, [pass(across, 'right', 70)])
    expect(progressOf(at, stageOf(plan, 0, 'right')).reachedBpm).toBe(70)
    expect(progressOf(at, stageOf(plan, 0, 'left')).reachedBpm).toBe(0)
  })
  it('who plays the whole at its tempo has all of it at once; with a fixed count, that counts as the player wishes', () => {
    const whole = { from: ZERO, to: arrangementEnd(arrangement) }
    const song = plan.stages.at(-1)!
    const at = progressAfter(plan, [pass(whole, 'both', song.targetBpm)])
    expect(plan.stages.every(stage => isReached(plan, stage, at))).toBe(true)
    expect(nextInTurn(plan, at, [])).toBeUndefined()
    const counting = planSong(arrangement, parts, coachSettings({ gate: 4 }))
    expect(
      isReached(counting, stageOf(counting, 0, 'both'), progressAfter(counting, [pass(whole, 'both', song.targetBpm)])),
    ).toBe(false)
  })
})

describe('a song that is changed', () => {
  const plan = planOf()
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }
  const practised = [
    pass(whole, 'both', plan.stages.at(-1)!.targetBpm),
    ...(['right', 'left', 'both'] as const).map((hands, index) => pass(parts[0]!, hands, 60, { atMs: index + 1 })),
  ]
  const record = afterPasses(plan, startRecord(plan), practised, ms => String(Math.floor(ms / 86_400_000)))
  const wrong = arrangement.notes.find(note => note.hand === 'right' && equal(note.onset, quarters(6)))!
  const corrected = applyChange(arrangement, { kind: 'pitch', ids: [wrong.id], halfSteps: 2 })
  const after = planOf(corrected, { earlierRevisions: [arrangement] })

  it('by one note keeps what was reached, asks for that place again, and says so before it is saved', () => {
    const standing = progressAfter(after, practised)
    expect(isReached(after, stageOf(after, 0, 'left'), standing)).toBe(true)
    for (const hands of ['right', 'both'] as const)
      expect(progressOf(standing, stageOf(after, 0, hands)).reachedBpm).toBeGreaterThan(0)
    const song = after.stages.at(-1)!
    expect([progressOf(standing, song).reachedBpm, isReached(after, song, standing)]).toEqual([song.targetBpm, false])
    const next = nextOfStage(after, standing, stageOf(after, 0, 'both'))
    expect(next).toMatchObject({ isNew: true, because: { kind: 'changed', bars: [2] } })
    expect(barsToRelearn(plan, record.standing, planOf(corrected))).toEqual([
      { hands: 'right', bars: [2] },
      { hands: 'both', bars: [2] },
    ])
    expect(relearnText(barsToRelearn(plan, record.standing, planOf(corrected)))).toBe(
      'right hand, bar 2; together, bar 2',
    )
    const shown = afterSongPass(after, standing, pass(next.stretch, 'both', next.bpm, { atMs: 99 }, corrected))
    expect(isReached(after, song, shown)).toBe(true)
  })
  it('has its reviews go on: a return before the change counts for the notes as they are now', () => {
    const dayOf = (ms: number) => String(Math.floor(ms / 86_400_000))
    const later = pass(parts[0]!, 'both', 60, { atMs: 5 * 86_400_000 })
    const { reviews } = afterPasses(after, startRecord(after), [...practised, later], dayOf)
    expect(after.changes.keys.get(later.key)).toBe(stageOf(after, 0, 'both').key)
    expect(reviews.get(stageOf(after, 0, 'both').key)).toMatchObject({ times: 1, day: '5' })
    expect(reviews.has(later.key)).toBe(false)
  })
  it('by a finger keeps everything and asks for nothing', () => {
    const fingered = applyChange(arrangement, { kind: 'finger', id: wrong.id, finger: 3 })
    const its = planOf(fingered, { earlierRevisions: [arrangement] })
    expect(its.changes.keys.size).toBe(0)
    expect(nextInTurn(its, progressAfter(its, practised), [])).toBeUndefined()
    expect(barsToRelearn(plan, record.standing, planOf(fingered))).toEqual([])
  })
  it('by an edge that moves asks for no more than what was added', () => {
    const moved = [
      { ...parts[0]!, to: quarters(15) },
      { ...parts[1]!, from: quarters(15) },
    ]
    const only = planOf(arrangement, {}, moved)
    const standing = progressAfter(
      only,
      (['right', 'left', 'both'] as const).map((hands, index) => pass(parts[0]!, hands, 80, { atMs: index })),
    )
    expect(isReached(only, stageOf(only, 0, 'both'), standing)).toBe(true)
  })
  it('by a transposition is other music for the hands, and it is said which bars', () => {
    const up = applyChange(arrangement, { kind: 'pitch', ids: arrangement.notes.map(note => note.id), halfSteps: 2 })
    const its = planOf(up, { earlierRevisions: [arrangement] })
    expect(its.changes.keys.size).toBe(0)
    expect(nextInTurn(its, progressAfter(its, practised), [])).toMatchObject({
      hands: 'right',
      stage: { unit: { first: 0 } },
    })
    expect(relearnText(barsToRelearn(plan, record.standing, planOf(up)))).toContain('right hand, bars 1 to 8')
  })
  it('is kept in the record with what was changed', () => {
    const kept = afterPasses(after, startRecord(after), practised, () => 'day')
    const back = restoredRecord(JSON.parse(JSON.stringify(storedRecord(after, kept))))
    expect(back.record.standing).toEqual(kept.standing)
    expect(back.changes).toEqual(after.changes)
    expect(startSong(after).shown.size).toBe(0)
  })
})

describe('another edition of the song', () => {
  const chart = (pattern: string) =>
    readSong(new TextEncoder().encode('| C | F | G | C |'), 'a.txt', { patterns: { left: handPatternNamed(pattern)! } })
      .arrangement
  const [easy, full, other] = ['block-held', 'broken', 'octaves'].map(chart)
  const part = { id: 'a', name: 'A', from: ZERO, to: quarters(16) }
  const plan = (of: Arrangement, editions: Arrangement[] = []) => ({
    ...planSong(of, [part], coachSettings({ firstHand: 'left' })),
    editions,
  })
  const next = (of: SongPlan, passes: PastPass[]) =>
    nextOfStage(of, afterPasses(of, startRecord(of), passes, () => 'day').standing, stageOf(of, 0, 'left'))
  const played = { ...pass(part, 'left', 60, {}, easy), edition: 'easy' }

  it('shows where the keys are: the fuller pattern over the same positions begins with the click', () => {
    expect(next(plan(full!), []).mode).toBe('own-time')
    expect(next(plan(full!, [easy!]), [played])).toMatchObject({ mode: 'steady', because: { kind: 'start-tempo' } })
  })
  it('but not of a pattern whose keys are others, nor of bars that failed', () => {
    expect(next(plan(other!, [easy!]), [played]).mode).toBe('own-time')
    expect(next(plan(full!, [easy!]), [{ ...played, clean: false, failed: [quarters(8)] }]).mode).toBe('own-time')
  })
  it('is no practice of this one: it makes no day, and reaches no tempo', () => {
    const of = plan(full!, [easy!])
    const record = afterPasses(of, startRecord(of), [played], () => 'day')
    expect([record.days, record.newestDay]).toEqual([[], []])
    expect(progressOf(record.standing, stageOf(of, 0, 'left')).passes).toBe(0)
  })
})
