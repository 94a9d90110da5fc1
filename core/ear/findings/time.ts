import { displayName } from '../../music/pitch'
import { lowerFirst } from '../../music/place-words'
import type { Finding } from '../assessment'
import type { Heard } from '../heard'
import type { HesitationHeard } from '../measures/hesitation'
import { ratioOf, type Division } from '../measures/rhythm'
import type { Timing } from '../measures/timing'
import { inWords, placeOf, placeText } from './words'
import { weigh, type Weighed } from './weighed'

export function hesitationFindings({ ear }: Heard, pauses: readonly HesitationHeard[]): Weighed[] {
  return pauses.map(({ ms, written, because, isChord }) => {
    const before = because === 'next note' ? (isChord ? 'the chord' : displayName(written.spelled, false)) : BEFORE[because]
    return {
      weight: Math.min(20, 6 + 3 * (ms / ear.tolerances.hesitationMaxMs - 0.7)),
      finding: {
        kind: 'hesitation', ...placeOf(written), ms: Math.round(ms), because,
        text: `${placeText(written)}: a pause of ${inWords(ms)} (${Math.round(ms)} ms) before ${before}. Practise only the step into it: the beat before, then this one.`,
      },
    }
  })
}

const BEFORE: Record<Exclude<HesitationHeard['because'], 'next note'>, string> = {
  'chord change': 'the chord change', 'position shift': 'the hand moves to its new position', 'crossing': 'the crossing',
  'jump': 'the jump', 'hands joining': 'the hands come together', 'new material': 'the new section',
}

/** Rushing, dragging, steadily early or late, uneven: one quantity each. */
export function timingFindings({ ear, steady, notes }: Heard, timing: Timing): Weighed[] {
  const { offsetMs, driftPercent, unsteadinessMs, onTimeMs, onTimeShare } = timing
  const { tolerances } = ear
  const found: Weighed[] = []
  if (notes.filter(note => note.outcome === 'right').length < 4) return found
  const drift = Math.abs(driftPercent)
  // Without a click the tempo is the player's own; only a large change says anything.
  const driftTolerance = tolerances.driftPercent * (steady ? 1 : FREE_DRIFT)
  if (drift > driftTolerance) {
    const kind = driftPercent < 0 ? 'rushing' : 'dragging'
    found.push({ weight: weigh(8, drift / driftTolerance, 14), finding: { kind, percent: Number(drift.toFixed(1)), text: `The tempo ${kind === 'rushing' ? 'runs ahead' : 'falls behind'} by ${drift.toFixed(1)} % from beginning to end. Say the count aloud${steady ? ' and wait for each click' : ', or play once with the metronome'}.` } })
  }
  const offset = Math.abs(offsetMs)
  if (offset > tolerances.offsetShare * onTimeMs) {
    const kind = offsetMs > 0 ? 'late' : 'early'
    found.push({ weight: weigh(7, offset / (tolerances.offsetShare * onTimeMs), 12), finding: { kind, ms: Math.round(offset), text: `Every note is about ${Math.round(offset)} ms ${kind}, steadily. ${kind === 'late' ? 'Aim a little before the click; if it feels exact to you, the keyboard answers late: set its delay in Settings.' : 'Let the click come first, then play with it.'}` } })
  }
  const uneven = unsteadinessMs / (tolerances.unevenShare * onTimeMs)
  const [stray] = timing.strays
  if (uneven > 1) {
    found.push({ weight: Math.min(9, 4 + 1.5 * (uneven - 1) + 3 * (1 - onTimeShare)), finding: { kind: 'uneven', ms: Math.round(unsteadinessMs), text: `The notes lie ${Math.round(unsteadinessMs)} ms to either side of the beat. Play it once more slower, counting every beat, until it is even.` } })
  }
  else if (stray && timing.tooManyStrays && found.length === 0) {
    const { written } = stray.note
    found.push({ weight: 5, finding: { kind: 'uneven', ...placeOf(written), ms: Math.round(Math.abs(stray.ms)), count: timing.strays.length, text: `${placeText(written)}: ${displayName(written.spelled, false)} comes ${Math.round(Math.abs(stray.ms))} ms ${stray.ms > 0 ? 'late' : 'early'}; ${Math.round(100 * onTimeShare)} % of the notes are in time. Play that bar once more, counting its beats.` } })
  }
  return found
}

const FREE_DRIFT = 4

/** Fewer beats than this say nothing about a habit. */
const LEAST_BEATS = 4
/** A difference must be this many times its uncertainty. */
const CERTAIN = 2.5

/** Swing, dotted rhythms and triplets against what is written. */
export function rhythmFindings({ ear }: Heard, divisions: readonly Division[]): Weighed[] {
  const { swingFactor, divisionShare } = ear.tolerances
  return divisions.flatMap((division): Weighed[] => {
    const { kind, asked, played, uncertainty, count, worst } = division
    if (count < LEAST_BEATS || Math.abs(played - asked) < CERTAIN * uncertainty) return []
    const near = `, most of all in ${lowerFirst(placeText(worst))}`
    if (kind === 'pairs') {
      const [has, wants] = [ratioOf(played), ratioOf(asked)]
      const factor = Math.max(has / wants, wants / has)
      if (factor < swingFactor) return []
      const straight = Math.abs(wants - 1) < 0.05
      const advice = straight
        ? 'Count “1 & 2 &” and place each & exactly between.'
        : has < wants ? 'Hold the first of each pair longer: count “1 trip let” and play on 1 and let.' : 'Let the second of each pair come earlier: count “1 trip let” and play on 1 and let.'
      const finding: Finding = { kind: 'swing', ratio: Number(has.toFixed(2)), count, hand: worst.hand, bar: worst.bar, beat: worst.beat, text: `The eighths come out ${has.toFixed(1)} to 1; ${straight ? 'even ones are' : `${wants.toFixed(1)} to 1 is`} asked for${near}. ${advice}` }
      return [{ weight: weigh(7, Math.log(factor) / Math.log(swingFactor), 12), finding }]
    }
    const off = Math.abs(played - asked) / divisionShare
    if (off < 1) return []
    const text = kind === 'dotted'
      ? `The dotted notes come out ${ratioOf(played).toFixed(1)} to 1; 3 to 1 is written${near}. Count “1 e & a” and play the short note on a.`
      : `The triplets are not even: the ${asked < 0.5 ? 'second' : 'third'} note comes ${played < asked ? 'early' : 'late'} by ${Math.round(100 * Math.abs(played - asked))} % of the beat${near}. Count “1 trip let” evenly, without playing, then play.`
    return [{ weight: weigh(7, off, 11), finding: { kind: 'rhythm', percent: Math.round(100 * (played - asked)), count, hand: worst.hand, bar: worst.bar, beat: worst.beat, text } }]
  })
}
