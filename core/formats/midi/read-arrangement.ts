import { beyondHands, splitBetweenHands, rolesOf } from '../../hands/deal-out'
import { proposeAssignments, type Proposal } from '../../hands/who-plays'
import { voiceOfTrack, type Arrangement, type Track } from '../../music/arrangement'
import type { Guess } from '../../music/guess'
import type { VoiceAssignment, VoiceChoice, VoiceNotes } from '../../music/voice'
import { barLength, type Meter } from '../../music/meter'
import { toDecimal } from '../../music/quarters'
import { clockOf, followsItsBeats, onItsOwnBeats, onTappedBeats, type Heard } from '../../notate/free-file'
import { isExact } from '../../notate/quantise'
import { notate, type NotationChoices, type Raw, type RawNote } from '../../notate/notate'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'
import { inTicks, openMidi } from './midi-file'

export interface MidiChoices extends NotationChoices {
  /** Left out: as found. */
  voices?: VoiceChoice
  /** The beats to write on; left out, the file's own where its notes follow them. */
  beats?: Beats
  /** Beats that the player tapped, ms from the beginning, and how many quarter notes each is. */
  tapsMs?: number[]
  tapQuarters?: number
  /** Moments at which a bar begins, ms from the beginning. */
  barLinesMs?: number[]
}

/** The beats that a recording is written on. */
export const BEATS = ['file', 'heard', 'taps'] as const
/** So many beats can be tapped; what follows goes on at their tempo. */
export const MAX_TAPS = 1_200
export type Beats = (typeof BEATS)[number]

/**
 * What was played, not exactly on note values: as it sounds, ms from the beginning, and when the moments of the song
 * were played, in its quarter notes (none on the file's own beats).
 */
export interface PlayedRecording {
  beats: Beats
  notes: { onsetMs: number; durationMs: number; pitch: number; velocity: number }[]
  clock: { quarter: number; ms: number }[]
}

export interface ReadMidi {
  arrangement: Arrangement
  guesses: Guess[]
  voices: VoiceNotes[]
  played?: PlayedRecording
}

/** General MIDI: channel 10 (9 from 0) is percussion. */
const PERCUSSION = 9

/**
 * Reads a Standard MIDI File (type 0 or 1) as a song for two hands: rhythm written out, hands by track, channel or
 * reach, pedal kept. Throws UnusableInput.
 */
export function readMidiArrangement(bytes: Uint8Array, title: string, choices: MidiChoices = {}): ReadMidi {
  const midi = openMidi(bytes)
  const { ticksPerBeat, framesPerSecond, ticksPerFrame } = midi.header
  // A file in frames has no beats: a quarter note of half a second is taken, as MIDI's own default is.
  const ticksPerQuarter = ticksPerBeat ?? (framesPerSecond! * (ticksPerFrame || 1)) / 2
  const streams = new Map<string, { track: number; channel: number; notes: RawNote[] }>()
  const names = new Map<number, string>()
  const programs = new Map<number, number>()
  const sounding = new Map<string, RawNote>()
  const raw: Raw = {
    title,
    notes: [],
    roles: [],
    pedals: [],
    quarterSeconds: 0.5,
    toleranceQuarters: 1.01 / ticksPerQuarter,
    meters: [],
    keys: [],
    tempos: [],
  }
  let count = 0
  let [moment, atOnce] = [-1, 0]
  for (const { event, tick, track } of inTicks(midi)) {
    const at = tick / ticksPerQuarter
    if (event.type === 'trackName') {
      if (!names.has(track)) names.set(track, event.text.trim().slice(0, LIMITS.textLength))
    } else if (event.type === 'programChange') programs.set(event.channel, event.programNumber)
    else if (event.type === 'setTempo' && event.microsecondsPerBeat > 0)
      raw.tempos.push({ at, quarterBpm: Math.min(1000, Math.max(5, 60_000_000 / event.microsecondsPerBeat)) })
    else if (event.type === 'timeSignature' && isMeter(event))
      raw.meters!.push({ at, meter: { beats: event.numerator, beatType: event.denominator } })
    else if (event.type === 'keySignature' && Math.abs(event.key) <= 7) raw.keys!.push({ at, fifths: event.key })
    else if (event.type === 'controller' && event.controllerType === 64) {
      const down = event.value >= 64
      if ((raw.pedals.at(-1)?.down ?? false) !== down) raw.pedals.push({ at, down })
    } else if (event.type === 'noteOn' || event.type === 'noteOff') {
      const key = `${track}:${event.channel}:${event.noteNumber}`
      const open = sounding.get(key)
      if (open) {
        open.end = Math.max(open.onset + 1 / ticksPerQuarter, at)
        sounding.delete(key)
      }
      if (event.type === 'noteOn' && event.velocity > 0) {
        if (++count > LIMITS.notes) throw new UnusableInput('MIDI file', `more than ${LIMITS.notes} notes`)
        ;[moment, atOnce] = tick === moment ? [moment, atOnce + 1] : [tick, 1]
        if (atOnce > LIMITS.atOnce)
          throw new UnusableInput('MIDI file', `more than ${LIMITS.atOnce} notes begin at one moment`)
        const note: RawNote = { onset: at, end: at + 1, pitch: event.noteNumber, velocity: event.velocity }
        const stream = streams.get(`${track}:${event.channel}`) ?? { track, channel: event.channel, notes: [] }
        stream.notes.push(note)
        streams.set(`${track}:${event.channel}`, stream)
        sounding.set(key, note)
      }
    }
  }
  if (count === 0) throw new UnusableInput('MIDI file', 'at least one note was expected')
  if (streams.size > LIMITS.tracks)
    throw new UnusableInput(
      'MIDI file',
      `its notes are on ${streams.size} tracks and channels; at most ${LIMITS.tracks} are read`,
    )
  const marks = Math.max(raw.tempos.length, raw.meters!.length, raw.keys!.length, raw.pedals.length)
  if (marks > LIMITS.marks)
    throw new UnusableInput('MIDI file', `more than ${LIMITS.marks} changes of tempo, meter, key or pedal`)
  refuseTooLong(
    raw,
    [...streams.values()].flatMap(stream => stream.notes),
    choices.meter,
  )
  if (raw.tempos.length === 0 || raw.tempos[0]!.at > 0)
    raw.tempos.unshift({ at: 0, quarterBpm: raw.tempos[0]?.quarterBpm ?? 120 })
  if (raw.meters!.length > 0 && raw.meters![0]!.at > 0) raw.meters!.unshift({ at: 0, meter: { beats: 4, beatType: 4 } })
  raw.quarterSeconds = 60 / raw.tempos[0]!.quarterBpm

  const voices = [...streams.values()].sort((a, b) => a.track - b.track || a.channel - b.channel)
  const found = voices.map(({ track, channel }, index): Omit<Track, 'plays'> => ({
    number: index + 1,
    name: names.get(track) || (midi.tracks.length > 1 ? `Track ${track + 1}` : `Channel ${channel + 1}`),
    program: programs.get(channel) ?? 0,
    ...(channel === PERCUSSION ? { percussion: true } : {}),
  }))
  if (found.every(track => track.percussion))
    throw new UnusableInput('MIDI file', 'at least one note that is no drum was expected')
  const proposal = proposeAssignments(
    voices.map(({ track, channel, notes }, index) => ({
      name: names.get(track) ?? '',
      program: programs.get(channel),
      percussion: found[index]!.percussion,
      notes,
    })),
  )
  const tracks = found.map((track, index): Track => {
    const plays = choices.voices?.[track.number] ?? proposal.plays[index]!
    return { ...track, plays: track.percussion && plays !== 'nobody' ? 'role' : plays }
  })
  const given = voices.map(({ notes }, index) => ({
    plays: tracks[index]!.plays,
    notes: notes.map((note): RawNote => ({ ...note, track: index + 1 })),
  }))
  const { hands, left } = splitBetweenHands(given)
  raw.notes = hands.map(({ note, hand }) => ({ ...note, hand }))
  if (raw.notes.length === 0) throw new UnusableInput('MIDI file', 'no track is given to a hand')
  raw.roles = rolesOf(tracks, left)
  const guesses = choices.voices === undefined ? guessesOf(proposal, tracks) : []
  const leftOut = beyondHands(tracks, left)

  const { heard, beats } = onBeats(raw, choices)
  refuseTooLong(heard.raw, [...heard.raw.notes, ...heard.raw.roles.flatMap(role => role.notes)], choices.meter)
  if (beats !== 'file')
    guesses.push({
      about: 'tempo',
      kind: beats === 'taps' ? 'tempo-tapped' : 'tempo-found',
      bpm: heard.raw.tempos[0]!.quarterBpm,
    })
  const { arrangement, guesses: more, shift } = notate(heard.raw, choices)
  if (tracks.length > 1) arrangement.tracks = tracks
  if (leftOut > 0) arrangement.warnings.push({ kind: 'beyond-hand', notes: leftOut })
  const played = isExactFile(raw)
    ? undefined
    : {
        beats,
        notes: asPlayed(raw),
        clock: heard.clock.map(({ quarter, ms }) => ({ quarter: quarter - toDecimal(shift), ms })),
      }
  return {
    arrangement,
    guesses: [...guesses, ...more],
    ...(played ? { played } : {}),
    voices: tracks.map((track, index) =>
      voiceOfTrack(
        track,
        given[index]!.notes.map(({ onset, end, pitch }) => ({ onset, length: end - onset, pitch })),
      ),
    ),
  }
}

/** A bar whose meter is found has at least two quarter notes. */
const SHORTEST_FOUND: Meter = { beats: 2, beatType: 4 }

/** Bars are counted before any is made, in the file's meters or the player's. */
function refuseTooLong({ meters = [] }: Pick<Raw, 'meters'>, notes: readonly RawNote[], asked?: Meter) {
  const last = notes.reduce((latest, note) => Math.max(latest, note.end), 0)
  const given = asked ? [{ at: 0, meter: asked }] : meters.length > 0 ? meters : [{ at: 0, meter: SHORTEST_FOUND }]
  const bars = given.reduce(
    (sum, { at, meter }, index) =>
      sum +
      Math.max(
        0,
        Math.ceil(
          (Math.min(last, given[index + 1]?.at ?? last) - (index === 0 ? 0 : at)) / toDecimal(barLength(meter)),
        ),
      ),
    0,
  )
  if (!(bars <= LIMITS.bars)) throw new UnusableInput('MIDI file', `its notes lie over more than ${LIMITS.bars} bars`)
}

/** The notes on beats: the file's own, those that are heard in it, or those that the player tapped. */
function onBeats(
  raw: Raw,
  { beats, meter, barLinesMs, tapsMs = [], tapQuarters = 1 }: MidiChoices,
): { heard: Heard; beats: Beats } {
  const tapped = beats === 'taps' ? onTappedBeats(raw, tapsMs, tapQuarters) : undefined
  if (tapped) return { heard: tapped, beats: 'taps' }
  if (beats === 'heard' || (beats !== 'file' && !followsItsBeats(raw)))
    return { heard: onItsOwnBeats(raw, { meter, barLinesMs }), beats: 'heard' }
  return { heard: { raw, clock: [] }, beats: 'file' }
}

const isExactFile = ({ notes, roles, toleranceQuarters }: Raw): boolean =>
  isExact(
    [...notes, ...roles.flatMap(role => role.notes)].map(note => note.onset),
    toleranceQuarters,
  )

/** The pitched notes as they sound, ms from the beginning. */
function asPlayed(raw: Raw): PlayedRecording['notes'] {
  const toMs = clockOf(raw)
  return [...raw.notes, ...raw.roles.filter(role => !role.percussion).flatMap(role => role.notes)]
    .map(({ onset, end, pitch, velocity }) => ({
      onsetMs: toMs(onset),
      durationMs: toMs(end) - toMs(onset),
      pitch,
      velocity,
    }))
    .sort((a, b) => a.onsetMs - b.onsetMs)
}

/** Where somebody other than the hands has to be told from them. */
function guessesOf({ kind, plays }: Proposal, tracks: readonly Track[]): Guess[] {
  const called = (who: VoiceAssignment) => tracks.filter((_, index) => plays[index] === who).map(track => track.name)
  if (kind === 'one' || kind === 'named') return []
  return [
    { about: 'hands', kind: `${kind}-of-tracks`, right: called('right'), left: called('left'), both: called('both') },
  ]
}

const isMeter = ({ numerator, denominator }: { numerator: number; denominator: number }): boolean =>
  numerator >= 1 && numerator <= 64 && [1, 2, 4, 8, 16, 32].includes(denominator)
