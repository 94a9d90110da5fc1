/**
 * Lower bounds of how well the ear hears, with fixed seeds; `half-step bench` prints the whole tables
 * (docs/scoring.md).
 */
import { describe, expect, it } from 'vitest'
import { CHARACTERS } from '#core/players/habits'
import { cleanShare, FINDINGS_PLANTED, GOOD, LEARNERS, matching, plantedFound, recovered, type Mode } from './listening'

const TAKES = 2
const MODES: Mode[] = ['steady', 'free']
const learner = (name: string) => LEARNERS.find(one => one.name === name)!.habits

describe('a simulated beginner (35 ms unsteady, chords 40 ms apart, 5 % wrong, 4 % missed, 3 % extra), all demo songs, both hands, 60 to 160 bpm', () => {
  it.each(MODES)(
    '%s: each note is matched and each outcome recognised, far better than by generic time warping',
    mode => {
      const scores = matching(learner('beginner'), mode, TAKES)
      expect(scores.matching).toBeGreaterThanOrEqual(0.995)
      for (const outcome of ['right', 'wrong', 'missed'] as const)
        expect(scores[outcome], outcome).toBeGreaterThanOrEqual(0.97)
      // Between the eighths of a broken chord an extra neighbour of one of them may be its wrong key.
      expect(scores.extra).toBeGreaterThanOrEqual(0.96)
      expect(1 - scores.matching).toBeLessThan((1 - scores.warping) / 20)
    },
  )

  it.each([
    'beginner, a restart in every take',
    'beginner, a skipped bar in every take',
    'beginner, hesitations',
    'careful',
    'impatient',
    'late left hand',
    'left hand a beat late',
  ])('%s', name => {
    for (const mode of MODES) expect(matching(learner(name), mode, 1).matching).toBeGreaterThanOrEqual(0.99)
  })
})

describe('figures', () => {
  it('are recovered within what is promised, for a player steady enough to show them', () => {
    const found = recovered(8, TAKES)
    expect(found.offsetMs).toBeLessThanOrEqual(3)
    expect(found.driftPercent).toBeLessThanOrEqual(0.3)
    expect(found.unsteadinessShare).toBeLessThanOrEqual(0.1)
    expect(found.swingRatio).toBeLessThanOrEqual(0.1)
    expect(found.hesitationMs).toBeLessThanOrEqual(30)
    expect(found.hesitationPlaced).toBeGreaterThanOrEqual(0.95)
  })
})

describe('findings', () => {
  it('call a good player clean in at least 98 of 100 takes', () => {
    expect(cleanShare(2)).toBeGreaterThanOrEqual(0.98)
  })

  it.each(FINDINGS_PLANTED.map(planted => [planted.kind, planted] as const))(
    "%s, planted in a good player's take, is among the first two",
    (_kind, planted) => {
      expect(plantedFound(planted, GOOD, TAKES)).toBeGreaterThanOrEqual(0.95)
    },
  )

  it("a restart or a skipped bar is heard above a careful beginner's own slips", () => {
    for (const kind of ['restart', 'skipped'])
      expect(
        plantedFound(
          FINDINGS_PLANTED.find(one => one.kind === kind)!,
          CHARACTERS.careful,
          TAKES,
        ),
      ).toBeGreaterThanOrEqual(0.9)
  })
})
