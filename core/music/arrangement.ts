import { bisector } from 'd3-array'
import { feltBeatQuarters, type Meter } from './meter'
import type { MidiPitch } from './pitch'
import { rangeOf, type VoiceAssignment, type Strike, type VoiceNotes } from './voice'
import { add, compare, ratio, subtract, toDecimal, ZERO, type Quarters } from './quarters'
import type { Remark } from './remark'

export type Hand = 'right' | 'left'
export type Hands = Hand | 'both'

/** Each hand by itself. */
export const EACH_HAND = ['right', 'left'] as const

/** Each way of playing: either hand alone, and both. */
export const HANDS = [...EACH_HAND, 'both'] as const

/** The hands that play, each by itself. */
export const handsIn = (hands: Hands): Hand[] => (hands === 'both' ? [...EACH_HAND] : [hands])

/** A position as the player reads it: the printed bar number and the beat, 1-based, in the meter's denominator. */
export interface Position {
  readonly bar: number
  readonly beat: number
}

/**
 * One written bar. `index` counts from 0; `number` is what is printed (a pickup is 0; the halves of a split bar share
 * one).
 */
export interface Bar {
  index: number
  number: number
  start: Quarters
  length: Quarters
  /** Where the bar begins within a whole bar of its meter: after the missing beats of a pickup. */
  offset: Quarters
  meter: Meter
  /** The key signature: positive sharps, negative flats. */
  fifths: number
  repeatStart?: boolean
  /** A backward repeat at the bar's end: how many times the section is played in all. */
  repeatEnd?: number
  /** The passes of the repeat in which this bar is played (first ending [1], second ending [2]). */
  endings?: number[]
  /** A double or final bar line at the bar's end. */
  sectionEnd?: boolean
  /** Signs at the bar's beginning that a jump goes to. */
  segno?: boolean
  coda?: boolean
  /** Where playing after a jump leaves for the coda, or ends: at the bar's end. */
  toCoda?: boolean
  fine?: boolean
  /** At the bar's end, once: back to the beginning or to the segno. */
  jump?: 'da capo' | 'dal segno'
}

/** One key to press. Tied notes are one note; `tiedIds` are the further noteheads in the engraving. */
export interface Note {
  id: string
  hand: Hand
  barIndex: number
  onset: Quarters
  duration: Quarters
  pitch: MidiPitch
  spelled: string
  voice: string
  tiedIds: string[]
  /** Where the tied noteheads stand, if the file says so: nothing is struck there. */
  tiedAt?: Quarters[]
  finger?: number
  /** Set when the player chose the finger; otherwise it is the file's. */
  fingerBy?: 'player'
  /** A grace note: `before` counts how many grace notes away the main note is (1 = right before it). */
  grace?: { slash: boolean; before: number }
  articulations?: string[]
  /** Trills, turns and mordents, by their MusicXML names: strokes around the note belong to it. */
  ornaments?: string[]
  /** The number of the track it comes from, in songs made from several. */
  track?: number
}

export interface ChordSymbol {
  onset: Quarters
  symbol: string
  name: string
  /** 0 root position, 1 first inversion …; null when the bass is not one of the chord's notes. */
  inversion: number | null
  bass: string
  notes: string[]
}

export interface Lyric {
  noteId: string
  onset: Quarters
  verse: string
  text: string
  hyphen: boolean
}
export interface PedalMark {
  onset: Quarters
  kind: 'down' | 'up' | 'change'
}
export interface DynamicMark {
  onset: Quarters
  mark: string
  hand?: Hand
}
export interface TempoMark {
  onset: Quarters
  quarterBpm: number
}
/**
 * From here on offbeats are swung: `ratio` long to short (1 is straight), undefined where the score only says "swing".
 */
export interface SwingMark {
  onset: Quarters
  unit: 'eighth' | '16th'
  ratio?: number
}
/** A word that changes the tempo on purpose: slower, faster, or back to the tempo before. */
export interface TempoWord {
  onset: Quarters
  kind: 'slower' | 'faster' | 'back'
}
/** A slur from one note to another, by their ids. */
export interface Slur {
  from: string
  to: string
}
export interface Rehearsal {
  onset: Quarters
  name: string
}
/** Notes of somebody other than the two hands: a voice, a duet partner, a band. */
export interface OtherRole {
  name: string
  /** General MIDI program from 0, where known. */
  program?: number
  /** Drums: the pitches are the keys of the General MIDI percussion map. */
  percussion?: true
  /** Played by nobody: kept so that it can be assigned later. */
  silent?: true
  notes: Omit<Note, 'hand'>[]
}

/** A track of the file the song was made from, by its number from 1, and who plays it. */
export interface Track {
  number: number
  name: string
  program: number
  percussion?: true
  plays: VoiceAssignment
}

/**
 * A song as notes for two hands, as written: every bar once, in page order, with `order` giving the
 * bars' indices as they are played, repeats and endings unfolded.
 */
export interface Arrangement {
  format: 'half-step/arrangement'
  version: 1
  title: string
  composer: string
  bars: Bar[]
  order: number[]
  /** Sorted by onset, then grace notes before their main note, then pitch. */
  notes: Note[]
  others: OtherRole[]
  /** The tracks the notes come from: their assignment can be changed later. */
  tracks?: Track[]
  /**
   * The assignment of each part of the score, in order; absent in songs of earlier versions and in those made from
   * tracks.
   */
  partPlays?: VoiceAssignment[]
  chords: ChordSymbol[]
  lyrics: Lyric[]
  pedals: PedalMark[]
  dynamics: DynamicMark[]
  tempos: TempoMark[]
  swings?: SwingMark[]
  tempoWords?: TempoWord[]
  rehearsals: Rehearsal[]
  slurs?: Slur[]
  /** What was in the file and is not used; for songs read by earlier versions as text. */
  warnings: (Remark | string)[]
}

/** The length of the beat felt at a place, ms; at the written tempo where none (quarter notes a minute) is given. */
export const feltBeatMs = (arrangement: Arrangement, at: Quarters, bpm = tempoAt(arrangement, at)): number =>
  (feltBeatQuarters(barAt(arrangement, at).meter) * 60_000) / bpm

/** A track as a voice, to be shown and heard. */
export function voiceOfTrack({ number, name, program, percussion, plays }: Track, strikes: Strike[]): VoiceNotes {
  return {
    number,
    name,
    ...(percussion ? { instrument: 'drums' } : { instrument: `program ${program + 1}`, program }),
    ...rangeOf(strikes),
    plays,
    ...(percussion ? { percussion } : {}),
    strikes,
  }
}

/** Where the last bar ends. */
export function arrangementEnd(arrangement: Arrangement): Quarters {
  const last = arrangement.bars.at(-1)
  return last ? add(last.start, last.length) : ZERO
}

/** The bar at a score time; the end of the piece belongs to the last bar. */
export function barAt({ bars }: Arrangement, onset: Quarters): Bar {
  return bars[Math.max(0, barBy.right(bars, onset) - 1)]!
}

const barBy = bisector((bar: Bar, at: Quarters) => compare(bar.start, at))

/** The bar and beat of a score time. A pickup of one quarter in 4/4 is on beat 4 of bar 0. */
export function positionOf(arrangement: Arrangement, onset: Quarters): Position {
  return positionIn(barAt(arrangement, onset), onset)
}

/** The position of a score time known to be in this bar. */
export function positionIn(bar: Bar, onset: Quarters): Position {
  const intoBar = add(bar.offset, subtract(onset, bar.start))
  return { bar: bar.number, beat: 1 + toDecimal(ratio(intoBar, { n: 4, d: bar.meter.beatType })) }
}

/**
 * The tempo in force at a score time, in quarter notes a minute; 100 where the score marks none (an ordinary walking
 * tempo).
 */
export function tempoAt(arrangement: Arrangement, onset: Quarters): number {
  let bpm = arrangement.tempos[0]?.quarterBpm ?? 100
  for (const tempo of arrangement.tempos) if (compare(tempo.onset, onset) <= 0) bpm = tempo.quarterBpm
  return bpm
}
