/**
 * A day with songs, drills and something to warm up with: each has its place (common practice: warm up, a few minutes
 * of technique, then the piece).
 */
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import type { Arrangement } from '../music/arrangement'
import { notesKey } from '../parts/notes-key'
import { proposeParts } from '../parts/propose'
import { READY_DRILLS } from '../patterns/drills/bank'
import { makeDrill } from '../patterns/drills/drill'
import { keyTitle } from '../words/patterns'
import { comingDays } from './coming-days'
import type { PastPass } from './pass'
import { afterPasses, startRecord } from './record'
import { planSession, type PracticeRole, type SongInWork } from './session'
import { coachSettings, drillSettings } from './settings'
import { planSong, progressOf } from './song-plan'
import type { CoachPart } from './stages'

const dayOf = (ms: number) => new Date(ms).toISOString().slice(0, 10)
const DAY = 86_400_000
const now = 40 * DAY + 3_600_000 * 9
const wish = { minutes: 30, nowMs: now, skipped: [], dayOf }

function inWork(
  songId: string,
  arrangement: Arrangement,
  parts: readonly CoachPart[],
  role: PracticeRole,
  passes: readonly PastPass[] = [],
): SongInWork {
  const settings = coachSettings({ ownTimeGate: 0 })
  const plan = planSong(arrangement, parts, role === 'drill' ? drillSettings(settings) : settings)
  return { songId, title: songId, plan, record: afterPasses(plan, startRecord(plan), passes, dayOf), role }
}

const ferry = demoScore('lantern-ferry.musicxml').arrangement
const ferryParts = proposeParts(ferry).map((part, place) => ({ ...part, id: `ferry ${place}` }))
const song = (passes: PastPass[] = []) => inWork('song', ferry, ferryParts, 'song', passes)
const made = makeDrill({ title: 'scales', ...READY_DRILLS.find(({ name }) => name === 'scale-contrary')!.recipe })
const drillParts = made.parts.map((part, place) => ({
  id: `key ${place}`,
  name: keyTitle(part),
  from: part.from,
  to: part.to,
}))
const drill = (songId = 'drill', passes: PastPass[] = []) =>
  inWork(songId, made.arrangement, drillParts, 'drill', passes)
const cleanPass = (
  arrangement: Arrangement,
  part: CoachPart,
  hands: 'right' | 'both',
  bpm: number,
  atMs: number,
): PastPass => ({
  key: notesKey(arrangement, part, hands),
  stretch: part,
  hands,
  mode: 'steady',
  bpm,
  clean: true,
  right: 20,
  notes: 20,
  failed: [],
  atMs,
  lengthMs: 10_000,
})

describe('a drill in the day', () => {
  it('has a few minutes before the song, which stays the main thing, whatever was played last', () => {
    const items = planSession(
      [drill('drill', [cleanPass(made.arrangement, drillParts[0]!, 'right', 50, now - DAY)]), song()],
      wish,
    )
    expect(items.filter(item => item.kind === 'drill')).toHaveLength(1)
    expect(items.find(item => item.kind === 'drill')!.minutes).toBeLessThanOrEqual(6)
    const minutes = (id: string) =>
      items.filter(item => item.songId === id).reduce((sum, item) => sum + item.minutes, 0)
    expect(minutes('song')).toBeGreaterThan(3 * minutes('drill'))
    expect(items.findIndex(item => item.kind === 'drill')).toBeLessThan(items.findIndex(item => item.kind === 'stage'))
  })
  it('takes its turn: the one that was left alone longest, and none twice a day', () => {
    const [recent, old] = [
      drill('recent', [cleanPass(made.arrangement, drillParts[0]!, 'right', 50, now - DAY)]),
      drill('old', [cleanPass(made.arrangement, drillParts[0]!, 'right', 50, now - 9 * DAY)]),
    ]
    expect(planSession([song(), recent, old], wish).find(item => item.kind === 'drill')?.songId).toBe('old')
    const playedToday = drill('old', [cleanPass(made.arrangement, drillParts[0]!, 'right', 50, now - 60_000)])
    expect(planSession([song(), playedToday], wish).filter(item => item.kind === 'drill')).toEqual([])
  })
  it('goes key by key up to its tempo, and is not joined', () => {
    const { plan } = drill()
    expect(new Set(plan.goals.map(goal => goal.unit.kind))).toEqual(new Set(['part']))
    expect(plan.goals.slice(0, 3).map(goal => [goal.unit.names[0], goal.hands, goal.share])).toEqual([
      ['C major', expect.any(String), 0.65],
      ['C major', expect.any(String), 0.65],
      ['C major', 'both', 1],
    ])
  })
  it('by itself is a day too, and its keys do not come back as reviews', () => {
    const reached = drill(
      'drill',
      [60, 80].map((bpm, index) =>
        cleanPass(made.arrangement, drillParts[0]!, 'both', bpm, now - 5 * DAY + index * 60_000),
      ),
    )
    expect(
      progressOf(
        reached.record.standing,
        reached.plan.stages.find(stage => stage.hands === 'both')!,
      ).cleanBpm,
    ).toBe(80)
    expect(planSession([reached], wish).map(item => item.kind)).toEqual(['drill'])
    expect(comingDays([reached], now, 7, dayOf).flatMap(day => day.reviews)).toEqual([])
  })
})

it('what is there to warm up with is warmed up with, from its beginning', () => {
  const warmUp = inWork('warm', made.arrangement, drillParts, 'warm-up')
  const [first] = planSession([song(), warmUp], wish)
  expect(first).toMatchObject({ kind: 'warm-up', songId: 'warm' })
  expect(first!.what!.bpm).toBeGreaterThan(0)
})
