import type { Arrangement, Hand } from '../music/arrangement'
import { displayName, spellInKey } from '../music/pitch'
import type { ExpectedNote } from '../music/passage'
import type { AssessmentSummary, Finding, NoteAssessment } from './assessment'
import type { EarParameters } from './parameters'
import { middle } from './statistics'
import type { TakeNote } from './take'

interface Heard {
  arrangement: Arrangement
  due: readonly ExpectedNote[]
  notes: readonly NoteAssessment[]
  extras: readonly TakeNote[]
  summary: AssessmentSummary
  beatMs: number
  ear: EarParameters
}

/** The right notes that were due at one moment. */
interface Moment { onsetMs: number, due: ExpectedNote[], notes: NoteAssessment[] }

/** A finding and what fixing it would bring, on a scale on which one wrong note is 10. */
interface Weighed { finding: Finding, weight: number }

/** A pass with less than this share of its notes right is told what is missing, not what is uneven. */
const ENOUGH_TO_JUDGE_TIME = 0.5

/**
 * What was found in a pass, what helps most first. A clean pass (every note right, none extra, no hesitation, the
 * onsets on time) says `clean` first, and then what could still be better.
 */
export function findingsOf(heard: Heard): Finding[] {
  const { summary } = heard
  if (summary.right + summary.wrong === 0) return [nothingHeard(heard)]
  const moments = momentsOf(heard)
  const timeCanBeJudged = summary.right / summary.notes >= ENOUGH_TO_JUDGE_TIME
  const weighed = [
    ...noteFindings(heard),
    ...extraFindings(heard),
    ...(timeCanBeJudged ? [...hesitations(moments, heard.ear), ...timeFindings(heard), ...spreadFindings(moments, heard.ear), ...handFindings(moments, heard.ear)] : []),
  ]
  const findings = weighed.sort((a, b) => b.weight - a.weight).map(({ finding }) => finding)
  const clean = summary.right === summary.notes && summary.extra === 0 && summary.onTimeShare >= heard.ear.cleanOnTimeShare
    && !findings.some(finding => finding.kind === 'hesitation')
  return clean ? [{ kind: 'clean', text: 'Clean: every note right and in time.' }, ...findings] : findings
}

function nothingHeard({ summary, extras, due }: Heard): Finding {
  const first = due[0]
  return {
    kind: 'missed-note', ...(first ? placeOf(first) : {}),
    text: extras.length === 0
      ? `No notes were heard in this pass; ${summary.notes} were due. Wait for the count-in, then begin.`
      : `None of the ${summary.notes} notes due here was heard. Check the hands, the octave and the part, then begin again.`,
  }
}

function noteFindings({ arrangement, due, notes }: Heard): Weighed[] {
  return notes.flatMap((note, index): Weighed[] => {
    if (note.outcome === 'right') return []
    const written = due[index]!
    const name = displayName(written.spelled, false)
    const place = placeOf(written)
    if (note.outcome === 'missed') {
      return [{ weight: written.grace ? 3 : 10, finding: { kind: 'missed-note', ...place, text: `${placeText(written)}: ${displayName(written.spelled)} is missing. Play that beat alone three times, then the bar.` } }]
    }
    if (note.octave) {
      const where = note.playedPitch! > note.pitch ? 'high' : 'low'
      return [{ weight: 9, finding: { kind: 'octave', ...place, text: `${placeText(written)}: ${name} was played in another octave, too ${where}. Find ${displayName(written.spelled)} before you start.` } }]
    }
    const playedName = displayName(spellInKey(note.playedPitch!, fifthsAt(arrangement, written)), false)
    return [{ weight: 10, finding: { kind: 'wrong-note', ...place, text: `${placeText(written)}: ${playedName} instead of ${name}. Play that beat alone three times, then the bar.` } }]
  })
}

function extraFindings({ arrangement, due, extras, beatMs }: Heard): Weighed[] {
  return extras.map(({ pitch, onsetMs }) => {
    const near = nearest(due, onsetMs)
    const name = displayName(spellInKey(pitch, near ? fifthsAt(arrangement, near) : 0), false)
    const place = near ? `near ${lowerFirst(placeText(near, Math.abs(near.onsetMs - onsetMs) < beatMs))}` : 'here'
    return { weight: 6, finding: { kind: 'extra-note', ...(near ? placeOf(near) : {}), text: `An extra ${name} was struck ${place}. Lift that finger and play the beat once more.` } }
  })
}

/** A note much later than the lateness of the one before explains: the player stopped to think or to move. */
function hesitations(moments: readonly Moment[], ear: EarParameters): Weighed[] {
  const found: Weighed[] = []
  let before: { onsetMs: number, deviationMs: number } | undefined
  for (const event of moments) {
    const deviationMs = middle(event.notes.map(note => note.deviationMs!))
    if (before) {
      const interval = event.onsetMs - before.onsetMs
      const pauseMs = deviationMs - Math.max(0, before.deviationMs)
      if (pauseMs > Math.max(ear.hesitationMinMs, ear.hesitationShare * interval)) {
        const first = event.due[0]!
        const because = event.due.length > 1 ? 'chord change' : 'moving to this note'
        found.push({
          weight: 8 + pauseMs / 100,
          finding: {
            kind: 'hesitation', ...placeOf(first), ms: Math.round(pauseMs), because,
            text: `${placeText(first)}: a pause of ${inWords(pauseMs)} (${Math.round(pauseMs)} ms) before ${event.due.length > 1 ? 'the chord' : displayName(first.spelled, false)}. Practise only the step into it: the beat before, then this one.`,
          },
        })
      }
    }
    before = { onsetMs: event.onsetMs, deviationMs }
  }
  return found
}

function timeFindings({ summary, ear }: Heard): Weighed[] {
  const { offsetMs, driftPercent, unsteadinessMs, onTimeMs, right } = summary
  const found: Weighed[] = []
  if (right < 4) return found
  if (Math.abs(driftPercent) >= ear.driftPercent && summary.onTimeShare < 0.95) {
    const kind = driftPercent < 0 ? 'rushing' : 'dragging'
    found.push({ weight: 7, finding: { kind, percent: Math.abs(driftPercent), text: `The tempo ${kind === 'rushing' ? 'runs ahead' : 'falls behind'} by ${Math.abs(driftPercent).toFixed(1)} % from beginning to end. Say the count aloud and wait for each click.` } })
  }
  else if (Math.abs(offsetMs) > onTimeMs / 2 && Math.abs(offsetMs) > unsteadinessMs) {
    const kind = offsetMs > 0 ? 'late' : 'early'
    found.push({ weight: 6, finding: { kind, ms: Math.abs(Math.round(offsetMs)), text: `Every note is about ${Math.abs(Math.round(offsetMs))} ms ${kind}, steadily. ${kind === 'late' ? 'Aim a little before the click; if it feels exact to you, the keyboard may be answering late.' : 'Let the click come first, then play with it.'}` } })
  }
  const stray = 1 - summary.onTimeShare
  if (unsteadinessMs > onTimeMs / 2 || (stray > 1 - ear.cleanOnTimeShare && found.length === 0)) {
    found.push({ weight: 5 + 10 * stray, finding: { kind: 'uneven', ms: Math.round(unsteadinessMs), text: `The notes lie ${Math.round(unsteadinessMs)} ms to either side of the beat. Play it once more slower, counting every beat, until it is even.` } })
  }
  return found
}

/** The widest chord, when its notes meant together were not struck together. */
function spreadFindings(moments: readonly Moment[], ear: EarParameters): Weighed[] {
  const spreads = moments.flatMap((event) => {
    const byHand = (['right', 'left'] as const).map(hand => event.notes.filter(note => note.hand === hand).map(note => note.deviationMs!))
    return byHand.filter(group => group.length > 1).map(group => ({ event, ms: Math.max(...group) - Math.min(...group) }))
  }).filter(({ ms }) => ms > ear.chordSpreadMs)
  const widest = spreads.sort((a, b) => b.ms - a.ms)[0]
  if (!widest) return []
  const first = widest.event.due[0]!
  return [{
    weight: 3 + widest.ms / 100,
    finding: { kind: 'chord-spread', ...placeOf(first), ms: Math.round(widest.ms), text: `${placeText(first)}: the chord's notes are ${Math.round(widest.ms)} ms apart. Shape the hand over all its keys first, then drop it.` },
  }]
}

/** How far one hand lies behind the other where they should fall together. */
function handFindings(moments: readonly Moment[], ear: EarParameters): Weighed[] {
  const apart = moments.flatMap((event) => {
    const of = (hand: Hand) => event.notes.filter(note => note.hand === hand).map(note => note.deviationMs!)
    return of('right').length > 0 && of('left').length > 0 ? [middle(of('left')) - middle(of('right'))] : []
  })
  const leftBehindMs = middle(apart)
  if (apart.length < 3 || Math.abs(leftBehindMs) <= ear.handsApartMs) return []
  const late: Hand = leftBehindMs > 0 ? 'left' : 'right'
  return [{
    weight: 6,
    finding: { kind: 'hands-apart', hand: late, ms: Math.abs(Math.round(leftBehindMs)), text: `Where the hands should meet, the ${late} hand comes ${Math.abs(Math.round(leftBehindMs))} ms after the other. Play only the meeting points, both hands dropping together.` },
  }]
}

function momentsOf({ due, notes }: Heard): Moment[] {
  const all: Moment[] = []
  due.forEach((written, index) => {
    const note = notes[index]!
    if (note.outcome !== 'right' || written.grace) return
    const last = all.at(-1)
    if (last && written.onsetMs - last.onsetMs < 1) {
      last.due.push(written)
      last.notes.push(note)
    }
    else all.push({ onsetMs: written.onsetMs, due: [written], notes: [note] })
  })
  return all
}

function nearest(due: readonly ExpectedNote[], atMs: number): ExpectedNote | undefined {
  return due.reduce<ExpectedNote | undefined>((best, note) =>
    !best || Math.abs(note.onsetMs - atMs) < Math.abs(best.onsetMs - atMs) ? note : best, undefined)
}

const placeOf = ({ hand, bar, beat }: ExpectedNote) => ({ hand, bar, beat: Number(beat.toFixed(4)) })

/** "Bar 3, beat 2 and a half, left hand" as the player counts. */
function placeText({ bar, beat, hand }: ExpectedNote, withBeat = true): string {
  const whole = Math.floor(beat + 1e-6)
  const rest = beat - whole
  const name = rest < 1e-6 ? `beat ${whole}` : Math.abs(rest - 0.5) < 1e-6 ? `the & of beat ${whole}` : `after beat ${whole}`
  return `${bar === 0 ? 'Pickup' : `Bar ${bar}`}${withBeat ? `, ${name}` : ''}, ${hand} hand`
}

const fifthsAt = (arrangement: Arrangement, note: ExpectedNote): number =>
  arrangement.bars.find(bar => bar.number === note.bar)?.fifths ?? 0

function inWords(ms: number): string {
  if (ms < 200) return 'a moment'
  if (ms < 400) return 'about a third of a second'
  if (ms < 600) return 'about half a second'
  if (ms < 900) return 'about three quarters of a second'
  return `about ${(ms / 1000).toFixed(1).replace(/\.0$/, '')} seconds`
}

const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1)
