/**
 * The demo's weeks, without a database: a simulated learner under the coach, heard by the ear (own model;
 * docs/coach.md).
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { daysIn } from '#core/coach/days'
import { startRecord } from '#core/coach/record'
import { coachSettings } from '#core/coach/settings'
import { planSong } from '#core/coach/song-plan'
import { readSong } from '#core/formats/read-score'
import { proposeParts } from '#core/parts/propose'
import { practiseAsLearner, type SimulatedPass } from './practise-as-learner'

const DEMO = join(import.meta.dirname, '../../demo')
const MORNING = Date.parse('2026-03-01T09:00:00Z')
const DAY_MS = 86_400_000

function songOf(file: string) {
  const { arrangement } = readSong(new Uint8Array(readFileSync(join(DEMO, file))), file)
  const plan = planSong(
    arrangement,
    proposeParts(arrangement).map((part, place) => ({ ...part, id: String(place) })),
    coachSettings({}),
  )
  return { songId: file, title: arrangement.title, plan, record: startRecord(plan) }
}

const [ferry, tide] = [songOf('lantern-ferry.musicxml'), songOf('tide-clerk-simple.musicxml')]
const evenings = (days: readonly [day: number, song: typeof ferry][]) =>
  days.map(([day, { songId }]) => ({ startsAt: new Date(MORNING + day * DAY_MS), minutes: 8, songId }))
const played = (days: readonly [day: number, song: typeof ferry][], seed = 3): SimulatedPass[] => [
  ...practiseAsLearner([ferry, tide], evenings(days), { learner: 'ordinary', seed, dayOf: daysIn('UTC') }),
]

describe('a simulated learner under the coach', () => {
  const passes = played([
    [0, ferry],
    [1, ferry],
    [3, tide],
    [4, ferry],
  ])
  const days = [0, 1, 3, 4].map(day =>
    passes.filter(({ startedAt }) => Math.floor((startedAt.getTime() - MORNING) / DAY_MS) === day),
  )

  it('plays on the evenings asked for, as long as asked for, never two things at once', () => {
    expect(days.flat()).toHaveLength(passes.length)
    for (const day of days) {
      expect(day.length).toBeGreaterThan(5)
      expect(day.at(-1)!.startedAt.getTime() - day[0]!.startedAt.getTime()).toBeLessThan(9.5 * 60_000)
    }
    for (const [index, pass] of passes.entries()) {
      if (index > 0)
        expect(pass.startedAt.getTime()).toBeGreaterThanOrEqual(
          passes[index - 1]!.startedAt.getTime() + passes[index - 1]!.lengthMs,
        )
    }
  })
  it('begins with one hand, each hand before both together, and comes to what it learned on later days', () => {
    const of = (hands: string) => passes.findIndex(pass => pass.hands === hands && pass.songId === ferry.songId)
    expect(of('both')).toBeGreaterThan(Math.max(of('left'), of('right')))
    expect(days[2]!.every(pass => pass.songId === tide.songId || pass.isReview)).toBe(true)
    expect(days[1]!.some(pass => pass.isWarmUp)).toBe(true)
  })
  it('plays what the ear hears: a pass without a failure is clean, a planted wrong key is a wrong note', () => {
    const clean = passes.filter(pass => pass.judged.columns.clean)
    expect(clean.length / passes.length).toBeGreaterThan(0.2)
    expect(clean.length / passes.length).toBeLessThan(0.9)
    expect(passes.some(pass => pass.judged.columns.wrong > 0)).toBe(true)
    expect(passes.some(pass => pass.judged.assessment.findings.some(finding => finding.kind === 'hesitation'))).toBe(
      true,
    )
    for (const pass of passes) expect(pass.past.clean).toBe(pass.judged.columns.clean)
  })
  it('gets on', () => {
    const reached = passes.map(pass => pass.song.record.days.at(-1)?.progress ?? 0)
    expect(Math.max(...reached)).toBeGreaterThan(0.05)
    // Practice does not take back what was reached: the last day is the furthest.
    expect(reached.at(-1)).toBe(Math.max(...reached))
  })
  it('is the same for the same seed, and another for another', () => {
    const notes = (some: readonly SimulatedPass[]) => some.slice(0, 12).map(pass => pass.take.notes)
    expect(notes(played([[0, ferry]]))).toEqual(notes(passes))
    expect(notes(played([[0, ferry]], 4))).not.toEqual(notes(passes))
  })
})
