import { Note } from 'tonal'
import { voiceChords, type VoicingRoom } from '../hands/voicing'
import { barAt, type Arrangement, type Bar } from '../music/arrangement'
import { beatBpm, type Meter } from '../music/meter'
import { passageClock, swungMs, type Passage } from '../music/passage'
import type { MidiPitch } from '../music/pitch'
import { add, compare, earlier, equal, later, ZERO, type Quarters } from '../music/quarters'
import { playable } from '../music/loudness'
import { harmonyOf, type Harmony } from '../music/song-harmony'
import { askedRatio, swingAt } from '../music/swing'
import { inTime, oneKeyAtATime, type RenderedScore, type SoundEvent, type Voice } from '../sound/performance'
import { halfStepsAbove } from './chord-tones'
import { DRUM_KEYS, type Drum, type Pattern, type PatternNote } from './pattern'
import { cycleFor, STYLE_BOOKS, type BassTone, type Style } from './styles'
import { harmonyIndexAt, place, withChanges, type Placed } from './placed'

/** Drums by how loud they are hit, MIDI velocities: own choice. */
const DRUM_LOUDNESS: Readonly<Record<Drum, number>> = {
  kick: 90,
  stick: 74,
  snare: 88,
  closedHat: 60,
  lowTom: 86,
  pedalHat: 54,
  openHat: 64,
  midTom: 86,
  crash: 88,
  highTom: 86,
  ride: 66,
  shaker: 50,
}
const LOUDNESS = { bass: 84, chords: 62, accent: 12 } as const
const DRUM_MS = 100
/**
 * Roots of the bass lie from F below the bass staff's lowest ledger line upward, what stands above them no higher than
 * the C below middle C.
 */
const [LOWEST_ROOT, HIGHEST_BASS] = [29, 48]
/**
 * Between these a chord sounds clear under a melody: E below middle C to the D above the treble staff's middle line
 * (common practice).
 */
const CHORD_ROOM: VoicingRoom = { lowest: 52, highest: 74, centre: 61, mostNotes: 4 }
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
 * A rhythm section beside a passage: drums, a bass and chords in a style, made from the song's harmony (its chord
 * symbols where it has some), bar by bar in playing order, with swing where the score swings. A pickup is left to the
 * player. Before the first chord only the drums play.
 */
export function performSection({
  arrangement,
  passage,
  style,
  bpm,
  lastBars = new Set(),
}: SectionRequest): RenderedScore {
  const clock = passageClock(arrangement, passage, bpm)
  const { bassProgram, chordsProgram, loudness } = STYLE_BOOKS[style]
  const harmonies = harmonyOf(arrangement)
  const events: SoundEvent[] = []
  const bass = new BassLine(harmonies)
  const voicings = voiceChords(
    harmonies.map(({ notes }) => ({ notes })),
    CHORD_ROOM,
  )
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
      const msAt = (at: Quarters, isBetween: boolean) =>
        clock.msAt(index, at) + (isBetween ? laterMs(arrangement, bar, at, quarterMs) : 0)
      const sounds = (note: Placed) => compare(note.at, from) >= 0 && compare(note.at, to) < 0
      const sound = (
        voice: string,
        { at, end, isBetween }: Placed,
        pitch: number,
        velocity: number,
        lengthMs?: number,
      ) => {
        const atMs = msAt(at, isBetween)
        events.push({
          voice,
          atMs,
          lengthMs: lengthMs ?? Math.max(1, msAt(earlier(end, to), false) - atMs),
          pitch,
          velocity: playable(velocity + loudness),
          onset: at,
        })
      }
      for (const placed of place(isLast ? withFill(own.drums) : own.drums, bar).filter(sounds)) {
        const drum = placed.note.tone as Drum
        sound(
          'drums',
          placed,
          DRUM_KEYS[drum],
          DRUM_LOUDNESS[drum] + LOUDNESS.accent * (placed.note.accent ?? 0),
          DRUM_MS,
        )
      }
      if (isAfterFill && equal(from, bar.start))
        sound(
          'drums',
          { at: from, end: to, isBetween: false, note: { step: 0, length: 1, tone: 'crash' } },
          DRUM_KEYS.crash,
          DRUM_LOUDNESS.crash,
          DRUM_MS,
        )
      isAfterFill = isLast
      for (const placed of withChanges(place(own.bass, bar), harmonies, from, to, 'bass').filter(sounds)) {
        const pitch = bass.pitch(placed)
        if (pitch !== undefined)
          sound('bass', placed, pitch, LOUDNESS.bass + LOUDNESS.accent * (placed.note.accent ?? 0))
      }
      for (const placed of withChanges(place(own.chords, bar), harmonies, from, to, 'chord').filter(sounds)) {
        for (const pitch of voicings[harmonyIndexAt(harmonies, placed.at)] ?? [])
          sound('chords', placed, pitch, LOUDNESS.chords + LOUDNESS.accent * (placed.note.accent ?? 0))
      }
    }
  })
  const voices: Voice[] = [
    { id: 'drums', name: 'Drums', instrument: { kind: 'drums' } },
    { id: 'bass', name: 'Bass', instrument: { kind: 'program', program: bassProgram } },
    {
      id: 'chords',
      name: 'Chords',
      instrument: chordsProgram === 0 ? { kind: 'piano' } : { kind: 'program', program: chordsProgram },
    },
  ]
  return { voices, events: oneKeyAtATime(inTime(events)), pedals: [], tempos: [], lengthMs: clock.lengthMs }
}

/** A pattern whose last beat is a run over the drums. */
function withFill(pattern: Pattern<Drum>): Pattern<Drum> {
  const division = pattern.division === 1 ? 2 : pattern.division
  const factor = division / pattern.division
  const first = (pattern.beats - 1) * division
  const before = pattern.notes
    .map(note => ({ ...note, step: note.step * factor, length: note.length * factor }))
    .filter(({ step, tone }) => step < first || tone === 'kick')
  const run = Array.from({ length: division }, (_, place): PatternNote<Drum> => ({
    step: first + place,
    length: 1,
    tone: FILL[Math.round((place * (FILL.length - 1)) / Math.max(1, division - 1))]!,
  }))
  return { ...pattern, division, notes: [...before, ...run].sort((a, b) => a.step - b.step) }
}

/** How much later than written, ms, an offbeat of a pattern sounds. */
function laterMs(arrangement: Arrangement, bar: Bar, at: Quarters, quarterMs: number): number {
  const swung = swungMs(arrangement, bar, at, quarterMs)
  const swing = swingAt(arrangement.swings ?? [], at)
  // The third of a triplet is a swung eighth as it is taught: it lies where the score's own swung eighths do.
  if (swung !== 0 || !swing || swing.unit !== 'eighth') return swung
  const ratio = askedRatio(swing, 60_000 / quarterMs)
  return (ratio / (1 + ratio) - 2 / 3) * quarterMs
}

/** The bass: tones of the chord over a root that lies near the one before. */
class BassLine {
  private root: MidiPitch | undefined
  private symbol = ''
  constructor(private readonly harmonies: readonly Harmony[]) {}

  pitch({ at, note }: Placed<BassTone>): MidiPitch | undefined {
    const index = harmonyIndexAt(this.harmonies, at)
    const harmony = this.harmonies[index]
    if (!harmony) return undefined
    if (harmony.symbol !== this.symbol || this.root === undefined)
      this.root = nearRoot(Note.chroma(harmony.bass)!, this.root)
    this.symbol = harmony.symbol
    const { tone } = note
    if (tone === 'approach') {
      const next = this.harmonies[index + 1]
      // Where the chord stays, its fifth below is as good a way back to it.
      return next && next.symbol !== harmony.symbol
        ? nearRoot(Note.chroma(next.bass)!, this.root) - 1
        : within(this.root + 7)
    }
    return within(this.root + halfStepsAbove(tone, harmony)) + 12 * (note.octave ?? 0)
  }
}

/** The octave of a root that is nearest to the one before; at first the lowest. */
function nearRoot(chroma: number, before: MidiPitch | undefined): MidiPitch {
  const lowest = LOWEST_ROOT + ((chroma - (LOWEST_ROOT % 12) + 12) % 12)
  return before !== undefined &&
    Math.abs(lowest + 12 - before) < Math.abs(lowest - before) &&
    lowest + 12 <= HIGHEST_BASS - 7
    ? lowest + 12
    : lowest
}

const within = (pitch: MidiPitch): MidiPitch => (pitch > HIGHEST_BASS ? pitch - 12 : pitch)
