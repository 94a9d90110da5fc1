import { articulationOf } from '../measures/touch'
import type { Heard } from '../heard'
import type { Dynamics } from '../measures/dynamics'
import type { PedalChange } from '../measures/pedal'
import type { Touch } from '../measures/touch'
import { median } from '../statistics'
import { atPlaces, weigh, type WeightedFinding } from './weighed'

/** The number of notes, and their share of the hand's, that make a way of touching keys. */
const MIN_NOTES = 3
const RELEASED_SHARE = 0.5
const BLURRED_SHARE = 0.25

/** Releasing early or holding too long, for each hand: whichever most of its notes do, never both. */
export function touchFindings({ ear }: Heard, touches: readonly Touch[]): WeightedFinding[] {
  return touches.flatMap(({ articulation, count, released, blurred }): WeightedFinding[] => {
    if (released.length >= MIN_NOTES && released.length > RELEASED_SHARE * count) {
      const inOrder = [...released].sort((a, b) => articulationOf(a)! - articulationOf(b)!)
      return [
        {
          weight: weigh(6 + (3 * released.length) / count, 1, 10),
          finding: { kind: 'released-early', ...atPlaces(inOrder), percent: Math.round(100 * articulation) },
        },
      ]
    }
    const [first] = blurred
    if (!first || blurred.length < MIN_NOTES || blurred.length <= BLURRED_SHARE * count) return []
    return [
      {
        weight: weigh(6 + (3 * blurred.length) / count, first.ms / ear.tolerances.blurredMs, 11),
        finding: {
          kind: 'blurred',
          ...atPlaces(blurred.map(one => one.note)),
          ms: Math.round(median(blurred.map(one => one.ms))),
          worstMs: Math.round(first.ms),
          written: first.note.written.spelled,
        },
      },
    ]
  })
}

/** Balance, accents, notes that stick out, shapes and levels. */
export function dynamicsFindings({ ear }: Heard, dynamics: Dynamics | null): WeightedFinding[] {
  if (!dynamics) return []
  const { balanceSteps, accentSteps, shapeSteps } = ear.tolerances
  const { balance, accents, stickingOut, shapes, levels } = dynamics
  const found: WeightedFinding[] = []
  if (balance && balance.steps < -balanceSteps && -balance.steps > 2 * balance.uncertainty) {
    const steps = Math.round(-balance.steps)
    found.push({ weight: weigh(6, steps / balanceSteps, 11), finding: { kind: 'balance', steps } })
  }
  const flat = accents.filter(accent => accent.steps < accentSteps)
  if (flat.length > 0 && flat.length >= accents.length / 2) {
    const { note, steps } = flat[0]!
    found.push({
      weight: 5 + Math.min(3, flat.length),
      finding: {
        kind: 'accent',
        ...atPlaces(flat.map(one => one.note)),
        written: note.written.spelled,
        sticksOut: false,
        steps: Math.round(steps),
      },
    })
  }
  const [loud] = stickingOut
  if (loud) {
    found.push({
      weight: weigh(5, loud.steps / ear.tolerances.stickOutSteps, 8) + Math.min(2, stickingOut.length - 1),
      finding: {
        kind: 'accent',
        ...atPlaces(stickingOut.map(one => one.note)),
        written: loud.note.written.spelled,
        sticksOut: true,
        steps: Math.round(loud.steps),
      },
    })
  }
  const wrongWay = shapes.find(shape => shape.steps < shapeSteps)
  if (wrongWay)
    found.push({
      weight: 6,
      finding: { kind: 'dynamics', shape: wrongWay.kind, bar: wrongWay.bar, beat: wrongWay.beat },
    })
  const level = levels.find(one => one.steps < shapeSteps)
  if (level)
    found.push({
      weight: 4.5,
      finding: { kind: 'dynamics', shape: 'level', from: level.from, to: level.to, bar: level.bar, beat: 1 },
    })
  return found
}

/** The pedal comes up too late or too early at half of its changes or more. */
export function pedalFindings({ ear }: Heard, changes: readonly PedalChange[]): WeightedFinding[] {
  const { pedalLateMs, pedalEarlyMs } = ear.tolerances
  const finding = (kind: 'pedal-late' | 'pedal-early', some: readonly PedalChange[]): WeightedFinding[] => {
    if (some.length < 2 || some.length < changes.length / 2) return []
    const ms = Math.round(Math.abs(median(some.map(change => change.ms))))
    const places = some.map(({ bar, beat }) => ({ bar, beat: Number(beat.toFixed(4)) }))
    return [
      {
        weight: weigh(7, ms / (kind === 'pedal-late' ? pedalLateMs : pedalEarlyMs), 11),
        finding: { kind, ...places[0]!, count: some.length, places, ms, held: some.every(change => change.held) },
      },
    ]
  }
  return [
    ...finding(
      'pedal-late',
      changes.filter(change => change.held || change.ms > pedalLateMs),
    ),
    ...finding(
      'pedal-early',
      changes.filter(change => !change.held && change.ms < -pedalEarlyMs),
    ),
  ]
}
