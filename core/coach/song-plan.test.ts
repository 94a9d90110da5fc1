import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { toDecimal } from '../music/quarters'
import { notesKey } from '../parts/notes-key'
import { proposeParts } from '../parts/propose'
import { cautionsFor, CAUTIONS } from './cautions'
import { forecast, minutesLeft, minutesPerDay, type ProgressDay } from './forecast'
import type { PastPass } from './pass'
import { afterPasses, startRecord } from './record'
import { reviewsOf, planSession, type SongInWork } from './session'
import { coachSettings, type CoachSettings } from './settings'
import { reasonText } from '../words/coach'
import {
  afterSongPass,
  progressOf,
  isReached,
  nextOfStage,
  planSong,
  songProgressShare,
  startSong,
  type SongPlan,
  type SongProgress,
} from './song-plan'
import { stagesOf } from './stages'
import { slowShareOf, startingTempo } from './starting-tempo'
import { nextInTurn, unlockedStages, turnsNow, TURNS } from './turns'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` }))
const planWith = (own: Partial<CoachSettings> = {}) =>
  planSong(arrangement, parts, coachSettings({ school: 'turns', gate: 4, ownTimeGate: 4, ...own }))
const DAY_MS = 86_400_000
const dayOf = (ms: number) => String(Math.floor(ms / DAY_MS))
const named = (plan: SongPlan) =>
  plan.stages.map(
    ({ unit, hands }) => `${unit.kind} ${unit.first}${unit.last === unit.first ? '' : `-${unit.last}`} ${hands}`,
  )

/** Plays whatever is asked for, always clean, and gives every pass. */
function playThrough(plan: SongPlan, most: number, startMs = 0): { standing: SongProgress; passes: PastPass[] } {
  let standing = startSong(plan)
  const passes: PastPass[] = []
  for (let count = 0; count < most; count++) {
    const next = nextInTurn(plan, standing, passes)
    if (!next) break
    const pass: PastPass = {
      key: notesKey(arrangement, next.stretch, next.hands),
      stretch: next.stretch,
      hands: next.hands,
      mode: next.mode,
      bpm: next.bpm,
      clean: true,
      right: 20,
      notes: 20,
      failed: [],
      atMs: startMs + count * 20_000,
      lengthMs: 15_000,
    }
    passes.push(pass)
    standing = afterSongPass(plan, standing, pass)
  }
  return { standing, passes }
}

describe('the stages of a song', () => {
  it('are each hand, then both, of each part, then the seam, the two back to back, and the whole at last', () => {
    const names = named(planWith({ firstHand: 'left' }))
    expect(names.slice(0, 8)).toEqual([
      'part 0 left',
      'part 0 right',
      'part 0 both',
      'part 1 left',
      'part 1 right',
      'part 1 both',
      'seam 0-1 both',
      'pair 0-1 both',
    ])
    expect(names.at(-1)).toBe('song 0-7 both')
    expect(names).toContain('chain 0-3 both')
  })
  it('go two by two, or from the end backward, as the player likes', () => {
    expect(named(planWith({ joining: 'pairs' })).filter(name => /^(pair|chain|song)/.test(name))).toEqual([
      'pair 0-1 both',
      'pair 2-3 both',
      'chain 0-3 both',
      'pair 4-5 both',
      'pair 6-7 both',
      'chain 4-7 both',
      'chain 0-7 both',
      'song 0-7 both',
    ])
    const backward = named(planWith({ school: 'backward' }))
    expect(backward[0]).toMatch(/^part 7/)
    expect(backward.indexOf('pair 6-7 both')).toBeLessThan(backward.findIndex(name => name.startsWith('part 5')))
  })
  it('begin with the hand the player names; the tune is where fewer keys fall together', () => {
    const first = (firstHand: CoachSettings['firstHand']) =>
      stagesOf(arrangement, parts, coachSettings({ firstHand }), { slowShare: 0.6, minutes: 2 })[0]!.hands
    expect([first('right'), first('left'), first('melody'), first('chords')]).toEqual([
      'right',
      'left',
      'right',
      'left',
    ])
  })
  it('a seam is the last bar of one part and the first of the next', () => {
    const seam = planWith().stages.find(stage => stage.unit.kind === 'seam')!.unit.stretch
    const at = toDecimal(parts[1]!.from)
    expect(at - toDecimal(seam.from)).toBeGreaterThanOrEqual(4)
    expect(toDecimal(seam.to) - at).toBeGreaterThanOrEqual(4)
    expect(toDecimal(seam.to) - toDecimal(seam.from)).toBeLessThanOrEqual(12)
  })
  it('twins are one stage: what is reached in one is reached in the other', () => {
    const plan = planWith()
    const of = (place: number) =>
      plan.stages.find(stage => stage.unit.kind === 'part' && stage.unit.first === place && stage.hands === 'left')!
    expect(of(0).key).toBe(of(6).key)
  })
})

describe('the starting tempo', () => {
  it('is lower where the hardest moment comes sooner, within half to three quarters of the target', () => {
    const easy = startingTempo(arrangement, parts[0]!, 'right', 60)
    const hard = startingTempo(arrangement, parts[0]!, 'right', 240)
    expect(easy / 60).toBeCloseTo(0.75)
    expect(hard / 240).toBeLessThan(0.75)
    expect(hard / 240).toBeGreaterThanOrEqual(0.45)
  })
  it('is lower for whoever is just beginning, and higher for the fluent, part by part and for the song', () => {
    const of = (experience: 'new' | 'some' | 'fluent') =>
      startingTempo(arrangement, parts[0]!, 'right', 240, { experience })
    expect(of('new')).toBeLessThan(of('some'))
    expect(of('some')).toBeLessThan(of('fluent'))
    expect(of('some')).toBe(startingTempo(arrangement, parts[0]!, 'right', 240))
    const share = (experience: 'new' | 'some' | 'fluent') => slowShareOf(arrangement, parts, 1, experience)
    expect(share('new')).toBeLessThan(share('some'))
    expect(share('some')).toBeLessThan(share('fluent'))
    expect(share('fluent')).toBeLessThan(1)
  })
  it('together begins below what the slower hand can do (common practice)', () => {
    const plan = planWith()
    const both = plan.stages.find(stage => stage.unit.first === 0 && stage.hands === 'both')!
    let standing = startSong(plan)
    for (const hands of ['left', 'right'] as const) {
      const { unit, key } = plan.stages.find(stage => stage.unit.first === 0 && stage.hands === hands)!
      for (let pass = 0; pass < 5; pass++)
        standing = afterSongPass(plan, standing, {
          key,
          stretch: unit.stretch,
          hands,
          mode: 'steady',
          bpm: hands === 'left' ? 54 : 90,
          clean: true,
          right: 9,
          notes: 9,
          failed: [],
          atMs: pass,
          lengthMs: 1,
        })
    }
    const slower = Math.min(
      ...['left', 'right']
        .map(
          hands =>
            progressOf(
              standing,
              plan.stages.find(stage => stage.unit.first === 0 && stage.hands === hands)!,
            ).reachedBpm,
        )
        .filter(Boolean),
    )
    expect(nextOfStage(plan, standing, both).bpm).toBeLessThanOrEqual(slower)
  })
})

describe('taking turns', () => {
  it('a visit ends after some passes, and what was longest ago comes next', () => {
    const plan = planWith()
    const { passes } = playThrough(plan, 60)
    let visit = 1
    for (let index = 1; index < passes.length; index++) {
      visit = passes[index]!.key === passes[index - 1]!.key ? visit + 1 : 1
      expect(visit).toBeLessThanOrEqual(TURNS.mostPasses)
    }
    expect(new Set(passes.slice(0, 40).map(pass => pass.key)).size).toBeGreaterThanOrEqual(4)
  })
  it('together waits for both hands, a seam for its parts, the song for everything', () => {
    const plan = planWith()
    expect(
      unlockedStages(plan, startSong(plan)).every(stage => stage.unit.kind === 'part' && stage.hands !== 'both'),
    ).toBe(true)
    const { standing } = playThrough(plan, 2000)
    expect(plan.stages.every(stage => isReached(plan, stage, standing))).toBe(true)
    expect(turnsNow(plan, standing, [])).toEqual([])
    expect(songProgressShare(plan, standing)).toBeCloseTo(1)
  })
})

describe('the session', () => {
  const plan = planWith()
  const fresh: SongInWork = { songId: 's', title: 'The Lantern Ferry', plan, record: startRecord(plan) }
  const wish = { minutes: 30, nowMs: 10 * DAY_MS + 3_600_000, skipped: [] as string[], dayOf }
  const sum = (items: { kind: string; minutes: number }[]) =>
    items.filter(item => item.kind !== 'break').reduce((total, item) => total + item.minutes, 0)
  it('of a new song is new material, in time', () => {
    const items = planSession([fresh], wish)
    expect(items.every(item => item.kind === 'stage' || item.kind === 'break')).toBe(true)
    expect(sum(items)).toBeCloseTo(30, 6)
    expect(items[0]!.why.kind).toBe('new')
    expect(planSession([fresh], { ...wish, minutes: 5 }).length).toBeLessThanOrEqual(2)
    expect(planSession([], wish)).toEqual([])
  })
  it('of a song under way has a warm-up, what is due, a join and one run; each with a reason; and a break', () => {
    const song = {
      ...fresh,
      record: afterPasses(plan, startRecord(plan), playThrough(plan, 215, 2 * DAY_MS).passes, dayOf),
    }
    const items = planSession([song], { ...wish, minutes: 60 })
    const kinds = items.map(item => item.kind)
    expect(kinds[0]).toBe('warm-up')
    for (const kind of ['review', 'join', 'run', 'break']) expect(kinds).toContain(kind)
    expect(kinds.at(-1)).toBe('run')
    expect(items.every(item => reasonText(item.why).length > 10 && item.minutes > 0)).toBe(true)
    expect(sum(items)).toBeLessThanOrEqual(60 + 1e-6)
    const reviews = items.filter(item => item.kind === 'review')
    expect(sum(reviews)).toBeLessThanOrEqual(0.3 * 60)
    // What is skipped is not offered again; the rest moves up.
    const without = planSession([song], { ...wish, minutes: 60, skipped: [reviews[0]!.id] })
    expect(without.some(item => item.id === reviews[0]!.id)).toBe(false)
  })
  it('runs no faster than its parts have been reached, nor than it has been itself', () => {
    const { passes } = playThrough(plan, 400)
    let seen = 0
    for (let count = 100; count <= passes.length; count += 20) {
      const record = afterPasses(plan, startRecord(plan), passes.slice(0, count), dayOf)
      const run = planSession([{ ...fresh, record }], { ...wish, minutes: 60 }).find(item => item.kind === 'run')?.what
      if (!run) continue
      seen++
      const parts = plan.stages.filter(
        ({ unit }) => unit.kind === 'part' && unit.first >= run.stage.unit.first && unit.last <= run.stage.unit.last,
      )
      const slowest =
        Math.min(...parts.map(stage => progressOf(record.standing, stage).reachedBpm / stage.targetBpm)) *
        run.stage.targetBpm
      expect(run.bpm).toBeLessThanOrEqual(Math.max(slowest, progressOf(record.standing, run.stage).reachedBpm) + 0.5)
    }
    expect(seen).toBeGreaterThan(3)
  })
  it('a part learned comes back after days, later each time it is clean, sooner when it is not', () => {
    const { passes } = playThrough(plan, 300)
    const learned = afterPasses(plan, startRecord(plan), passes, dayOf)
    const [first] = reviewsOf({ plan, record: learned })
    const { reachedAtMs } = progressOf(learned.standing, first!.stage)
    const again = (clean: boolean[]) => {
      let record = learned
      for (const one of clean) {
        const { dueAtMs } = reviewsOf({ plan, record })[0]!.review
        record = afterPasses(
          plan,
          record,
          [
            {
              ...passes.find(pass => pass.key === first!.stage.key)!,
              mode: 'steady',
              atMs: dueAtMs,
              clean: one,
              right: one ? 20 : 10,
            },
          ],
          dayOf,
        )
      }
      return reviewsOf({ plan, record })[0]!.review
    }
    const lengths = [again([]), again([true]), again([true, true])].map(review => review.intervalDays)
    expect(lengths[0]).toBeGreaterThanOrEqual(1)
    expect(lengths[1]).toBeGreaterThan(lengths[0]!)
    expect(lengths[2]).toBeGreaterThan(lengths[1]!)
    expect(again([true, false]).intervalDays).toBeLessThan(lengths[1]!)
    expect(again([]).dueAtMs).toBeGreaterThan(reachedAtMs!)
  })
})

describe('the forecast', () => {
  /** A learner who halves what is left in every hundred minutes. */
  const days = (count: number, noise = (_day: number) => 1): ProgressDay[] =>
    Array.from({ length: count }, (_, day) => ({
      day: String(day),
      minutes: 30 * (day + 1),
      progress: 1 - 0.5 ** (((30 * (day + 1)) / 100) * noise(day)),
    }))
  it('goes on as the player went: what is left of a halving curve is known exactly', () => {
    const left = minutesLeft(days(8))!
    // From 0.5^2.4 of the way left to 3 % of it.
    expect(left.likely).toBeCloseTo(100 * Math.log2(0.5 ** 2.4 / 0.03), 0)
    expect(left.most - left.least).toBeLessThan(0.2 * left.likely)
  })
  it('is less sure of uneven days, says nothing after three, and nothing is left when it is ready', () => {
    const uneven = minutesLeft(days(8, day => (day % 2 ? 0.7 : 1.2)))!
    const even = minutesLeft(days(8))!
    expect((uneven.most - uneven.least) / uneven.likely).toBeGreaterThan((even.most - even.least) / even.likely)
    expect(minutesLeft(days(3))).toBeUndefined()
    expect(minutesLeft([...days(4), { day: 'x', minutes: 900, progress: 0.99 }])).toEqual({
      likely: 0,
      least: 0,
      most: 0,
    })
    expect(
      minutesLeft(Array.from({ length: 5 }, (_, day) => ({ day: String(day), minutes: 30 * (day + 1), progress: 0 }))),
    ).toBeUndefined()
  })
  it('says plainly whether it fits', () => {
    const left = { likely: 300, least: 250, most: 400 }
    const at = (daysFromNow: number) => forecast(left, 20, 0, daysFromNow * DAY_MS)!
    expect([at(30).fits, at(16).fits, at(10).fits]).toEqual(['yes', 'perhaps', 'no'])
    expect(at(10).minutesPerDayNeeded).toBe(30)
    expect(forecast(left, 0, 0)).toBeUndefined()
  })
  it('reads the days and minutes from the passes', () => {
    const plan = planWith()
    const { passes } = playThrough(plan, 80)
    const spread = passes.map((pass, index) => ({ ...pass, atMs: Math.floor(index / 20) * DAY_MS + index }))
    const found = afterPasses(plan, startRecord(plan), spread, dayOf).days
    expect(found.map(one => one.minutes)).toEqual([5, 10, 15, 20])
    expect(found.at(-1)!.progress).toBeGreaterThan(found[0]!.progress)
    expect(minutesPerDay(found, 3 * DAY_MS, dayOf)).toBeCloseTo(5, 1)
    // Two days without: 20 minutes in six days; and after a month nothing is known of the pace.
    expect(minutesPerDay(found, 5 * DAY_MS, dayOf)).toBeCloseTo(20 / 6, 6)
    expect(minutesPerDay(found, 40 * DAY_MS, dayOf)).toBe(0)
  })
})

describe('cautions', () => {
  const pass = (minute: number, key = 'a', minutes = 1): PastPass => ({
    key,
    stretch: parts[0]!,
    hands: 'right',
    mode: 'steady',
    bpm: 60,
    clean: true,
    right: 1,
    notes: 1,
    failed: [],
    atMs: minute * 60_000,
    lengthMs: minutes * 60_000,
  })
  const kinds = (passes: PastPass[], nowMinute: number) => cautionsFor(passes, nowMinute * 60_000).map(one => one.kind)
  it('a break is due after 25 minutes of real playing, and not when there was one', () => {
    const keys = Array.from({ length: 25 }, (_, minute) => pass(minute, `${minute >> 2}`))
    expect(kinds(keys.slice(0, 24), 24)).toEqual([])
    expect(kinds(keys, 25)).toEqual(['break'])
    expect(kinds(keys, 31)).toEqual([])
    expect(
      kinds(
        [
          ...keys.slice(0, 20),
          ...keys.slice(20).map(one => ({ ...one, atMs: one.atMs + CAUTIONS.pauseMinutes * 60_000 })),
        ],
        30,
      ),
    ).toEqual([])
  })
  it('one small place is not drilled without end, in passes or in minutes', () => {
    expect(
      kinds(
        Array.from({ length: 30 }, (_, index) => pass(index / 10, 'a', 0.1)),
        3,
      ),
    ).toEqual(['same-place'])
    expect(
      kinds(
        Array.from({ length: 29 }, (_, index) => pass(index / 10, 'a', 0.1)),
        3,
      ),
    ).toEqual([])
    expect(
      kinds(
        Array.from({ length: 10 }, (_, minute) => pass(minute)),
        10,
      ),
    ).toEqual(['same-place'])
  })
  it('a day has an end', () => {
    const ofMinutes = (count: number) =>
      kinds(
        Array.from({ length: count }, (_, minute) => pass(minute * 2, String(minute))),
        2 * count,
      )
    expect(ofMinutes(CAUTIONS.dayMinutes)).toContain('day')
    expect(ofMinutes(CAUTIONS.dayMinutes - 1)).not.toContain('day')
  })
})
