import { tempoAt } from '../music/arrangement'
import { expectedNotes, passageBars } from '../music/passage'
import { tempoFields, type AssessmentRequest } from './assessment-request'
import { JUDGE_VERSION, type Assessment, type ExtraNote, type NoteAssessment } from './assessment'
import { spellInKey } from '../music/pitch'
import type { Finding } from './finding'
import { placeOf } from './heard'
import { waitForKeys } from './own-time'
import { median } from './statistics'

/** When a wait is long enough to mention: as a multiple of the median wait, and at least this long (own choice). */
const LONG_WAIT = { timesUsual: 2.5, leastMs: 1500 } as const

/**
 * Assesses a pass in the player's own time: which keys came at once, which at a second try, and where the hand needed
 * longest. Timing is not judged: nothing is early or late, and a long wait costs nothing.
 */
export function assessOwnTime({
  arrangement,
  passage,
  take,
  bpm,
  strictness = 'normal',
}: AssessmentRequest): Assessment {
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
      stroke.notes.forEach((note, one) => {
        if (one === 0) played[note] = index
      })
      for (const note of stroke.notes.slice(1)) shared.add(note)
      if (stroke.completes) completedAtMs.push(onsetMs)
      return
    }
    const isWrong = stroke.kind === 'wrong'
    extras.push({
      played: index,
      pitch,
      atMs: Math.round(onsetMs * 10) / 10,
      ...(isWrong ? {} : { doubled: true as const }),
    })
    if (!isWrong) return
    const misses = missesAt.get(stroke.event)
    if (misses) misses.push(pitch)
    else missesAt.set(stroke.event, [pitch])
  })
  const waits = completedAtMs
    .map((ms, event) => ({ event, ms: event === 0 ? 0 : ms - completedAtMs[event - 1]! }))
    .slice(1)
  const usualMs = median(waits.map(wait => wait.ms))
  const long = waits
    .filter(({ ms }) => ms > LONG_WAIT.timesUsual * usualMs && ms >= LONG_WAIT.leastMs)
    .sort((a, b) => b.ms - a.ms)
  const noteAt = (event: number) => expected[waiting.events[event]!.notes[0]!]!
  const isChord = (event: number) => waiting.events[event]!.notes.length > 1
  const atEvents = (events: readonly number[]) => ({
    ...placeOf(noteAt(events[0]!)),
    count: events.length,
    places: events.map(event => placeOf(noteAt(event))),
  })
  const findings: Finding[] = []
  const isClean = waiting.isOver() && missesAt.size === 0
  const left = expected.length - played.filter(one => one !== null).length - shared.size
  if (isClean) findings.push({ kind: 'clean', usualWaitMs: waits.length > 1 ? Math.round(usualMs) : 0 })
  else if (take.notes.length === 0) findings.push({ kind: 'nothing-played', notes: expected.length, ownTime: true })
  else if (!waiting.isOver()) findings.push({ kind: 'stopped', ...atEvents([waiting.at()]), count: left })
  const missed = [...missesAt].sort(([, a], [, b]) => b.length - a.length)
  const [worst] = missed
  if (worst) {
    const [event, pitches] = worst
    const note = noteAt(event)
    const tried = [...new Set(pitches)]
      .slice(0, 3)
      .map(pitch => spellInKey(pitch, arrangement.bars[note.barIndex]?.fifths ?? 0))
    findings.push({
      kind: 'wrong-note',
      ...atEvents(missed.map(([at]) => at)),
      written: note.spelled,
      instead: tried[0]!,
      ...(isChord(event) ? { ofChord: true as const } : {}),
      triedBefore: tried,
    })
  }
  for (const { event, ms } of long)
    findings.push({
      kind: 'hesitation',
      ...placeOf(noteAt(event)),
      ms: Math.round(ms),
      because: 'next note',
      isChord: isChord(event),
      written: noteAt(event).spelled,
      waited: true,
    })
  const notes = expected.map((note, index): NoteAssessment => {
    const stroke = played[index] === null ? undefined : take.notes[played[index]!]
    return {
      id: note.id,
      hand: note.hand,
      bar: note.bar,
      beat: Math.round(note.beat * 1e4) / 1e4,
      pitch: note.pitch,
      outcome: stroke ? 'right' : 'missed',
      played: played[index]!,
      playedPitch: stroke?.pitch ?? null,
      deviationMs: null,
      articulation: null,
      velocity: stroke?.velocity ?? null,
      ...(shared.has(index) ? { sharedKey: true as const } : {}),
    }
  })
  const right = notes.filter(note => note.outcome === 'right').length
  const wrongKeys = extras.filter(extra => !extra.doubled).length
  const judged = notes.length - shared.size + wrongKeys
  return {
    format: 'half-step/assessment',
    version: 1,
    mode: 'own-time',
    strictness,
    score: {
      title: arrangement.title,
      bars: passageBars(arrangement, passage),
      hands: passage.hands,
      ...tempoFields(arrangement, passage, bpm ?? tempoAt(arrangement, passage.stretches[0]!.from)),
    },
    notes,
    extras,
    findings,
    ear: JUDGE_VERSION,
    measures: [
      {
        name: 'usualWaitMs',
        value: waits.length > 0 ? Math.round(usualMs) : null,
        unit: 'ms',
        within: true,
        source: 'not-judged',
      },
    ],
    summary: {
      notes: notes.length,
      right,
      wrong: 0,
      missed: notes.filter(note => note.outcome === 'missed').length,
      extra: wrongKeys,
      restarts: 0,
      // Nothing is early or late here.
      onTimeShare: 1,
      onTimeMs: 0,
      offsetMs: 0,
      driftPercent: 0,
      unsteadinessMs: 0,
      swingRatio: null,
      swingAsked: null,
      chordSpreadMs: null,
      leftBehindMs: null,
      articulation: null,
      balanceSteps: null,
      pedalMs: null,
      clean: isClean,
      failed: isClean ? [] : ['notes'],
      cleanBut: [],
      score: judged === 0 ? 100 : Math.max(0, Math.round((100 * right) / judged)),
    },
  }
}
