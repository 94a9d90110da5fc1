import type { Arrangement, Hand, Note, OtherRole } from '../music/arrangement'
import type { ClickChoice } from '../music/click'
import { musicClicks, type Click } from '../music/loop'
import { loudnessOf, LOUDNESS, playable, velocityAt } from '../music/loudness'
import { expectedNotes, dueMarks, passageClock, type ExpectedNote, type Passage } from '../music/passage'
import {
  CLICK_KEYS,
  inTime,
  oneKeyAtATime,
  together,
  type Instrument,
  type PedalEvent,
  type RenderedScore,
  type SoundEvent,
  type TempoEvent,
  type Voice,
} from './performance'

/** What of a score sounds: which hands, which of its other roles (indices into `others`), and what clicks. */
export interface Sounding {
  hands: readonly Hand[]
  roles?: readonly number[]
  click?: ClickChoice
}

export const HAND_VOICES: Readonly<Record<Hand, Voice>> = {
  right: { id: 'right', name: 'Right hand', instrument: { kind: 'piano' } },
  left: { id: 'left', name: 'Left hand', instrument: { kind: 'piano' } },
}
export const CLICK_VOICE: Voice = { id: 'click', name: 'Click', instrument: { kind: 'click' } }

/** How much of its written time a note is held (common practice: detached about half, very short a quarter). */
const HELD: Readonly<Record<string, number>> = {
  staccato: 0.5,
  staccatissimo: 0.25,
  spiccato: 0.4,
  'detached-legato': 0.75,
}
/** A rolled chord is played from the bottom up: ms between keys, and at most this share of its time in all. */
const ROLL = { stepMs: 35, mostShare: 0.3 }
/** Clicks: how loud, and how long, ms. */
const CLICKS = { downbeat: 110, beat: 88, finer: 58, lengthMs: 40 }

/**
 * A passage as it would be played by the page: every note at its time, swung where the score swings, as loud as it
 * marks, held as its articulation says, with its pedal. `bpm` (quarter notes a minute) is the tempo at the beginning;
 * without it the score's own. Grace notes may come before time 0.
 */
export function renderPassage(
  arrangement: Arrangement,
  passage: Passage,
  { hands, roles = [], click }: Sounding,
  bpm?: number,
): RenderedScore {
  const clock = passageClock(arrangement, passage, bpm)
  const tempos = temposOf(arrangement, passage, bpm)
  const alone = (voice: Voice, events: readonly SoundEvent[], pedals: readonly PedalEvent[] = []): RenderedScore => ({
    voices: [voice],
    events,
    pedals,
    tempos,
    lengthMs: clock.lengthMs,
  })
  const pedals = handPedals(arrangement, passage, bpm)
  const base: RenderedScore = { voices: [], events: [], pedals: [], tempos, lengthMs: clock.lengthMs }
  return together([
    base,
    ...hands.map(hand => {
      const level = loudnessOf(arrangement.dynamics, hand)
      const onsets = new Map(arrangement.notes.map(note => [note.id, note]))
      const events = eventsOf(
        expectedNotes(arrangement, { ...passage, hands: hand }, bpm),
        HAND_VOICES[hand].id,
        onsets,
        note => playable(velocityAt(note) + level(onsets.get(note.id)!.onset)),
      )
      return alone(
        HAND_VOICES[hand],
        events,
        pedals.map(pedal => ({ ...pedal, voice: hand })),
      )
    }),
    ...roles.flatMap(index => {
      const role = arrangement.others[index]
      return role ? [alone(roleVoice(role, index), roleEvents(arrangement, passage, role, index, bpm))] : []
    }),
    ...(click ? [alone(CLICK_VOICE, clickEvents(musicClicks(arrangement, passage, bpm, click).clicks))] : []),
  ])
}

/** The voice of one of the other roles of a song. */
export const roleVoice = ({ name, program, percussion }: OtherRole, index: number): Voice => ({
  id: `role ${index}`,
  name,
  instrument: instrumentOf(program, percussion),
})

/** The instrument of a track: by its General MIDI program, from 0; the piano where none is known. */
export function instrumentOf(program: number | undefined, percussion: boolean | undefined): Instrument {
  if (percussion) return { kind: 'drums' }
  return program === undefined || program < 2 ? { kind: 'piano' } : { kind: 'program', program }
}

function roleEvents(
  arrangement: Arrangement,
  passage: Passage,
  role: OtherRole,
  index: number,
  bpm?: number,
): SoundEvent[] {
  const notes = role.notes.map((note): Note => ({ ...note, hand: 'right' }))
  const level = loudnessOf(arrangement.dynamics)
  const onsets = new Map(notes.map(note => [note.id, note]))
  const expected = expectedNotes({ ...arrangement, notes }, { ...passage, hands: 'both' }, bpm)
  return eventsOf(expected, `role ${index}`, onsets, note =>
    playable(
      velocityAt({ ...note, hand: 'right' }) -
        LOUDNESS.right +
        (LOUDNESS.right + LOUDNESS.left) / 2 +
        level(onsets.get(note.id)!.onset),
    ),
  )
}

function eventsOf(
  expected: readonly ExpectedNote[],
  voice: string,
  notes: ReadonlyMap<string, Pick<Note, 'onset'>>,
  velocityOf: (note: ExpectedNote) => number,
): SoundEvent[] {
  const late = rollDelays(expected)
  return oneKeyAtATime(
    inTime(
      expected.map((note): SoundEvent => {
        const held =
          note.articulations?.map(name => HELD[name] ?? 1).reduce((least, share) => Math.min(least, share), 1) ?? 1
        const lateMs = late.get(note) ?? 0
        return {
          voice,
          atMs: note.onsetMs + lateMs,
          lengthMs: Math.max(1, note.durationMs * held - lateMs),
          pitch: note.pitch,
          velocity: velocityOf(note),
          noteId: note.id,
          onset: notes.get(note.id)!.onset,
        }
      }),
    ),
  )
}

/** How much later than its moment each note of a rolled chord sounds. */
function rollDelays(expected: readonly ExpectedNote[]): Map<ExpectedNote, number> {
  const delays = new Map<ExpectedNote, number>()
  const rolled = new Map<string, ExpectedNote[]>()
  for (const note of expected) {
    if (note.grace || !note.articulations?.includes('arpeggiate')) continue
    const key = `${note.eventMs}`
    rolled.set(key, [...(rolled.get(key) ?? []), note])
  }
  for (const chord of rolled.values()) {
    const shortest = Math.min(...chord.map(note => note.durationMs))
    const stepMs = Math.min(ROLL.stepMs, (ROLL.mostShare * shortest) / chord.length)
    chord.sort((a, b) => a.pitch - b.pitch).forEach((note, place) => delays.set(note, place * stepMs))
  }
  return delays
}

/** Clicks as sounds: three tones, so that downbeats, beats and what lies between them are told apart by ear. */
export const clickEvents = (clicks: readonly Click[]): SoundEvent[] =>
  clicks.map(({ atMs, downbeat, isFiner }) => {
    const tone = downbeat ? 'downbeat' : isFiner ? 'finer' : 'beat'
    return { voice: CLICK_VOICE.id, atMs, lengthMs: CLICKS.lengthMs, pitch: CLICK_KEYS[tone], velocity: CLICKS[tone] }
  })

/**
 * The pedal as the score marks it; a change goes up on the new harmony and down again right after it (common practice).
 */
function handPedals(arrangement: Arrangement, passage: Passage, bpm?: number): Omit<PedalEvent, 'voice'>[] {
  const CHANGE_MS = 90
  return dueMarks(arrangement, passage, arrangement.pedals, bpm).flatMap(({ kind, atMs }) =>
    kind === 'change'
      ? [
          { atMs, down: false },
          { atMs: atMs + CHANGE_MS, down: true },
        ]
      : [{ atMs, down: kind === 'down' }],
  )
}

/** The tempos of a passage: that of its beginning, and each marked change in proportion. */
function temposOf(arrangement: Arrangement, passage: Passage, bpm?: number): TempoEvent[] {
  const clock = passageClock(arrangement, passage, bpm)
  const found: TempoEvent[] = passage.stretches.flatMap(({ from }, index) => [
    { atMs: clock.msAt(index, from), quarterBpm: 60_000 / clock.quarterMsAt(from) },
  ])
  found.push(
    ...dueMarks(arrangement, passage, arrangement.tempos, bpm).map(({ atMs, onset }) => ({
      atMs,
      quarterBpm: 60_000 / clock.quarterMsAt(onset),
    })),
  )
  return found
    .sort((a, b) => a.atMs - b.atMs)
    .filter((tempo, index, all) => index === 0 || tempo.quarterBpm !== all[index - 1]!.quarterBpm)
}
