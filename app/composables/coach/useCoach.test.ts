import type { EndedPass } from '../stand/practised'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../../tests/material/demo'
import { judgeHere } from '../../../tests/material/judge'
import { assessTake } from '#core/ear/assess'
import { failedPlaces } from '#core/coach/pass'
import { coachSettings } from '#core/coach/settings'
import { planSong, startSong } from '#core/coach/song-plan'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { MACHINE } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { proposeParts } from '#core/parts/propose'
import { useCoach } from './useCoach'
import type { Request } from '~/utils/ui/askServer'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` }))
const SETTINGS = coachSettings({ school: 'turns', gate: 3, ownTimeGate: 0, firstHand: 'right' })
const ANSWER = {
  arrangementId: 'a',
  parts,
  settings: SETTINGS,
  targetShare: 1,
  newestDay: [],
  stages: [...startSong(planSong(arrangement, parts, SETTINGS)).stages],
  shown: [],
  changes: { keys: [], again: [] },
}
/** A server that has nothing of the song yet. */
const SERVER = { judge: judgeHere(arrangement), request: (() => Promise.resolve(ANSWER)) as unknown as Request }
const STRETCH = { from: quarters(0), to: quarters(16) }

/** A pass of the first part's right hand as the Stand gives it, wrong at some notes. */
function ended(bpm: number, wrong: number[] = []): EndedPass {
  const passage = spanPassage(STRETCH.from, STRETCH.to, 'right')
  const expected = expectedNotes(arrangement, passage, bpm)
  const { take } = simulatePlayer(
    expected,
    { ...MACHINE, plantedWrong: Object.fromEntries(wrong.map(index => [expected[index]!.id, 1])) },
    1,
  )
  const assessment = assessTake({ arrangement, passage, take, mode: 'steady', bpm })
  return {
    mode: 'steady',
    stretch: STRETCH,
    hands: 'right',
    bpm,
    restBars: 0,
    strictness: 'normal',
    keyboardDelayMs: 0,
    take,
    assessment,
    failed: failedPlaces(arrangement, assessment),
    lengthMs: 12_000,
    endedAt: new Date(),
  }
}

describe('the coach beside the player', () => {
  it('says what comes next at once after each pass, from the same passes as the server', async () => {
    const coach = useCoach('song', arrangement, () => false, SERVER)
    expect(coach.next.value).toBeUndefined()
    await coach.load()
    const first = coach.next.value!
    expect(first).toMatchObject({ hands: 'right', mode: 'steady', isSpot: false })
    coach.hear(ended(first.bpm))
    expect(coach.next.value!.bpm).toBeGreaterThan(first.bpm)
    coach.hear(ended(coach.next.value!.bpm, [3, 5]))
    expect(coach.next.value!.because.kind).toBe('once-more')
    expect(coach.today.value).toHaveLength(2)
  })

  it('takes in what was played before its answer came, and stays quiet without one', async () => {
    const coach = useCoach('song', arrangement, () => false, SERVER)
    coach.hear(ended(72))
    await coach.load()
    expect([...coach.standing.value.stages.values()].some(progress => progress.passes === 1)).toBe(true)
    const alone = useCoach('song', arrangement, () => false, {
      judge: judgeHere(arrangement),
      request: () => Promise.reject(new Error('offline')),
    })
    await alone.load()
    alone.hear(ended(72))
    expect([alone.plan.value, alone.next.value]).toEqual([undefined, undefined])
  })

  it('before the first pass what the player has chosen comes next; afterwards whose turn it is', async () => {
    const coach = useCoach('song', arrangement, stage => stage.unit.first === 2 && stage.hands === 'left', SERVER)
    await coach.load()
    expect(coach.next.value).toMatchObject({ hands: 'left', stage: { unit: { first: 2 } } })
    coach.hear(ended(72))
    expect(coach.next.value).toMatchObject({ hands: 'right', stage: { unit: { first: 0 } } })
  })

  it('says when a break is due', async () => {
    const coach = useCoach('song', arrangement, () => false, SERVER)
    await coach.load()
    const kindsAfter = (passes: number) => {
      for (let pass = 0; pass < passes; pass++) coach.hear({ ...ended(72), lengthMs: 60_000 })
      return coach.cautions.value.map(one => one.kind)
    }
    expect(kindsAfter(5)).toEqual([])
    expect(kindsAfter(7)).toContain('same-place')
  })
})
