/**
 * What the coach asks for, pass by pass, against facts of practice on which teachers agree (common practice): hands
 * together early and slowly, parts joined while they are slow, the tempo last, nothing left lying half done, nothing
 * asked for again that was just shown.
 */
import { describe, expect, it } from 'vitest'
import { demoScore } from '../tests/material/demo'
import { madeSong, songOfSections } from '../tests/material/phrases'
import { coachSettings, PRACTICE_ORDERS, type CoachSettings } from '#core/coach/settings'
import type { Reason } from '#core/coach/reason'
import { afterSongPass, progressOf, isReached, planSong, startSong, type SongPlan } from '#core/coach/song-plan'
import type { Arrangement } from '#core/music/arrangement'
import { proposeParts } from '#core/parts/propose'
import { createPractiser, practise, type PractisedPass, type PractiserName, type PracticeWish } from './practise'

const DEMO = ['lantern-ferry.musicxml', 'side-street-shuffle.musicxml', 'snow-on-the-towpath.musicxml']
const ALL: PracticeWish = { days: 200, mostPasses: 4000 }
const planOf = (arrangement: Arrangement, own: Partial<CoachSettings> = {}): SongPlan =>
  planSong(
    arrangement,
    proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` })),
    coachSettings(own),
  )
const passesOf = (
  arrangement: Arrangement,
  name: PractiserName,
  own: Partial<CoachSettings> = {},
  wish = ALL,
): PractisedPass[] => [...practise(planOf(arrangement, own), createPractiser(arrangement, name), wish)]
const stageOf = ({ stage: { unit }, hands }: PractisedPass) => `${unit.kind} ${unit.first}-${unit.last} ${hands}`
const first = (passes: readonly PractisedPass[], is: (pass: PractisedPass) => boolean) => passes.findIndex(is) + 1
const isTogether = ({ stage: { unit }, hands }: PractisedPass) => unit.kind === 'part' && hands === 'both'
/** The reason itself, behind what it goes on from. */
const innermost = (reason: Reason): Reason => ('then' in reason ? innermost(reason.then) : reason)

const SONGS = new Map<string, Arrangement>([
  ...DEMO.map((file): [string, Arrangement] => [file, demoScore(file).arrangement]),
  ['a made-up song of four sections', songOfSections('ABAC')],
])

describe.each([...SONGS])('%s, slow first', (name, arrangement) => {
  const flawless = passesOf(arrangement, 'flawless')
  const slips = passesOf(arrangement, 'slips')
  it('who makes no mistake has hands together within 12 passes, a join within 30, and the whole at its tempo within 25 minutes', () => {
    expect(first(flawless, isTogether)).toBeLessThanOrEqual(12)
    expect(first(flawless, pass => pass.stage.unit.kind !== 'part')).toBeLessThanOrEqual(30)
    const last = flawless.at(-1)!
    expect(last.stage.unit.kind).toBe('song')
    expect(last.bpm).toBe(last.stage.targetBpm)
    if (DEMO.includes(name)) expect(last.atMinutes).toBeLessThan(25)
  })
  it('who slips once in each stage needs no fewer passes, and at most one more for each stage', () => {
    expect(slips.length).toBeGreaterThanOrEqual(flawless.length)
    expect(slips.length - flawless.length).toBeLessThanOrEqual(new Set(slips.map(stageOf)).size)
  })
  it('together is slower than a hand alone, joins no faster than their parts, and the tempo comes after the whole was played slowly', () => {
    const whole = first(flawless, pass => pass.stage.unit.kind === 'song') - 1
    const before = flawless.slice(0, whole)
    const tempo = (is: (pass: PractisedPass) => boolean) =>
      before.filter(pass => is(pass) && pass.mode === 'steady').map(pass => pass.bpm / pass.stage.targetBpm)
    expect(Math.max(...tempo(isTogether))).toBeLessThan(Math.min(...tempo(pass => pass.hands !== 'both')))
    expect(Math.max(...tempo(pass => pass.stage.unit.kind !== 'part'))).toBeLessThanOrEqual(
      Math.max(...tempo(isTogether)) + 0.01,
    )
    expect(flawless[whole]!.bpm).toBeLessThan(0.8 * flawless[whole]!.stage.targetBpm)
  })
  it('nothing is asked for again that was just shown', () => {
    const shown = new Map<string, number>()
    for (const pass of flawless) {
      const key = `${pass.stretch.from.n}/${pass.stretch.from.d} ${pass.stretch.to.n}/${pass.stretch.to.d} ${pass.hands} ${pass.mode}`
      expect(pass.bpm, key).toBeGreaterThan(shown.get(key) ?? 0)
      shown.set(key, pass.bpm)
    }
    expect(
      flawless.some(pass => pass.isNew) || new Set(flawless.map(stageOf)).size < planOf(arrangement).goals.length,
    ).toBe(true)
  })
})

it('holds for songs made up by chance: who slips needs no fewer passes, and at most one more for each stage', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const { arrangement } = madeSong(seed, [[4], [3], [8], [5, 4]][seed % 4]!)
    const [flawless, slips] = [passesOf(arrangement, 'flawless'), passesOf(arrangement, 'slips')]
    expect(flawless.at(-1)!.bpm, `seed ${seed}`).toBe(flawless.at(-1)!.stage.targetBpm)
    expect(slips.length, `seed ${seed}`).toBeGreaterThanOrEqual(flawless.length)
    expect(slips.length - flawless.length, `seed ${seed}`).toBeLessThanOrEqual(new Set(slips.map(stageOf)).size)
  }
})

describe.each(['ordinary', 'scattered', 'oneHanded'] as const)('somebody who learns (%s)', name => {
  const { arrangement } = demoScore(DEMO[0]!)
  const passes = passesOf(arrangement, name, {}, { minutes: 30, days: 12, mostPasses: 900 })
  it('never begins a thing while three others wait half done, and has at most two parts under way', () => {
    const plan = planOf(arrangement)
    let standing = startSong(plan)
    /** Each stage with the part that it was begun in. */
    const begun = new Map<string, number>()
    for (const [index, pass] of passes.entries()) {
      const key = pass.stage.key
      if (!pass.isReview && !pass.isWarmUp && !pass.isSpot && !pass.isNew && !begun.has(key)) {
        const waiting = plan.goals.filter(
          goal =>
            begun.has(goal.key) && !isReached(plan, goal, standing) && progressOf(standing, goal).reachedBpm === 0,
        )
        expect(new Set(waiting.map(goal => goal.key)).size, `pass ${index + 1}`).toBeLessThan(3)
        begun.set(key, pass.stage.unit.first)
      }
      standing = afterSongPass(plan, standing, pass.past)
      const underWay = plan.stages.filter(
        stage =>
          stage.unit.kind === 'part' && stage.share < 1 && begun.has(stage.key) && !isReached(plan, stage, standing),
      )
      expect(new Set(underWay.map(stage => begun.get(stage.key))).size, `pass ${index + 1}`).toBeLessThanOrEqual(2)
    }
    expect(begun.size).toBeGreaterThan(3)
  })
  it('a part that is met again does not start from nothing', () => {
    const seen = new Set<string>()
    const metAgain = passes.filter((pass, index) => {
      const stage = stageOf(pass)
      const isMetAgain = seen.has(stage) && stageOf(passes[index - 1]!) !== stage
      seen.add(stage)
      return isMetAgain
    })
    expect(metAgain.length).toBeGreaterThan(3)
    const beginnings = ['own-time-first', 'hands-together', 'start-tempo']
    expect(metAgain.filter(pass => beginnings.includes(innermost(pass.because).kind))).toEqual([])
  })
  it('is told why whenever it goes from one thing to another', () => {
    const turns = passes.filter(
      (pass, index) =>
        index > 0 &&
        stageOf(pass) !== stageOf(passes[index - 1]!) &&
        !pass.isReview &&
        !pass.isWarmUp &&
        pass.day === passes[index - 1]!.day &&
        !passes[index - 1]!.isReview &&
        !passes[index - 1]!.isWarmUp,
    )
    expect(turns.length).toBeGreaterThan(3)
    for (const turn of turns)
      expect(['goes', 'turn-over', 'taken-out', 'one-hand', 'only-new', 'whole-again'], turn.because.kind).toContain(
        turn.because.kind,
      )
  })
})

describe.each(PRACTICE_ORDERS)('the school %s', school => {
  const { arrangement } = demoScore(DEMO[0]!)
  it('brings somebody who makes no mistake to the whole song at its tempo', () => {
    const passes = passesOf(arrangement, 'flawless', { school })
    expect(passes.at(-1)!.stage.unit.kind).toBe('song')
    expect(passes.at(-1)!.bpm).toBe(passes.at(-1)!.stage.targetBpm)
  })
  it('has hard spots and reviews for somebody who learns', () => {
    const passes = passesOf(arrangement, 'ordinary', { school }, { minutes: 30, days: 5, mostPasses: 600 })
    expect(passes.some(pass => pass.isSpot)).toBe(true)
    expect(passes.some(pass => pass.isReview || pass.isWarmUp)).toBe(true)
  })
})

it('from the end backward begins with the last part', () => {
  const passes = passesOf(
    demoScore(DEMO[0]!).arrangement,
    'flawless',
    { school: 'backward' },
    { days: 1, mostPasses: 1 },
  )
  expect(passes[0]!.stage.unit.first).toBe(proposeParts(demoScore(DEMO[0]!).arrangement).length - 1)
})
it('each part up to its tempo goes to the tempo before the next part begins', () => {
  const passes = passesOf(demoScore(DEMO[0]!).arrangement, 'flawless', { school: 'tempo-first' }, ALL)
  const second = passes.findIndex(pass => pass.stage.unit.kind === 'part' && pass.stage.unit.first === 1)
  expect(passes.slice(0, second).some(pass => isTogether(pass) && pass.bpm === pass.stage.targetBpm)).toBe(true)
})
