import { beatLength, isCompound, isCountedFiner, pulses, type Meter } from './meter'
import { add, multiply, quarters, type Quarters } from './quarters'

/** Which beats of a bar click: all; the first; the off-beats (2 and 4 of four); none. */
export type ClickOn = 'beats' | 'bars' | 'backbeats' | 'none'
/**
 * Into how many equal parts a beat is counted; `auto`: undivided, and in halves (in compound meters thirds) at tempos
 * too slow to carry.
 */
export type Subdivision = 'auto' | 1 | 2 | 3 | 4

/**
 * How the click sounds. Where bars drop out, the inner pulse is tested: after `sounding` bars (at least one) come
 * `silent` ones.
 */
export interface ClickChoice {
  on: ClickOn
  within: Subdivision
  dropOut?: { sounding: number; silent: number }
}

export const PLAIN_CLICK: ClickChoice = { on: 'beats', within: 'auto' }

/** Whether every beat clicks and no bar drops out. */
export const isPlain = ({ on, within, dropOut }: ClickChoice): boolean =>
  on === 'beats' && within === 'auto' && !dropOut

/** A click in a bar: `phase` behind the bar line. */
export interface Pulse {
  phase: Quarters
  downbeat: boolean
  beat: number
  isFiner?: true
}

/** The clicks of a whole bar at a tempo in quarter notes a minute, in order. */
export function barPulses(meter: Meter, quarterBpm: number, { on, within }: ClickChoice = PLAIN_CLICK): Pulse[] {
  const all = pulses(meter)
  const parts = within !== 'auto' ? within : !isCountedFiner(quarterBpm, meter) ? 1 : isCompound(meter) ? 3 : 2
  return all.flatMap((pulse, index) => {
    const phase = multiply(quarters(pulse), beatLength(meter))
    const length = multiply(quarters((all[index + 1] ?? meter.beats) - pulse), beatLength(meter))
    const main: Pulse[] = isClicked(on, index, all.length) ? [{ phase, downbeat: index === 0, beat: index + 1 }] : []
    if (on !== 'beats') return main
    return [
      ...main,
      ...Array.from({ length: parts - 1 }, (_, part): Pulse => ({
        phase: add(phase, multiply(length, quarters(part + 1, parts))),
        downbeat: false,
        beat: index + 1,
        isFiner: true,
      })),
    ]
  })
}

function isClicked(on: ClickOn, index: number, beats: number): boolean {
  if (on === 'none') return false
  if (on === 'bars') return index === 0
  if (on === 'beats') return true
  // Common practice: 2 and 4 of four beats, the second of two; where the beats are not even in number, all but the
  // first.
  return beats % 2 === 0 ? index % 2 === 1 : index > 0
}

/** Whether a bar, counted from the first of what is played, from 0 (a pickup is -1), sounds. */
export const isBarSounding = ({ dropOut }: ClickChoice, bar: number): boolean =>
  !dropOut || bar < 0 || bar % (dropOut.sounding + dropOut.silent) < dropOut.sounding
