/**
 * The usual order of practice: what comes after what, what is taken out, when something is left (common practice;
 * docs/coach.md).
 */
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { notesKey } from '../parts/notes-key'
import { proposeParts } from '../parts/propose'
import { reasonText } from '../words/coach'
import type { PastPass } from './pass'
import { afterPasses, startRecord } from './record'
import { planSession } from './session'
import { coachSettings, type CoachSettings } from './settings'
import {
  afterSongPass,
  progressOf,
  planSong,
  progressAfter,
  startSong,
  type NextPass,
  type SongPlan,
} from './song-plan'
import { nextInTurn, unlockedStages, turnOf, TURNS } from './turns'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` }))
const planWith = (own: Partial<CoachSettings> = {}) =>
  planSong(arrangement, parts, coachSettings({ firstHand: 'right', ownTimeGate: 0, ...own }))
let clock = 0
const played = (
  { stretch, hands, mode, bpm }: Pick<NextPass, 'stretch' | 'hands' | 'mode' | 'bpm'>,
  own: Partial<PastPass> = {},
): PastPass => ({
  key: notesKey(arrangement, stretch, hands),
  stretch,
  hands,
  mode,
  bpm,
  clean: true,
  right: 20,
  notes: 20,
  failed: [],
  atMs: (clock += 30_000),
  lengthMs: 20_000,
  ...own,
})
const missed = { clean: false, right: 12 }
/** Plays whatever is asked for, clean, until something holds. */
function until(plan: SongPlan, holds: (next: NextPass) => boolean): { passes: PastPass[]; next: NextPass } {
  const passes: PastPass[] = []
  let standing = startSong(plan)
  for (let count = 0; count < 300; count++) {
    const next = nextInTurn(plan, standing, passes)!
    if (holds(next)) return { passes, next }
    passes.push(played(next))
    standing = afterSongPass(plan, standing, passes.at(-1)!)
  }
  throw new Error('it never comes')
}

describe('the order', () => {
  it('is each hand, both, the next part, the two back to back, the section; the whole slowly, and the tempo last', () => {
    const plan = planWith()
    const goals = plan.goals.map(
      ({ unit, hands, share }) =>
        `${unit.kind} ${unit.first}${unit.last === unit.first ? '' : `-${unit.last}`} ${hands}${share === 1 ? ' at tempo' : ''}`,
    )
    expect(goals.slice(0, 8)).toEqual([
      'part 0 right',
      'part 0 left',
      'part 0 both',
      'part 1 right',
      'part 1 left',
      'part 1 both',
      'seam 0-1 both',
      'pair 0-1 both',
    ])
    expect(goals.slice(-2)).toEqual(['song 0-7 both', 'song 0-7 both at tempo'])
    expect(goals.filter(goal => goal.endsWith('at tempo'))).toHaveLength(1)
  })
  it('of a long song brings its sections up to tempo before the whole', () => {
    const slow = { ...arrangement, tempos: arrangement.tempos.map(tempo => ({ ...tempo, quarterBpm: 40 })) }
    const goals = planSong(slow, parts, coachSettings()).goals.filter(goal => goal.share === 1)
    expect(goals.map(goal => goal.unit.kind)).toEqual(['pair', 'pair', 'pair', 'pair', 'song'])
  })
  it('says what went, and what comes', () => {
    const { next } = until(planWith(), one => one.hands === 'both')
    expect(next.because).toMatchObject({ kind: 'goes', hands: 'left', then: { kind: 'hands-together' } })
    expect(reasonText(next.because)).toMatch(/^the left hand of Verse 1, a works at \d+; both hands together, at \d+$/)
  })
})

describe('a thing that does not go', () => {
  const plan = planWith({ turnMinutes: 4 })
  it('is left after its time, and that is said; then it comes back', () => {
    let standing = startSong(plan)
    const today: PastPass[] = []
    let next = nextInTurn(plan, standing, today)!
    while (next.hands === 'right') {
      // Each time at other places, so that none is cut out.
      today.push(played(next, { ...missed, failed: [plan.ranges.get(next.stage.key)!.onsets[today.length % 9]!] }))
      standing = afterSongPass(plan, standing, today.at(-1)!)
      next = nextInTurn(plan, standing, today)!
    }
    expect(turnOf(plan, standing, plan.goals, today)).toMatchObject({ most: 4 })
    expect(next.because).toMatchObject({ kind: 'turn-over', hands: 'right', minutes: 4 })
    expect(reasonText(next.because)).toMatch(/^4 minutes on the right hand of Verse 1, a: enough for now; /)
    const left = played(next)
    expect(nextInTurn(plan, afterSongPass(plan, standing, left), [...today, left])).toMatchObject({ hands: 'right' })
  })
  it('rests after many passes, and both hands are tried without it', () => {
    const right = plan.stages.find(stage => stage.unit.first === 0 && stage.hands === 'right')!
    const standing = progressAfter(plan, [
      ...Array.from({ length: TURNS.restsAfter }, () =>
        played({ stretch: right.unit.stretch, hands: 'right', mode: 'steady', bpm: 60 }, missed),
      ),
      ...Array.from({ length: 3 }, () =>
        played({ stretch: right.unit.stretch, hands: 'left', mode: 'steady', bpm: 75 }),
      ),
    ])
    expect(progressOf(standing, right).reachedBpm).toBe(0)
    expect(unlockedStages(plan, standing).some(stage => stage.unit.first === 0 && stage.hands === 'both')).toBe(true)
  })
})

describe('the tempo of the whole', () => {
  const plan = planWith()
  const { passes, next } = until(plan, one => one.stage.unit.kind === 'song' && one.bpm > one.stage.targetBpm * 0.75)
  const whole = (failing: number[]) =>
    played(next, { clean: false, right: 16, failed: failing.map(place => parts[place]!.from) })
  it('takes out the part that failed, brings it up to that tempo by itself, and plays the whole again', () => {
    let today = [...passes, whole([5])]
    let standing = progressAfter(plan, today)
    const out = nextInTurn(plan, standing, today)!
    expect(out).toMatchObject({
      hands: 'both',
      stage: { unit: { kind: 'part', first: 5 } },
      because: { kind: 'taken-out', bpm: next.bpm },
    })
    expect(reasonText(out.because)).toMatch(
      /^the whole song failed here at \d+: this part on its own, up to that tempo$/,
    )
    for (let count = 0; count < 6 && nextInTurn(plan, standing, today)!.stage.unit.kind === 'part'; count++) {
      today = [...today, played(nextInTurn(plan, standing, today)!)]
      standing = progressAfter(plan, today)
    }
    const again = nextInTurn(plan, standing, today)!
    expect(again).toMatchObject({
      stage: { unit: { kind: 'song' } },
      bpm: next.bpm,
      because: { kind: 'goes', then: { kind: 'whole-again' } },
    })
  })
  it('takes nothing out after one slip, nor where it failed all over', () => {
    const slip = [...passes, played(next, { clean: false, right: 19, failed: [parts[5]!.from] })]
    expect(nextInTurn(plan, progressAfter(plan, slip), slip)!.stage.unit.kind).toBe('song')
    const lost = [...passes, whole([0, 2, 4, 5, 7])]
    expect(nextInTurn(plan, progressAfter(plan, lost), lost)!.stage.unit.kind).toBe('song')
  })
})

describe('Today', () => {
  const plan = planWith()
  const dayOf = (ms: number) => String(Math.floor(ms / 86_400_000))
  it('is the first page of the plan: the same order, the hands of a part in one item, a seam with its pair, as far as the minutes go', () => {
    const items = planSession([{ songId: 's', title: 'S', plan, record: startRecord(plan) }], {
      minutes: 30,
      nowMs: 0,
      skipped: [],
      dayOf,
    })
    const work = items.filter(item => item.what)
    expect(work.slice(0, 3).map(item => [item.kind, item.what!.hands, item.then])).toEqual([
      ['stage', 'right', ['left', 'both']],
      ['stage', 'right', ['left', 'both']],
      ['join', 'both', ['pair']],
    ])
    expect(work.map(item => item.what!.stage.unit.last)).toEqual(
      [...work.map(item => item.what!.stage.unit.last)].sort((a, b) => a - b),
    )
    expect(items.reduce((sum, item) => sum + (item.kind === 'break' ? 0 : item.minutes), 0)).toBeCloseTo(30)
  })
  it('goes on the next day where the first one ended, after a warm-up', () => {
    const { passes, next } = until(plan, one => one.stage.unit.kind === 'seam')
    const record = afterPasses(plan, startRecord(plan), passes, dayOf)
    const items = planSession([{ songId: 's', title: 'S', plan, record }], {
      minutes: 30,
      nowMs: 86_400_000 * 2,
      skipped: [],
      dayOf,
    })
    expect(items[0]!.kind).toBe('warm-up')
    expect(items.find(item => item.kind === 'join')!.what).toMatchObject({
      stage: { unit: next.stage.unit },
      hands: next.hands,
    })
    expect(items.filter(item => item.kind === 'stage' || item.kind === 'join')[0]!.kind).toBe('join')
  })
})
