import type { Arrangement } from '../../music/arrangement'
import type { Guess } from '../../music/guess'
import { rangeOf, type Plays, type Voice, type VoiceChoice } from '../../music/voice'
import { followsItsBeats, onItsOwnBeats } from '../../notate/free-file'
import { notate, type NotationChoices, type Raw, type RawNote } from '../../notate/notate'
import { LIMITS } from '../limits'
import type { Remark } from '../../music/remark'
import { UnusableInput } from '../unusable'
import { inTicks, openMidi } from './midi-file'

export interface MidiChoices extends NotationChoices {
  /** Left out: as found. */
  voices?: VoiceChoice
}

export interface ReadMidi { arrangement: Arrangement, guesses: Guess[], voices: Voice[] }

/** General MIDI: channel 10 (9 from 0) is percussion; programs 0 to 7 are keyboards. */
const PERCUSSION = 9

/**
 * Reads a Standard MIDI File (type 0 or 1) as a song for two hands: rhythm written out, hands by track, channel or reach, pedal kept.
 * Throws UnusableInput.
 */
export function readMidiArrangement(bytes: Uint8Array, title: string, choices: MidiChoices = {}): ReadMidi {
  const midi = openMidi(bytes)
  const { ticksPerBeat, framesPerSecond, ticksPerFrame } = midi.header
  // A file in frames has no beats: a quarter note of half a second is taken, as MIDI's own default is.
  const ticksPerQuarter = ticksPerBeat ?? framesPerSecond! * (ticksPerFrame || 1) / 2
  const warnings: Remark[] = []
  const streams = new Map<string, { track: number, channel: number, notes: RawNote[] }>()
  const names = new Map<number, string>()
  const programs = new Map<number, number>()
  const sounding = new Map<string, RawNote>()
  const raw: Raw = { title, notes: [], roles: [], pedals: [], quarterSeconds: 0.5, toleranceQuarters: 1.01 / ticksPerQuarter, meters: [], tempos: [] }
  let count = 0
  for (const { event, tick, track } of inTicks(midi)) {
    const at = tick / ticksPerQuarter
    if (event.type === 'trackName') {
      if (!names.has(track)) names.set(track, event.text.trim().slice(0, LIMITS.textLength))
    }
    else if (event.type === 'programChange') programs.set(event.channel, event.programNumber)
    else if (event.type === 'setTempo' && event.microsecondsPerBeat > 0) raw.tempos.push({ at, quarterBpm: Math.min(1000, Math.max(5, 60_000_000 / event.microsecondsPerBeat)) })
    else if (event.type === 'timeSignature' && isMeter(event)) raw.meters!.push({ at, meter: { beats: event.numerator, beatType: event.denominator } })
    else if (event.type === 'keySignature' && Math.abs(event.key) <= 7) raw.fifths ??= event.key
    else if (event.type === 'controller' && event.controllerType === 64) {
      const down = event.value >= 64
      if ((raw.pedals.at(-1)?.down ?? false) !== down) raw.pedals.push({ at, down })
    }
    else if (event.type === 'noteOn' || event.type === 'noteOff') {
      if (event.channel === PERCUSSION) {
        if (!warnings.length) warnings.push({ kind: 'drums' })
        continue
      }
      const key = `${track}:${event.channel}:${event.noteNumber}`
      const open = sounding.get(key)
      if (open) {
        open.end = Math.max(open.onset + 1 / ticksPerQuarter, at)
        sounding.delete(key)
      }
      if (event.type === 'noteOn' && event.velocity > 0) {
        if (++count > LIMITS.notes) throw new UnusableInput('MIDI file', `more than ${LIMITS.notes} notes`)
        const note: RawNote = { onset: at, end: at + 1, pitch: event.noteNumber, velocity: event.velocity }
        const stream = streams.get(`${track}:${event.channel}`) ?? { track, channel: event.channel, notes: [] }
        stream.notes.push(note)
        streams.set(`${track}:${event.channel}`, stream)
        sounding.set(key, note)
      }
    }
  }
  if (count === 0) throw new UnusableInput('MIDI file', 'at least one note was expected')
  const last = Math.max(...[...streams.values()].map(({ notes }) => notes.reduce((latest, note) => Math.max(latest, note.end), 0)))
  if (last / 2 > LIMITS.bars) throw new UnusableInput('MIDI file', `its notes lie over more than ${LIMITS.bars} bars`)
  if (raw.tempos.length === 0 || raw.tempos[0]!.at > 0) raw.tempos.unshift({ at: 0, quarterBpm: raw.tempos[0]?.quarterBpm ?? 120 })
  if (raw.meters!.length > 0 && raw.meters![0]!.at > 0) raw.meters!.unshift({ at: 0, meter: { beats: 4, beatType: 4 } })
  raw.quarterSeconds = 60 / raw.tempos[0]!.quarterBpm

  const voices = [...streams.values()].sort((a, b) => a.track - b.track || a.channel - b.channel)
  const guesses: Guess[] = []
  const found = assign(voices.map(({ track, channel, notes }) => ({ name: names.get(track) ?? '', program: programs.get(channel) ?? 0, notes })), guesses)
  const shown = voices.map(({ track, channel, notes }, index): Voice => ({
    number: index + 1, name: names.get(track) || (midi.tracks.length > 1 ? `Track ${track + 1}` : `Channel ${channel + 1}`),
    instrument: `program ${(programs.get(channel) ?? 0) + 1}`, ...rangeOf(notes), plays: choices.voices?.[index + 1] ?? found[index]!,
  }))
  voices.forEach(({ notes }, index) => {
    const { plays, name } = shown[index]!
    if (plays === 'role') raw.roles.push({ name, notes })
    else if (plays !== 'nobody') for (const note of notes) raw.notes.push(plays === 'both' ? note : { ...note, hand: plays })
  })
  if (raw.notes.length === 0) throw new UnusableInput('MIDI file', 'no track is given to a hand')
  // Notes to be shared out between the hands are shared out together with those that have a hand.
  const isFree = !followsItsBeats(raw)
  const heard = isFree ? onItsOwnBeats(raw) : raw
  if (isFree) guesses.push({ about: 'tempo', kind: 'tempo-found', bpm: heard.tempos[0]!.quarterBpm })
  const { arrangement, guesses: more } = notate(heard, choices)
  arrangement.warnings.push(...warnings)
  return { arrangement, guesses: [...guesses, ...more], voices: shown }
}

const isMeter = ({ numerator, denominator }: { numerator: number, denominator: number }): boolean =>
  numerator >= 1 && numerator <= 64 && [1, 2, 4, 8, 16, 32].includes(denominator)

const RIGHT_NAME = /\b(right|r\.?h\.?|rechts|rechte|droite|destra)\b/i
const LEFT_NAME = /\b(left|l\.?h\.?|links|linke|gauche|sinistra)\b/i

/** Who plays what: by name, else the keyboards; one voice is shared out, of two the higher is the right hand. */
function assign(voices: readonly { name: string, program: number, notes: readonly RawNote[] }[], guesses: Guess[]): Plays[] {
  const named = voices.map(({ name }) => RIGHT_NAME.test(name) ? 'right' as const : LEFT_NAME.test(name) ? 'left' as const : undefined)
  const known = named.find(one => one !== undefined)
  if (known && named.length === 2 && named.filter(Boolean).length === 1) return named.map(one => one ?? (known === 'right' ? 'left' : 'right'))
  if (known) return named.map(one => one ?? 'role')
  const keyboards = voices.map(({ program }) => program <= 7)
  const playing = keyboards.some(Boolean) ? keyboards : voices.map(() => true)
  const count = playing.filter(Boolean).length
  if (count === 1) return playing.map(one => one ? 'both' : 'role')
  const mean = voices.map(({ notes }) => notes.reduce((sum, note) => sum + note.pitch, 0) / notes.length)
  if (count === 2) {
    const [first, second] = playing.flatMap((one, index) => one ? [index] : []) as [number, number]
    guesses.push({ about: 'hands', kind: 'two-tracks' })
    return playing.map((one, index) => !one ? 'role' : (index === first) === (mean[first]! >= mean[second]!) ? 'right' : 'left')
  }
  guesses.push({ about: 'hands', kind: 'many-tracks', tracks: count })
  return playing.map(one => one ? 'both' : 'role')
}
