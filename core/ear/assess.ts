import { beatLength } from '../music/meter'
import { barAt, tempoAt, type Arrangement } from '../music/arrangement'
import { expectedNotes, type ExpectedNote, type Passage } from '../music/passage'
import { toDecimal } from '../music/quarters'
import { alignToTimes, type Alignment } from './align'
import type { Assessment, AssessmentSummary, NoteAssessment } from './assessment'
import { findingsOf } from './findings'
import { findFreeTempo } from './free-tempo'
import { DEFAULT_EAR, onTimeMs, type EarParameters } from './parameters'
import { lineThrough, middle, robustSpread } from './statistics'
import type { Take } from './take'

export interface AssessmentRequest {
  arrangement: Arrangement
  passage: Passage
  take: Take
  /** `steady`: the take's time 0 is the passage's beginning, at `bpm` quarter notes a minute. `free`: both are found. */
  mode: 'steady' | 'free'
  bpm?: number
  /** A known constant delay of the keyboard, ms, taken off every played time. */
  offsetMs?: number
  ear?: EarParameters
}

/**
 * Says what was right, wrong, missed and extra in a take of a passage, and how each note lay in time. Never
 * throws on a take: an empty one has every note missed.
 */
export function assessTake(request: AssessmentRequest): Assessment {
  const { arrangement, passage, ear = DEFAULT_EAR } = request
  const offsetMs = request.offsetMs ?? 0
  const written = expectedNotes(arrangement, passage, request.bpm)
  const startBpm = request.bpm ?? tempoAt(arrangement, passage.stretches[0]!.from)
  const played = request.take.notes.map(note => ({ ...note, onsetMs: note.onsetMs - offsetMs }))
  const writtenBeatMs = toDecimal(beatLength(barAt(arrangement, passage.stretches[0]!.from).meter)) * 60_000 / startBpm

  const free = request.mode === 'free' ? findFreeTempo(written, played, ear) : undefined
  const stretch = free?.stretch ?? 1
  const due = free
    ? written.map(note => ({ ...note, onsetMs: free.dueMs(note.onsetMs), durationMs: note.durationMs * stretch }))
    : written
  const beatMs = writtenBeatMs * stretch
  const alignment = alignToTimes(due, played, beatMs, ear)
  const notes = due.map((note, index) => assessNote(note, alignment.outcomes[index]!, played))
  const summary = summarise(due, notes, alignment, onTimeMs(ear, beatMs))
  const findings = findingsOf({ arrangement, due, notes, extras: alignment.extras.map(index => played[index]!), summary, beatMs, ear })
  summary.clean = findings[0]?.kind === 'clean'
  return {
    format: 'half-step/assessment', version: 1,
    score: { title: arrangement.title, bars: barsOf(arrangement, passage), hands: passage.hands, bpm: round(startBpm / stretch, 2) },
    mode: request.mode,
    notes,
    extras: alignment.extras.map(index => ({ played: index, pitch: played[index]!.pitch, atMs: round(request.take.notes[index]!.onsetMs, 1) })),
    summary,
    findings,
  }
}

function assessNote(note: ExpectedNote, { outcome, played: index }: Alignment['outcomes'][number], played: Take['notes']): NoteAssessment {
  const stroke = index === null ? undefined : played[index]!
  return {
    id: note.id, hand: note.hand, bar: note.bar, beat: round(note.beat, 4), pitch: note.pitch, outcome, played: index,
    playedPitch: stroke?.pitch ?? null,
    deviationMs: stroke ? round(stroke.onsetMs - note.onsetMs, 1) : null,
    articulation: stroke && note.durationMs > 0 ? round(stroke.durationMs / note.durationMs, 3) : null,
    velocity: stroke?.velocity ?? null,
    ...(outcome === 'wrong' && (stroke!.pitch - note.pitch) % 12 === 0 ? { octave: true as const } : {}),
    ...(note.time > 1 ? { time: note.time } : {}),
  }
}

function summarise(due: readonly ExpectedNote[], notes: readonly NoteAssessment[], alignment: Alignment, toleranceMs: number): AssessmentSummary {
  const count = (outcome: NoteAssessment['outcome']) => notes.filter(note => note.outcome === outcome).length
  const right = count('right')
  // Grace notes have no due time of their own to be judged by.
  const timed = notes.flatMap((note, index): [number, number][] =>
    note.outcome === 'right' && !due[index]!.grace ? [[due[index]!.onsetMs, note.deviationMs!]] : [])
  const late = timed.map(([, deviationMs]) => deviationMs)
  const onTime = late.filter(deviationMs => Math.abs(deviationMs) <= toleranceMs).length
  const line = lineThrough(timed)
  const judged = notes.length + alignment.extras.length
  return {
    notes: notes.length, right, wrong: count('wrong'), missed: count('missed'), extra: alignment.extras.length,
    onTimeShare: timed.length === 0 ? 0 : round(onTime / timed.length, 3),
    onTimeMs: round(toleranceMs, 1),
    offsetMs: round(middle(late), 1),
    driftPercent: round(line.slope * 100, 2),
    unsteadinessMs: round(robustSpread(timed.map(([x, y]) => y - line.intercept - line.slope * x)), 1),
    clean: false,
    score: judged === 0 ? 100 : Math.round(100 * (right - (timed.length - onTime) / 3) / judged),
  }
}

function barsOf(arrangement: Arrangement, passage: Passage): string {
  const first = barAt(arrangement, passage.stretches[0]!.from).number
  const end = passage.stretches.at(-1)!.to
  const last = arrangement.bars.findLast(bar => toDecimal(bar.start) < toDecimal(end))?.number ?? first
  return `${first}-${last}`
}

/** JSON keeps tenths of a millisecond: far below what can be heard or measured. */
function round(value: number, digits: number): number {
  const scale = 10 ** digits
  return Math.round(value * scale) / scale + 0
}
