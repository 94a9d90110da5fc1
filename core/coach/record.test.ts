import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { notesKey } from '../parts/notes-key'
import { proposeParts } from '../parts/propose'
import { seededChance } from '../players/randomness'
import type { PastPass } from './pass'
import { afterPasses, passesOfDay, restoredRecord, startRecord, storedRecord } from './record'
import { planSession, reviewsOf } from './session'
import { coachSettings } from './settings'
import { afterSongPass, planSong, startSong } from './song-plan'
import { nextInTurn, TURNS } from './turns'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement)
  .slice(0, 3)
  .map((part, place) => ({ ...part, id: `part ${place}` }))
const DAY_MS = 86_400_000
const dayOf = (ms: number) => String(Math.floor(ms / DAY_MS))

/** Days of somebody who does as the coach says and fails in a third of the passes, at one place more than elsewhere. */
function practise(plan: ReturnType<typeof planSong>, count: number): PastPass[] {
  const chance = seededChance(7)
  let standing = startSong(plan)
  const passes: PastPass[] = []
  for (let index = 0; index < count; index++) {
    const day = Math.floor(index / 40)
    const next = nextInTurn(
      plan,
      standing,
      passes.filter(pass => dayOf(pass.atMs) === String(day)),
    )
    if (!next) break
    const clean = !chance.happens(0.33)
    const moments = plan.ranges.get(next.stage.key)!.onsets
    const pass: PastPass = {
      key: notesKey(arrangement, next.stretch, next.hands),
      stretch: next.stretch,
      hands: next.hands,
      mode: next.mode,
      bpm: next.bpm,
      clean,
      right: clean ? 20 : 16,
      notes: 20,
      failed: clean ? [] : [chance.happens(0.7) ? moments[3 % moments.length]! : chance.pick(moments)],
      atMs: day * DAY_MS + (index % 40) * 20_000,
      lengthMs: 15_000,
    }
    passes.push(pass)
    standing = afterSongPass(plan, standing, pass)
  }
  return passes
}

describe('the record of a song', () => {
  for (const tempo of ['steps', 'adaptive'] as const) {
    const plan = planSong(arrangement, parts, coachSettings({ school: 'turns', tempo }))
    const passes = practise(plan, 400)
    const whole = afterPasses(plan, startRecord(plan), passes, dayOf)
    it(`is the same folded in pieces, kept as JSON in between, with tempo by ${tempo}`, () => {
      for (const size of [1, 7, 133]) {
        let record = startRecord(plan)
        for (let from = 0; from < passes.length; from += size)
          record = restoredRecord(
            JSON.parse(
              JSON.stringify(storedRecord(plan, afterPasses(plan, record, passes.slice(from, from + size), dayOf))),
            ),
          ).record
        expect(storedRecord(plan, record)).toEqual(JSON.parse(JSON.stringify(storedRecord(plan, whole))))
      }
    })
    it(`has its days, its minutes and today, with tempo by ${tempo}`, () => {
      const days = new Set(passes.map(pass => dayOf(pass.atMs)))
      expect(whole.days.map(one => one.day)).toEqual([...days])
      expect(whole.days.at(-1)!.minutes).toBeCloseTo(passes.length / 4, 6)
      const last = [...days].at(-1)!
      expect(passesOfDay(whole, last, dayOf)).toEqual(passes.filter(pass => dayOf(pass.atMs) === last))
      expect(passesOfDay(whole, 'another day', dayOf)).toEqual([])
    })
  }
})

describe('what came back and was gone', () => {
  const plan = planSong(arrangement, parts, coachSettings({ school: 'turns', gate: 4, ownTimeGate: 0 }))
  const part = plan.stages.find(stage => stage.unit.kind === 'part' && stage.hands === 'both')!
  const clean = (atMs: number, bpm: number, isClean = true): PastPass => ({
    key: part.key,
    stretch: part.unit.stretch,
    hands: 'both',
    mode: 'steady',
    bpm,
    clean: isClean,
    right: isClean ? 20 : 12,
    notes: 20,
    failed: [],
    atMs,
    lengthMs: 15_000,
  })
  const learned = afterPasses(
    plan,
    startRecord(plan),
    Array.from({ length: 40 }, (_, index) => clean(index * 20_000, Math.min(part.targetBpm, 40 + 2 * index))),
    dayOf,
  )
  const { dueAtMs } = reviewsOf({ plan, record: learned })[0]!.review
  const failed = afterPasses(plan, learned, [clean(dueAtMs, part.targetBpm, false)], dayOf)

  it('is asked for again at once, slower, and not for ever', () => {
    const today = [clean(dueAtMs, 80, false)]
    const again = nextInTurn(plan, failed.standing, today)!
    expect(again).toMatchObject({ stage: part, bpm: Math.round(80 * TURNS.againSlower), isSpot: false })
    expect(again.because).toEqual({ kind: 'faded' })
    expect(
      nextInTurn(
        plan,
        failed.standing,
        Array.from({ length: TURNS.reviewTries }, (_, index) => clean(dueAtMs + index, 80, false)),
      )!.stage.key,
    ).not.toBe(part.key)
    expect(nextInTurn(plan, failed.standing, [...today, clean(dueAtMs + 1, 74)])!.stage.key).not.toBe(part.key)
  })
  it('stands in the plan of the day until it went once', () => {
    const again = (record: typeof failed) =>
      planSession([{ songId: 's', title: 'S', plan, record }], {
        minutes: 30,
        nowMs: dueAtMs + 60_000,
        skipped: [],
        dayOf,
      }).filter(item => item.id.startsWith('again'))
    expect(again(failed)).toHaveLength(1)
    expect(again(failed)[0]!.why).toEqual({ kind: 'faded-today' })
    expect(again(afterPasses(plan, failed, [clean(dueAtMs + 30_000, 70)], dayOf))).toEqual([])
    expect(again(learned)).toEqual([])
  })
})
