import { tempoAt } from '../music/arrangement'
import { expectedNotes, passageBars } from '../music/passage'
import type { AssessmentRequest } from './assess'
import type { Assessment, ExtraNote, Finding, NoteAssessment } from './assessment'
import { keyName, placeOf, placeText, plural } from './findings/words'
import { waitForKeys } from './own-time'
import { middle } from './statistics'

/** When a wait is one that the player may want to know of: so many times the middle one, and at least so long (own choice). */
const LONG_WAIT = { timesUsual: 2.5, leastMs: 1500 } as const

/**
 * What was found in a pass in the player's own time: which keys came at once and which at a second try, and where the hand needed longest.
 * Time is not judged: there is no early and late, and a long wait costs nothing.
 */
export function assessOwnTime({ arrangement, passage, take, bpm, strictness = 'normal' }: AssessmentRequest): Assessment {
  const expected = expectedNotes(arrangement, passage, bpm)
  const waiting = waitForKeys(expected)
  const played: (number | null)[] = expected.map(() => null)
  const shared = new Set<number>()
  const extras: ExtraNote[] = []
  const missesAt = new Map<number, number[]>()
  const completedAtMs: number[] = []
  take.notes.forEach(({ pitch, onsetMs }, index) => {
    const stroke = waiting.hear(pitch)
    if (stroke.kind === 'right') {
      stroke.notes.forEach((note, one) => { if (one === 0) played[note] = index })
      for (const note of stroke.notes.slice(1)) shared.add(note)
      if (stroke.completes) completedAtMs.push(onsetMs)
      return
    }
    const isWrong = stroke.kind === 'wrong'
    extras.push({ played: index, pitch, atMs: Math.round(onsetMs * 10) / 10, ...(isWrong ? {} : { doubled: true as const }) })
    if (isWrong) missesAt.set(stroke.moment, [...missesAt.get(stroke.moment) ?? [], pitch])
  })
  const waits = completedAtMs.map((ms, moment) => ({ moment, ms: moment === 0 ? 0 : ms - completedAtMs[moment - 1]! })).slice(1)
  const usualMs = middle(waits.map(wait => wait.ms))
  const long = waits.filter(({ ms }) => ms > LONG_WAIT.timesUsual * usualMs && ms >= LONG_WAIT.leastMs).sort((a, b) => b.ms - a.ms)
  const noteAt = (moment: number) => expected[waiting.moments[moment]!.notes[0]!]!
  const reached = waiting.at()
  const findings: Finding[] = []
  const isClean = waiting.isOver() && missesAt.size === 0
  if (isClean) findings.push({ kind: 'clean', text: `Every key right, in your own time${waits.length > 1 ? `; a step took ${seconds(usualMs)} s` : ''}.` })
  else if (!waiting.isOver()) findings.push({ kind: 'stopped', ...placeOf(noteAt(reached)), text: reached === 0 ? 'Nothing was played yet.' : `${placeText(noteAt(reached), { hand: false })} is where it stopped.` })
  const places = [...missesAt].sort(([, a], [, b]) => b.length - a.length)
  if (places.length > 0) {
    const [moment, pitches] = places[0]!
    const note = noteAt(moment)
    const keys = [...new Set(pitches)].slice(0, 3).map(pitch => keyName(arrangement, pitch, note.barIndex)).join(', ')
    findings.push({ kind: 'wrong-note', ...placeOf(note), count: places.length, text: `${placeText(note)}: ${keys} came before the right ${waiting.moments[moment]!.notes.length > 1 ? 'keys' : 'key'}${places.length > 1 ? `; ${plural(places.length - 1, 'other place')} too` : ''}.` })
  }
  for (const { moment, ms } of long) findings.push({ kind: 'hesitation', ...placeOf(noteAt(moment)), ms: Math.round(ms), text: `${placeText(noteAt(moment), { hand: waiting.moments[moment]!.notes.length === 1 })} took the hand longest, ${seconds(ms)} s. It may take as long as it likes.` })
  const notes = expected.map((note, index): NoteAssessment => {
    const stroke = played[index] === null ? undefined : take.notes[played[index]!]
    return {
      id: note.id, hand: note.hand, bar: note.bar, beat: Math.round(note.beat * 1e4) / 1e4, pitch: note.pitch, outcome: stroke ? 'right' : 'missed', played: played[index]!, playedPitch: stroke?.pitch ?? null,
      deviationMs: null, articulation: null, velocity: stroke?.velocity ?? null, ...(shared.has(index) ? { sharedKey: true as const } : {}),
    }
  })
  const right = notes.filter(note => note.outcome === 'right').length
  const wrongKeys = extras.filter(extra => !extra.doubled).length
  const judged = notes.length - shared.size + wrongKeys
  return {
    format: 'half-step/assessment', version: 1, mode: 'own-time', strictness,
    score: { title: arrangement.title, bars: passageBars(arrangement, passage), hands: passage.hands, bpm: bpm ?? tempoAt(arrangement, passage.stretches[0]!.from) },
    notes, extras, findings,
    measures: [{ name: 'usual-wait', label: 'A step took, in the middle', value: waits.length > 0 ? Math.round(usualMs) : null, unit: 'ms', within: true, source: 'measured, not judged: it is your own time' }],
    summary: {
      notes: notes.length, right, wrong: 0, missed: notes.filter(note => note.outcome === 'missed').length, extra: wrongKeys, restarts: 0,
      // Nothing is early or late here.
      onTimeShare: 1, onTimeMs: 0, offsetMs: 0, driftPercent: 0, unsteadinessMs: 0,
      swingRatio: null, swingAsked: null, chordSpreadMs: null, leftBehindMs: null, articulation: null, balanceSteps: null, pedalMs: null,
      clean: isClean, score: judged === 0 ? 100 : Math.max(0, Math.round(100 * right / judged)),
    },
  }
}

const seconds = (ms: number): string => (ms / 1000).toFixed(1)
