import { bisector } from 'd3-array'
import { Note } from 'tonal'
import { barAt, type Arrangement, type Bar } from '../music/arrangement'
import { beatBpm, beatLength, isCompound, pulses, type Meter } from '../music/meter'
import { passageClock, swungMs, type Passage } from '../music/passage'
import type { MidiPitch } from '../music/pitch'
import { add, compare, earlier, equal, later, multiply, quarters, subtract, ZERO, type Quarters } from '../music/quarters'
import { playable } from '../music/loudness'
import { harmonyOf, type Harmony } from '../music/song-harmony'
import { askedRatio, swingAt } from '../music/swing'
import { inTime, oneKeyAtATime, type Performance, type SoundEvent, type Voice } from '../sound/performance'
import { DRUM_KEYS, type ChordTone, type Drum, type Pattern, type PatternNote } from './pattern'
import { cycleFor, STYLE_BOOKS, type Style } from './styles'
import { chromasOf, nearestVoicing } from './voicing'

/** Drums by how loud they are hit, MIDI velocities: own choice. */
const DRUM_LOUDNESS: Readonly<Record<Drum, number>> = { kick: 90, stick: 74, snare: 88, closedHat: 60, lowTom: 86, pedalHat: 54, openHat: 64, midTom: 86, crash: 88, highTom: 86, ride: 66, shaker: 50 }
const LOUDNESS = { bass: 84, chords: 62, accent: 12 } as const
const DRUM_MS = 100
/** Roots of the bass lie from F below the bass staff's lowest ledger line upward, what stands above them no higher than the C below middle C. */
const [LOWEST_ROOT, HIGHEST_BASS] = [29, 48]
/** From the snare down, on the last beat of a part. */
const FILL: readonly Drum[] = ['snare', 'highTom', 'midTom', 'lowTom']

export interface SectionRequest {
  arrangement: Arrangement
  passage: Passage
  style: Style
  /** Quarter notes a minute at the passage's beginning; without it the score's own tempo. */
  bpm?: number
  /** Bars, by index, in which a part ends: a fill leads over to the next. */
  lastBars?: ReadonlySet<number>
}

/**
 * A rhythm section beside a passage: drums, a bass and chords in a style, made from the song's harmony (its chord symbols where it has some), bar by bar in playing order, with swing where
 * the score swings. A pickup is left to the player. Before the first chord only the drums play.
 */
export function performSection({ arrangement, passage, style, bpm, lastBars = new Set() }: SectionRequest): Performance {
  const clock = passageClock(arrangement, passage, bpm)
  const { bassProgram, chordsProgram, loudness } = STYLE_BOOKS[style]
  const harmonies = harmonyOf(arrangement)
  const events: SoundEvent[] = []
  const bass = new BassLine(harmonies)
  let voicing: MidiPitch[] | undefined
  let voicedSymbol = ''
  let turn = 0
  let lastMeter: Meter | undefined
  let isAfterFill = false
  passage.stretches.forEach((stretch, index) => {
    for (const bar of arrangement.bars.slice(barAt(arrangement, stretch.from).index)) {
      const from = later(bar.start, stretch.from)
      const to = earlier(add(bar.start, bar.length), stretch.to)
      if (compare(from, to) >= 0) break
      // What leads in, at the beginning of the song, is the player's.
      if (bar.index === 0 && !equal(bar.offset, ZERO)) continue
      if (lastMeter?.beats !== bar.meter.beats || lastMeter.beatType !== bar.meter.beatType) turn = 0
      lastMeter = bar.meter
      const quarterMs = clock.quarterMsAt(from)
      const cycle = cycleFor(style, bar.meter, beatBpm(bar.meter, 60_000 / quarterMs))
      const own = cycle[turn++ % cycle.length]!
      const isLast = lastBars.has(bar.index)
      const place = new BarPlace(arrangement, bar, quarterMs)
      const msAt = (at: Quarters, isBetween: boolean) => clock.msAt(index, at) + (isBetween ? place.swungMs(at) : 0)
      const sounds = (note: Placed) => compare(note.at, from) >= 0 && compare(note.at, to) < 0
      const sound = (voice: string, { at, end, isBetween }: Placed, pitch: number, velocity: number, lengthMs?: number) => {
        const atMs = msAt(at, isBetween)
        events.push({ voice, atMs, lengthMs: lengthMs ?? Math.max(1, msAt(earlier(end, to), false) - atMs), pitch, velocity: playable(velocity + loudness), onset: at })
      }
      for (const placed of place.notes(isLast ? withFill(own.drums) : own.drums).filter(sounds)) {
        const drum = placed.note.tone as Drum
        sound('drums', placed, DRUM_KEYS[drum], DRUM_LOUDNESS[drum] + LOUDNESS.accent * (placed.note.accent ?? 0), DRUM_MS)
      }
      if (isAfterFill && equal(from, bar.start)) sound('drums', { at: from, end: to, isBetween: false, note: { step: 0, length: 1, tone: 'crash' } }, DRUM_KEYS.crash, DRUM_LOUDNESS.crash, DRUM_MS)
      isAfterFill = isLast
      for (const placed of withChanges(place.notes(own.bass), harmonies, from, to, 'bass').filter(sounds)) {
        const pitch = bass.pitch(placed)
        if (pitch !== undefined) sound('bass', placed, pitch, LOUDNESS.bass + LOUDNESS.accent * (placed.note.accent ?? 0))
      }
      for (const placed of withChanges(place.notes(own.chords), harmonies, from, to, 'chord').filter(sounds)) {
        const harmony = harmonyAt(harmonies, placed.at)
        if (!harmony) continue
        if (harmony.symbol !== voicedSymbol) voicing = nearestVoicing(chromasOf(harmony.notes), voicing)
        voicedSymbol = harmony.symbol
        for (const pitch of voicing!) sound('chords', placed, pitch, LOUDNESS.chords + LOUDNESS.accent * (placed.note.accent ?? 0))
      }
    }
  })
  const voices: Voice[] = [
    { id: 'drums', name: 'Drums', instrument: { kind: 'drums' } },
    { id: 'bass', name: 'Bass', instrument: { kind: 'program', program: bassProgram } },
    { id: 'chords', name: 'Chords', instrument: chordsProgram === 0 ? { kind: 'piano' } : { kind: 'program', program: chordsProgram } },
  ]
  return { voices, events: oneKeyAtATime(inTime(events)), pedals: [], tempos: [], lengthMs: clock.lengthMs }
}

/** A note of a pattern in a bar: from where to where it is written, and whether it lies between two beats, where swing moves it. */
interface Placed { at: Quarters, end: Quarters, isBetween: boolean, note: PatternNote }

/** A bar of the score as patterns see it. */
class BarPlace {
  private readonly pulses: number[]
  constructor(private readonly arrangement: Arrangement, private readonly bar: Bar, private readonly quarterMs: number) {
    this.pulses = [...pulses(bar.meter), bar.meter.beats]
  }

  notes({ division, notes }: Pattern): Placed[] {
    return notes.map(note => ({ note, at: this.at(note.step, division), end: this.at(note.step + note.length, division), isBetween: note.step % division !== 0 && this.isMoved(note.step % division, division) }))
  }

  /** How much later than written an offbeat sounds. */
  swungMs(at: Quarters): number {
    const swung = swungMs(this.arrangement, this.bar, at, this.quarterMs)
    const swing = swingAt(this.arrangement.swings ?? [], at)
    // The third of a triplet is a swung eighth as it is taught: it lies where the score's own swung eighths do.
    if (swung !== 0 || !swing || swing.unit !== 'eighth') return swung
    const ratio = askedRatio(swing, 60_000 / this.quarterMs)
    return (ratio / (1 + ratio) - 2 / 3) * this.quarterMs
  }

  /** Only the middle of a beat, and the last of three, are moved by swing; beats of three are not swung. */
  private isMoved(step: number, division: number): boolean {
    return !isCompound(this.bar.meter) && (division === 3 ? step === 2 : step * 2 === division)
  }

  private at(step: number, division: number): Quarters {
    const beat = Math.min(Math.floor(step / division), this.pulses.length - 2)
    const [begin, end] = [this.pulses[beat]!, this.pulses[beat + 1]!]
    const within = multiply(quarters(step - beat * division, division), quarters(end - begin))
    return add(subtract(this.bar.start, this.bar.offset), multiply(add(quarters(begin), within), beatLength(this.bar.meter)))
  }
}

/** A pattern whose last beat is a run over the drums. */
function withFill(pattern: Pattern<Drum>): Pattern<Drum> {
  const division = pattern.division === 1 ? 2 : pattern.division
  const factor = division / pattern.division
  const first = (pattern.beats - 1) * division
  const before = pattern.notes.map(note => ({ ...note, step: note.step * factor, length: note.length * factor })).filter(({ step, tone }) => step < first || tone === 'kick')
  const run = Array.from({ length: division }, (_, place): PatternNote<Drum> => ({ step: first + place, length: 1, tone: FILL[Math.round(place * (FILL.length - 1) / Math.max(1, division - 1))]! }))
  return { ...pattern, division, notes: [...before, ...run].sort((a, b) => a.step - b.step) }
}

/** The notes of a bar with the harmony's own changes: where a chord begins and nothing is struck, it is struck; nothing sounds on over a change. */
function withChanges(notes: readonly Placed[], harmonies: readonly Harmony[], from: Quarters, to: Quarters, tone: ChordTone): Placed[] {
  const changes = harmonies.slice(harmonyBy.left(harmonies, from)).filter(({ onset }) => compare(onset, to) < 0).map(({ onset }) => onset)
  const struck = changes.filter(change => !notes.some(({ at }) => equal(at, change)) && notes.some(({ at, end }) => compare(at, change) < 0 && compare(end, change) > 0))
  const added = struck.map((at): Placed => {
    const held = notes.findLast(note => compare(note.at, at) < 0)!
    return { at, end: held.end, isBetween: held.isBetween, note: { step: 0, length: 1, tone } }
  })
  return [...notes, ...added].sort((a, b) => compare(a.at, b.at)).map(note => ({ ...note, end: changes.filter(change => compare(change, note.at) > 0).reduce(earlier, note.end) }))
}

const harmonyBy = bisector((harmony: Harmony, at: Quarters) => compare(harmony.onset, at))
const harmonyAt = (harmonies: readonly Harmony[], at: Quarters): Harmony | undefined => harmonies[harmonyBy.right(harmonies, at) - 1]

/** The bass: tones of the chord over a root that lies near the one before. */
class BassLine {
  private root: MidiPitch | undefined
  private symbol = ''
  constructor(private readonly harmonies: readonly Harmony[]) {}

  pitch({ at, note }: Placed): MidiPitch | undefined {
    const harmony = harmonyAt(this.harmonies, at)
    if (!harmony) return undefined
    const chroma = Note.chroma(harmony.bass)!
    if (harmony.symbol !== this.symbol || this.root === undefined) this.root = nearRoot(chroma, this.root)
    this.symbol = harmony.symbol
    const tone = note.tone as ChordTone
    if (tone === 'approach') {
      const next = this.harmonies[harmonyBy.right(this.harmonies, at)]
      // Where the chord stays, its fifth below is as good a way back to it.
      return next && next.symbol !== harmony.symbol ? nearRoot(Note.chroma(next.bass)!, this.root) - 1 : within(this.root + 7)
    }
    if (tone === 'octave') return within(this.root + 12)
    if (tone === 'bass' || tone === 'root' || tone === 'chord') return this.root
    const member = memberOf(harmony, tone)
    return member === undefined ? this.root : within(this.root + (member - chroma + 12) % 12) + 12 * (note.octave ?? 0)
  }
}

/** The octave of a root that is nearest to the one before; at first the lowest. */
function nearRoot(chroma: number, before: MidiPitch | undefined): MidiPitch {
  const lowest = LOWEST_ROOT + (chroma - LOWEST_ROOT % 12 + 12) % 12
  return before !== undefined && Math.abs(lowest + 12 - before) < Math.abs(lowest - before) && lowest + 12 <= HIGHEST_BASS - 7 ? lowest + 12 : lowest
}

const within = (pitch: MidiPitch): MidiPitch => pitch > HIGHEST_BASS ? pitch - 12 : pitch

/** The pitch class of a chord's member; undefined where it has none. */
function memberOf({ notes }: Harmony, tone: 'third' | 'fifth' | 'seventh' | 'color' | ChordTone): number | undefined {
  const [root, second, third, fourth, fifth] = notes.map(name => Note.chroma(name)!)
  if (tone === 'third') return second
  if (tone === 'fifth') return third ?? second
  if (tone === 'seventh') return fourth ?? root
  return fifth ?? fourth ?? third
}
