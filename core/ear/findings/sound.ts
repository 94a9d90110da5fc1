import { displayName } from '../../music/pitch'
import { barText, beatText, lowerFirst } from '../../music/place-words'
import type { Heard } from '../heard'
import type { Dynamics } from '../measures/dynamics'
import type { PedalChange } from '../measures/pedal'
import type { Touch } from '../measures/touch'
import { middle } from '../statistics'
import { placeOf, placeText, plural } from './words'
import { weigh, type Weighed } from './weighed'

/** So many notes make a habit of touch, and so large a share of the hand's. */
const HABIT_NOTES = 3
const HABIT_SHARE = 0.15

/** Letting go early and holding too long, each hand for itself. */
export function touchFindings({ ear, times }: Heard, touches: readonly Touch[]): Weighed[] {
  return touches.flatMap(({ hand, articulation, count, released, blurred }): Weighed[] => {
    const found: Weighed[] = []
    const worst = released.reduce<typeof released[number] | undefined>((most, note) => !most || share(note, times.stretch) < share(most, times.stretch) ? note : most, undefined)
    if (worst && released.length >= HABIT_NOTES && released.length > 1.5 * HABIT_SHARE * count) {
      const percent = Math.round(100 * (released.length > count / 2 ? articulation : share(worst, times.stretch)))
      found.push({ weight: weigh(6 + 3 * released.length / count, 1, 10), finding: { kind: 'released-early', ...placeOf(worst.written), count: released.length, percent, text: `${handText(hand)}: ${plural(released.length, 'note')} ${released.length === 1 ? 'is' : 'are'} let go early, held for ${percent} % of their length, most of all ${lowerFirst(placeText(worst.written, { hand: false }))}. Keep each key down until the next one sounds.` } })
    }
    const first = blurred[0]
    if (first && blurred.length >= HABIT_NOTES && blurred.length > HABIT_SHARE * count) {
      found.push({ weight: weigh(6 + 3 * blurred.length / count, first.ms / ear.tolerances.blurredMs, 11), finding: { kind: 'blurred', ...placeOf(first.note.written), ms: Math.round(middle(blurred.map(one => one.ms))), count: blurred.length, text: `${handText(hand)}: ${plural(blurred.length, 'note')} ring${blurred.length === 1 ? 's' : ''} on into the next, most of all ${displayName(first.note.written.spelled, false)} in ${lowerFirst(placeText(first.note.written, { hand: false }))} (${Math.round(first.ms)} ms). Lift each finger as the next one plays.` } })
    }
    return found
  })
}

const handText = (hand: 'left' | 'right'): string => `${hand === 'left' ? 'Left' : 'Right'} hand`
const share = ({ stroke, written }: Touch['released'][number], stretch: number): number => stroke!.durationMs / (written.durationMs * stretch)

/** Balance, accents, notes that stick out, shapes and levels. */
export function dynamicsFindings({ ear }: Heard, dynamics: Dynamics | null): Weighed[] {
  if (!dynamics) return []
  const { balanceSteps, accentSteps, shapeSteps } = ear.tolerances
  const { balance, accents, stickingOut, shapes, levels } = dynamics
  const found: Weighed[] = []
  if (balance && balance.steps < -balanceSteps && -balance.steps > 2 * balance.uncertainty) {
    const steps = Math.round(-balance.steps)
    found.push({ weight: weigh(6, steps / balanceSteps, 11), finding: { kind: 'balance', count: steps, text: `The left hand is louder than the melody by ${steps} of 127 steps. Play it once with the left hand as soft as it will go, then bring it up to just below the melody.` } })
  }
  const flat = accents.filter(accent => accent.steps < accentSteps)
  if (flat.length > 0 && flat.length >= accents.length / 2) {
    const { written } = flat[0]!.note
    found.push({ weight: 5 + Math.min(3, flat.length), finding: { kind: 'accent', ...placeOf(written), count: flat.length, text: `${placeText(written)}: the accent on ${displayName(written.spelled, false)} does not stand out${flat.length > 1 ? ` (nor ${plural(flat.length - 1, 'other')})` : ''}. Let the arm fall into that note and keep its neighbours light.` } })
  }
  const loud = stickingOut[0]
  if (loud) {
    const { written } = loud.note
    found.push({ weight: weigh(5, loud.steps / ear.tolerances.stickOutSteps, 8) + Math.min(2, stickingOut.length - 1), finding: { kind: 'accent', ...placeOf(written), count: stickingOut.length, text: `${placeText(written)}: ${displayName(written.spelled, false)} sticks out, ${Math.round(loud.steps)} of 127 steps louder than its neighbours. Play it as softly as you can, then let it join them.` } })
  }
  const wrongWay = shapes.find(shape => shape.steps < shapeSteps)
  if (wrongWay) {
    found.push({ weight: 6, finding: { kind: 'dynamics', bar: wrongWay.bar, beat: wrongWay.beat, text: `${barText(wrongWay.bar)}: the ${wrongWay.kind} from ${beatText(wrongWay.beat)} is not heard yet. Begin it ${wrongWay.kind === 'crescendo' ? 'softer' : 'louder'} than you think.` } })
  }
  const level = levels.find(one => one.steps < shapeSteps)
  if (level) {
    found.push({ weight: 4.5, finding: { kind: 'dynamics', bar: level.bar, text: `${barText(level.bar)}: the change from ${level.from} to ${level.to} is not heard yet. Play the bar before and this one alone, and make the difference too large once.` } })
  }
  return found
}

/** The pedal comes up too late or too early at half of its changes or more. */
export function pedalFindings({ ear }: Heard, changes: readonly PedalChange[]): Weighed[] {
  const { pedalLateMs, pedalEarlyMs } = ear.tolerances
  const late = changes.filter(change => change.held || change.ms > pedalLateMs)
  const early = changes.filter(change => !change.held && change.ms < -pedalEarlyMs)
  const finding = (kind: 'pedal-late' | 'pedal-early', some: readonly PedalChange[]): Weighed[] => {
    if (some.length < 2 || some.length < changes.length / 2) return []
    const first = some[0]!
    const ms = Math.round(Math.abs(middle(some.map(change => change.ms))))
    const text = kind === 'pedal-late'
      ? `The pedal comes up ${some.every(change => change.held) ? 'not at all' : `${ms} ms late`} at ${plural(some.length, 'change')} of harmony, first in ${lowerFirst(barText(first.bar))}, ${beatText(first.beat)}, so two chords ring together. Lift the foot as the new chord goes down.`
      : `The pedal comes up ${ms} ms early at ${plural(some.length, 'change')} of harmony, first in ${lowerFirst(barText(first.bar))}, ${beatText(first.beat)}, and leaves a gap. Keep the foot down until the new chord sounds.`
    return [{ weight: weigh(7, ms / (kind === 'pedal-late' ? pedalLateMs : pedalEarlyMs), 11), finding: { kind, bar: first.bar, beat: first.beat, ms, count: some.length, text } }]
  }
  return [...finding('pedal-late', late), ...finding('pedal-early', early)]
}
