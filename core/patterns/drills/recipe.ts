import type { Meter } from '../../music/meter'
import type { Quarters } from '../../music/quarters'
import type { HandPattern } from '../hand-pattern'

/** Scales by their names, as tonal has them; `chromatic` is in no key. */
export const SCALE_NAMES = ['major', 'natural minor', 'harmonic minor', 'melodic minor', 'chromatic'] as const
export type ScaleName = (typeof SCALE_NAMES)[number]
/**
 * What is played at each step of a scale: one note; with the third or the sixth above it; its third one after the
 * other.
 */
export const SCALE_STEPS = ['single', 'thirds', 'sixths', 'broken-thirds'] as const
export type ScaleStep = (typeof SCALE_STEPS)[number]

/** A written note of a passage that a drill is made from: quarter notes from the passage's beginning. */
export interface PassageNote {
  readonly onset: Quarters
  readonly duration: Quarters
  readonly pitch: number
  readonly spelled: string
}

/**
 * What is practised. Lines go through both hands as `hands` says; chords have a pattern for each hand; a passage has
 * its own notes.
 */
export type Material =
  | { readonly kind: 'scale'; readonly scale: ScaleName; readonly octaves: 1 | 2 | 3 | 4; readonly in?: ScaleStep }
  | { readonly kind: 'five-finger'; readonly mode: 'major' | 'minor' }
  | { readonly kind: 'arpeggio'; readonly chord: string; readonly octaves: 1 | 2 | 3 | 4 }
  /** A chord in all its inversions, up and back: struck, or broken. */
  | { readonly kind: 'inversions'; readonly chord: string; readonly isBroken?: boolean }
  /** The seventh chords on the steps of the major scale, struck or broken. */
  | { readonly kind: 'sevenths'; readonly isBroken?: boolean }
  /** Polyrhythm: notes of one hand against notes of the other, in each beat or over two. */
  | { readonly kind: 'against'; readonly right: number; readonly left: number; readonly beats: 1 | 2 }
  /** Chords by degrees of the key, a bar each: `IVmaj7`, `ii7`. */
  | { readonly kind: 'progression'; readonly degrees: readonly string[] }
  /** A chord chart as text, in its own key or moved. */
  | { readonly kind: 'chart'; readonly text: string }
  /** Chords of a song, with its signature: each from where to where, quarter notes from the beginning. */
  | {
      readonly kind: 'chords'
      readonly fifths: number
      readonly chords: readonly { readonly symbol: string; readonly onset: Quarters; readonly end: Quarters }[]
      readonly length: Quarters
    }
  | {
      readonly kind: 'passage'
      readonly fifths: number
      readonly length: Quarters
      readonly right: readonly PassageNote[]
      readonly left: readonly PassageNote[]
    }

/**
 * How the hands share a line: one alone; both the same way; away from each other or towards each other, and back; one
 * after the other.
 */
export const LINE_HANDS = ['right', 'left', 'parallel', 'contrary', 'inward', 'staggered'] as const
export type LineHands = (typeof LINE_HANDS)[number]

export const KEY_ORDERS = ['one', 'fifths', 'chromatic', 'random', 'list'] as const
/**
 * Which keys it goes through: one; all twelve by fifths upward, by half steps, or by chance without one twice; or those
 * that are listed. Keys are major tonics, or minor ones where the material is minor.
 */
export interface DrillKeys {
  readonly order: (typeof KEY_ORDERS)[number]
  readonly from?: string
  readonly list?: readonly string[]
  readonly seed?: number
}

/**
 * What is made of a run of notes: as it is; dotted; in groups with a rest behind each; an accent on every so-manieth;
 * what lies in one beat struck together.
 */
export const RHYTHMS = [
  'as-it-is',
  'long-short',
  'short-long',
  'groups-2',
  'groups-3',
  'groups-4',
  'accents-3',
  'accents-4',
  'blocks',
] as const
export type DrillRhythm = (typeof RHYTHMS)[number]

/** From what a drill is made: plain data that always makes the same drill. */
export interface DrillRecipe {
  readonly title: string
  readonly material: Material
  readonly hands?: LineHands
  /** Chords: what each hand plays, by the name of a pattern that ships or as one of the player's own. */
  readonly patterns?: { readonly right?: string | HandPattern; readonly left?: string | HandPattern }
  readonly keys: DrillKeys
  readonly meter: Meter
  /** Notes to a felt beat. */
  readonly division?: 1 | 2 | 3 | 4
  readonly rhythm?: DrillRhythm
  /** Long to short of two eighths; 1 or none is straight. */
  readonly swing?: number
  /** The tempo it is to reach, quarter notes a minute. */
  readonly bpm: number
  /** Each key once more, twice as fast. */
  readonly doubleTime?: boolean
}

/** A recipe cannot be followed; the message says what of it and why. */
export class NoDrill extends RangeError {
  override readonly name = 'NoDrill'
}
