import { bisector } from 'd3-array'
import type { DynamicMark, Hand } from './arrangement'
import type { ExpectedNote } from './passage'
import { compare, equal, toDecimal, type Quarters } from './quarters'

/**
 * How loud a note is played by the program: the melody above the accompaniment (common practice), accents above both.
 * MIDI velocities.
 */
export const LOUDNESS = { right: 78, left: 62, accent: 14 } as const

/** Levels in order, in velocities from mf: own choice, as wide as a sampled piano allows. */
const LEVELS: Readonly<Record<string, number>> = {
  pppp: -44,
  ppp: -38,
  pp: -28,
  p: -18,
  mp: -8,
  mf: 0,
  f: 14,
  ff: 26,
  fff: 36,
  ffff: 42,
}
/** Marks for one event only; afterwards the level is as before. */
const MOMENTARY: Readonly<Record<string, number>> = { sf: 18, sfz: 20, fz: 18, rfz: 14, sffz: 26 }
/** The gain of a crescendo, and the loss of a diminuendo, where no level is marked at its end. */
const WEDGE_STEPS = 14
const [SOFTEST, LOUDEST] = [18, 124]

export const velocityAt = ({ hand, articulations }: Pick<ExpectedNote, 'hand' | 'articulations'>): number =>
  LOUDNESS[hand] + (articulations?.some(one => one === 'accent' || one === 'strong-accent') ? LOUDNESS.accent : 0)

/** A velocity clamped to what MIDI allows and what sounds well. */
export const playable = (velocity: number): number => Math.round(Math.min(LOUDEST, Math.max(SOFTEST, velocity)))

/** From a time on: the level, its course, and what holds for this event alone. */
interface Step {
  onset: Quarters
  level: number
  perQuarter: number
  only: number
}

/**
 * How much louder or softer than mf each moment is for a hand, in velocities: the level marked last, from level to
 * level where a wedge stands between, more for a moment with sfz or fp. Marks sorted by onset.
 */
export function loudnessOf(dynamics: readonly DynamicMark[], hand?: Hand): (at: Quarters) => number {
  const marks = dynamics.filter(mark => !mark.hand || !hand || mark.hand === hand)
  const steps: Step[] = []
  const levelNow = (at: Quarters) => {
    const last = steps.at(-1)
    return last ? last.level + last.perQuarter * (toDecimal(at) - toDecimal(last.onset)) : 0
  }
  const set = (onset: Quarters, change: Partial<Step>) => {
    const last = steps.at(-1)
    if (last && equal(last.onset, onset)) Object.assign(last, change)
    else steps.push({ onset, level: levelNow(onset), perQuarter: 0, only: 0, ...change })
  }
  marks.forEach(({ onset, mark }, index) => {
    if (mark in LEVELS) set(onset, { level: LEVELS[mark]!, perQuarter: 0 })
    else if (mark in MOMENTARY) set(onset, { only: MOMENTARY[mark]! })
    else if (mark === 'fp') set(onset, { level: LEVELS.p!, perQuarter: 0, only: LEVELS.f! - LEVELS.p! })
    else if (mark === 'crescendo' || mark === 'diminuendo') {
      const end = marks.find((one, later) => later > index && one.mark === 'wedge end')
      const length = end ? toDecimal(end.onset) - toDecimal(onset) : 0
      if (!end || length <= 0) return
      const goal = marks.find(
        one =>
          compare(one.onset, end.onset) >= 0 && toDecimal(one.onset) - toDecimal(end.onset) <= 1 && one.mark in LEVELS,
      )
      const rise = goal ? LEVELS[goal.mark]! - levelNow(onset) : 0
      const sign = mark === 'crescendo' ? 1 : -1
      set(onset, { perQuarter: (rise * sign > 0 ? rise : sign * WEDGE_STEPS) / length })
    } else if (mark === 'wedge end') set(onset, { level: levelNow(onset), perQuarter: 0 })
  })
  return at => {
    const step = steps[stepBy.right(steps, at) - 1]
    if (!step) return 0
    return (
      step.level + step.perQuarter * (toDecimal(at) - toDecimal(step.onset)) + (equal(step.onset, at) ? step.only : 0)
    )
  }
}

const stepBy = bisector((step: Step, at: Quarters) => compare(step.onset, at))
