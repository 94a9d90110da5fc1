import { comesLater, domainOf, type Finding, type FindingKind } from '../finding'
import type { Heard } from '../heard'
import type { Measured } from '../measures/measure'
import { habitFindings, lateHabit } from './habits'
import { handsFinding, pulledFinding, spreadFinding } from './hands'
import { extraFindings, noteFindings } from './notes'
import { hopeless, routeFindings } from './route'
import { dynamicsFindings, pedalFindings, touchFindings } from './sound'
import { tempoFindings } from './tempo'
import { hesitationFindings, rhythmFindings, straysFinding, swingFindings, timingFindings } from './time'
import type { WeightedFinding } from './weighed'

/** With a smaller share of right notes than this, missing notes are reported rather than unevenness. */
const ENOUGH_TO_JUDGE = 0.5

/** The findings of a pass, most helpful first, and the large faults, by kind, that a clean pass may have. */
export interface Found {
  findings: Finding[]
  cleanBut: FindingKind[]
}

/**
 * The findings of a pass, most helpful first. Wrong, missed and extra notes share one place at the top, so that a
 * player with many of them also hears the first thing about time, touch or hands; then the weightiest of each kind,
 * then the rest. A pass without findings about notes, time or hands is clean: that comes first, followed by what could
 * still be better.
 */
export function findingsOf(heard: Heard, measured: Measured): Found {
  const nothing = hopeless(heard)
  if (nothing) return { findings: [nothing.finding], cleanBut: [] }
  const played = heard.notes.filter(note => note.outcome !== 'missed')
  const fits = played.filter(
    note => note.outcome === 'right' || heard.alignment.displaced?.hand === note.written.hand,
  ).length
  const { timing, hesitations, divisions, chords, behind, pull, touches, dynamics, pedal } = measured
  const habits = habitFindings(heard)
  const tempo = tempoFindings(heard)
  const weighed: WeightedFinding[] = [
    ...habits.weighed,
    ...noteFindings(heard, habits.told),
    ...extraFindings(heard, habits.toldExtras),
    ...routeFindings(heard),
  ]
  if (fits >= ENOUGH_TO_JUDGE * played.length) {
    const late = tempo.weighed.length > 0 ? [] : lateHabit(heard, timing)
    const time = [
      ...tempo.weighed,
      ...hesitationFindings(heard, hesitations),
      ...timingFindings(heard, timing, tempo),
      ...rhythmFindings(heard, divisions),
      ...late,
    ]
    const hands = [...spreadFinding(heard, chords), ...handsFinding(heard, behind), ...pulledFinding(heard, pull)]
    weighed.push(...time, ...hands, ...(isSaid([...time, ...hands]) ? [] : straysFinding(timing)))
    weighed.push(
      ...touchFindings(heard, touches),
      ...swingFindings(heard, divisions),
      ...dynamicsFindings(heard, dynamics),
      ...pedalFindings(heard, pedal),
    )
  }
  const findings = inOrder(weighed)
  const isClean = !findings.some(finding => ['notes', 'time', 'hands'].includes(domainOf(finding)))
  const cleanBut = [...new Set(findings.filter(isLarge).map(finding => finding.kind))]
  return { findings: isClean ? [{ kind: 'clean' }, ...findings] : findings, cleanBut }
}

/** Whether a finding already explains why notes are out of time. */
const isSaid = (weighed: readonly WeightedFinding[]): boolean =>
  weighed.some(({ finding }) => ['time', 'hands'].includes(domainOf(finding)))

/**
 * A single note that sticks out is a slip; other faults of touch, swing, dynamics and pedal are reported only as
 * habits.
 */
const isLarge = (finding: Finding): boolean => comesLater(finding) && !(finding.kind === 'accent' && finding.sticksOut)

const NOTE_KINDS: readonly FindingKind[] = ['wrong-note', 'missed-note', 'octave', 'extra-note']
/** Below this weight a finding is not worth a place beside the notes. */
const WORTH_SAYING = 5

function inOrder(weighed: readonly WeightedFinding[]): Finding[] {
  const sorted = [...weighed].sort((a, b) => b.weight - a.weight)
  const isNote = ({ finding }: WeightedFinding) => NOTE_KINDS.includes(finding.kind)
  const top = [sorted.find(isNote), sorted.find(one => !isNote(one) && one.weight >= WORTH_SAYING)]
    .filter(one => one !== undefined)
    .sort((a, b) => b.weight - a.weight)
  const seen = new Set(top.map(({ finding }) => finding.kind))
  const others = sorted.filter(({ finding }) => !seen.has(finding.kind) && seen.add(finding.kind))
  const first = new Set([...top, ...others])
  return [...first, ...sorted.filter(one => !first.has(one))].map(({ finding }) => finding)
}
