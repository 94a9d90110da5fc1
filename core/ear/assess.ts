import { roundTo } from './statistics'
import { feltBeatMs, tempoAt } from '../music/arrangement'
import { expectedNotes, passageBars, type ExpectedNote } from '../music/passage'
import { alignTake, type Alignment } from './align'
import { JUDGE_VERSION, type Assessment, type AssessmentSummary, type NoteAssessment } from './assessment'
import { assessOwnTime } from './assess-own-time'
import { tempoFields, type AssessmentRequest } from './assessment-request'
import { dueTimes } from './due-times'
import { findingsOf } from './findings/findings'
import { CONDITIONS, domainOf, type Finding, type FindingKind } from './finding'
import { isOctave } from './findings/notes'
import { heardEvents, type Heard, type HeardNote } from './heard'
import { figuresOf, measure, measuresOf, type Measured } from './measures/measure'
import { articulationOf } from './measures/touch'
import { earFor, type EarParameters } from './parameters'
import type { Take } from './take'
import { tempoCurve } from './tempo-curve'
import { segmentTempo } from './tempo-segmentation'
import { interpretTempo } from './tempo-heard'

/**
 * Says what was right, wrong, missed and extra in a take of a passage, how each note lay in time, touch and loudness,
 * and what to do about it. Never throws on a take: an empty one has every note missed.
 */
export function assessTake(request: AssessmentRequest): Assessment {
  if (request.mode === 'own-time') return assessOwnTime(request)
  const { arrangement, passage, strictness = 'normal', take } = request
  const ear = earFor(strictness)
  const heard = hear(request, ear)
  const measured = measure(heard)
  const { findings, cleanBut } = findingsOf(heard, measured)
  const { notes, alignment, times } = heard
  const asked = notes.filter(note => !note.isLeftOut)
  const assessments = notes.map(note => assessNote(note, alignment.outcomes[note.index]!.played))
  addDetails(assessments, measured)
  const figures = figuresOf(measured)
  const startBpm = tempoAt(arrangement, passage.stretches[0]!.from)
  const bpm = (request.bpm ?? startBpm) / times.tempoRatio
  return {
    format: 'half-step/assessment',
    version: 1,
    score: {
      title: arrangement.title,
      bars: passageBars(arrangement, passage),
      hands: passage.hands,
      ...tempoFields(arrangement, passage, bpm),
    },
    mode: request.mode,
    strictness,
    notes: asked.map(note => assessments[note.index]!),
    extras: alignment.extras.map(({ played, reason }) => ({
      played,
      pitch: take.notes[played]!.pitch,
      atMs: roundTo(take.notes[played]!.onsetMs, 1),
      ...(reason ? { [reason]: true as const } : {}),
    })),
    summary: summarise(heard, asked, figures, findings, cleanBut),
    measures: measuresOf(heard, measured, figures).map(one => ({
      ...one,
      value: one.value === null ? null : roundTo(one.value, 2),
    })),
    findings,
    ...(request.mode === 'free'
      ? { tempos: tempoCurve(arrangement, notes, (request.bpm ?? startBpm) / startBpm) }
      : {}),
    ear: JUDGE_VERSION,
  }
}

/** Aligns the take and brings every note together with what was heard of it. */
function hear(
  { arrangement, passage, mode, bpm, offsetMs = 0, take: original }: AssessmentRequest,
  ear: EarParameters,
): Heard {
  const steady = mode === 'steady'
  const take: Take =
    offsetMs === 0
      ? original
      : {
          notes: original.notes.map(note => ({ ...note, onsetMs: note.onsetMs - offsetMs })),
          pedals: original.pedals.map(pedal => ({ ...pedal, atMs: pedal.atMs - offsetMs })),
        }
  const expected = expectedNotes(arrangement, passage, bpm)
  const writtenBeatMs = feltBeatMs(arrangement, passage.stretches[0]!.from, bpm)
  const alignment = alignTake({
    expected,
    played: take.notes,
    steady,
    beatMs: writtenBeatMs,
    ear,
    bars: arrangement.bars,
  })
  const course = segmentTempo(expected, take.notes, alignment, steady, ear.tempo)
  const tempo = { course, heard: interpretTempo(arrangement, expected, course, steady, ear.tempo) }
  const times = dueTimes(expected, take.notes, alignment, tempo, steady, writtenBeatMs, ear)
  const leftOut = new Set(
    alignment.repeats.flatMap(one =>
      one.kind === 'not-taken'
        ? alignment.followed.events.slice(one.from, one.to + 1).flatMap(event => event.notes)
        : [],
    ),
  )
  const notes = expected.map((written, index): HeardNote => {
    const { outcome, played } = alignment.outcomes[index]!
    const stroke = played === null ? undefined : take.notes[played]!
    const dueMs = times.dueMs[index]!
    return {
      index,
      written,
      outcome,
      stroke,
      dueMs,
      deviationMs: stroke ? stroke.onsetMs - dueMs : undefined,
      event: alignment.eventOf[index]!,
      followed: alignment.followed.eventOf[index]!,
      sharedKey: outcome === 'missed' && sharesKey(written, index, expected, alignment),
      isLeftOut: outcome === 'missed' && leftOut.has(index),
      ratio: times.ratio[index]!,
    }
  })
  return {
    arrangement,
    passage,
    hands: passage.hands,
    take,
    steady,
    beatMs: writtenBeatMs * times.tempoRatio,
    bpm,
    ear,
    alignment,
    times,
    tempo,
    notes,
    events: heardEvents(notes, alignment),
  }
}

/** Whether another voice has the same key at the same time, and its stroke was right or wrong. */
function sharesKey(
  written: ExpectedNote,
  index: number,
  expected: readonly ExpectedNote[],
  { events, eventOf, outcomes }: Alignment,
): boolean {
  return events[eventOf[index]!]!.notes.some(
    other =>
      other !== index &&
      expected[other]!.pitch === written.pitch &&
      !expected[other]!.grace &&
      outcomes[other]!.outcome !== 'missed',
  )
}

function assessNote(heard: HeardNote, played: number | null): NoteAssessment {
  const { written: note, outcome, stroke, deviationMs } = heard
  const articulation = articulationOf(heard)
  return {
    id: note.id,
    hand: note.hand,
    bar: note.bar,
    beat: roundTo(note.beat, 4),
    pitch: note.pitch,
    outcome,
    played,
    playedPitch: stroke?.pitch ?? null,
    deviationMs: deviationMs === undefined ? null : roundTo(deviationMs, 1),
    articulation: articulation === undefined ? null : roundTo(articulation, 3),
    velocity: stroke?.velocity ?? null,
    ...(outcome === 'wrong' && isOctave(heard) ? { octave: true as const } : {}),
    ...(heard.sharedKey ? { sharedKey: true as const } : {}),
    ...(note.finger === undefined ? {} : { finger: note.finger }),
    ...(note.time > 1 ? { time: note.time } : {}),
  }
}

/** Adds what is measured between notes to the notes. */
function addDetails(assessments: NoteAssessment[], { chords, touches }: Measured) {
  for (const { notes, middleMs } of chords)
    for (const note of notes) assessments[note.index]!.spreadMs = roundTo(note.deviationMs! - middleMs, 1)
  for (const { blurred } of touches)
    for (const { note, ms } of blurred) assessments[note.index]!.overlapMs = roundTo(ms, 1)
}

function summarise(
  { alignment }: Heard,
  notes: readonly HeardNote[],
  figures: ReturnType<typeof figuresOf>,
  findings: readonly Finding[],
  cleanBut: FindingKind[],
): AssessmentSummary {
  const count = (outcome: HeardNote['outcome']) => notes.filter(note => note.outcome === outcome).length
  const right = count('right')
  const extra = alignment.extras.filter(one => !one.reason || one.reason === 'restruck').length
  const shared = notes.filter(note => note.sharedKey).length
  const judged = notes.length - shared + extra
  const strayed = right * (1 - figures.onTimeShare)
  const failed = CONDITIONS.filter(condition => findings.some(finding => domainOf(finding) === condition))
  return {
    notes: notes.length,
    right,
    wrong: count('wrong'),
    missed: count('missed'),
    extra,
    restarts: alignment.restarts,
    onTimeShare: roundTo(figures.onTimeShare, 3),
    onTimeMs: roundTo(figures.onTimeMs, 1),
    offsetMs: roundTo(figures.offsetMs, 1),
    driftPercent: roundTo(figures.driftPercent, 2),
    unsteadinessMs: roundTo(figures.unsteadinessMs, 1),
    swingRatio: rounded(figures.swingRatio, 2),
    swingAsked: rounded(figures.swingAsked, 2),
    chordSpreadMs: rounded(figures.chordSpreadMs, 1),
    leftBehindMs: rounded(figures.leftBehindMs, 1),
    articulation: rounded(figures.articulation, 3),
    balanceSteps: rounded(figures.balanceSteps, 1),
    pedalMs: rounded(figures.pedalMs, 1),
    clean: failed.length === 0,
    failed,
    cleanBut,
    score: judged === 0 ? 100 : Math.max(0, Math.round((100 * (right - strayed / 3)) / judged)),
  }
}

const rounded = (value: number | null, digits: number) => (value === null ? null : roundTo(value, digits))
