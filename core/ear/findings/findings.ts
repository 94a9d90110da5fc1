import type { Finding } from '../assessment'
import type { Heard } from '../heard'
import type { Measured } from '../measures/measure'
import { handsFinding, spreadFinding } from './hands'
import { extraFindings, hopeless, noteFindings } from './notes'
import { dynamicsFindings, pedalFindings, touchFindings } from './sound'
import { hesitationFindings, rhythmFindings, timingFindings } from './time'
import type { Weighed } from './weighed'

/** With less than this share of the notes right, what is missing is told, not what is uneven. */
const ENOUGH_TO_JUDGE = 0.5

/**
 * What was found in a pass, what helps most first. Wrong, missed and extra notes share one place at the top, so that a player with
 * many of them also hears the first thing about time, touch or hands; then of each kind its weightiest, then the rest. A clean pass (every note
 * right, none extra, no hesitation, the onsets on time) says `clean` first, and then what could still be better.
 */
export function findingsOf(heard: Heard, measured: Measured): Finding[] {
  const nothing = hopeless(heard)
  if (nothing) return [nothing.finding]
  const played = heard.notes.filter(note => note.outcome !== 'missed')
  const right = played.filter(note => note.outcome === 'right').length
  const { timing, hesitations, divisions, chords, behind, touches, dynamics, pedal } = measured
  const weighed = [
    ...noteFindings(heard),
    ...extraFindings(heard),
    ...(right < ENOUGH_TO_JUDGE * played.length
      ? []
      : [
          ...hesitationFindings(heard, hesitations), ...timingFindings(heard, timing), ...rhythmFindings(heard, divisions),
          ...spreadFinding(heard, chords), ...handsFinding(heard, behind), ...touchFindings(heard, touches),
          ...dynamicsFindings(heard, dynamics), ...pedalFindings(heard, pedal),
        ]),
  ]
  const findings = inOrder(weighed)
  return isClean(heard, measured)
    ? [{ kind: 'clean', text: 'Clean: every note right and in time.' }, ...findings]
    : findings.length > 0 ? findings : [nearlyClean(measured)]
}

/** No wrong, missed or extra note, no restart, no hesitation, and the onsets within tolerance. */
function isClean({ notes, alignment }: Heard, { timing, hesitations }: Measured): boolean {
  return notes.every(note => note.outcome === 'right' || note.sharedKey)
    && alignment.extras.every(extra => extra.reason && extra.reason !== 'restart')
    && alignment.followed.attempts.restarts === 0 && hesitations.length === 0 && !timing.tooManyStrays
}

const NOTE_KINDS: readonly Finding['kind'][] = ['wrong-note', 'missed-note', 'octave', 'extra-note']
/** Below this weight a finding need not be heard beside the notes. */
const WORTH_SAYING = 5

function inOrder(weighed: readonly Weighed[]): Finding[] {
  const sorted = [...weighed].sort((a, b) => b.weight - a.weight)
  const isNote = ({ finding }: Weighed) => NOTE_KINDS.includes(finding.kind)
  const top = [sorted.find(isNote), sorted.find(one => !isNote(one) && one.weight >= WORTH_SAYING)]
    .filter(one => one !== undefined).sort((a, b) => b.weight - a.weight)
  const seen = new Set(top.map(({ finding }) => finding.kind))
  const others = sorted.filter(({ finding }) => !seen.has(finding.kind) && seen.add(finding.kind))
  const first = [...top, ...others]
  return [...first, ...sorted.filter(one => !first.includes(one))].map(({ finding }) => finding)
}

/** All that keeps the pass from being clean are a few strays. */
const nearlyClean = ({ timing }: Measured): Finding => ({
  kind: 'uneven', ms: Math.round(timing.unsteadinessMs),
  text: `Every note is right, and ${Math.round(100 * timing.onTimeShare)} % are in time. Once more, listening to the click.`,
})
