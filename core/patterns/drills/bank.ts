import type { DrillRecipe } from './recipe'

/** A ready drill; core/words has its purpose under its name. */
export interface ReadyDrill {
  readonly name: string
  readonly recipe: Omit<DrillRecipe, 'title'>
}

const FOUR = { beats: 4, beatType: 4 }
const THREE = { beats: 3, beatType: 4 }
const ALL_BY_FIFTHS = { order: 'fifths' } as const

/** The drills that ship, from easy to hard within each kind; common practice. */
export const READY_DRILLS: readonly ReadyDrill[] = [
  {
    name: 'five-fingers',
    recipe: {
      material: { kind: 'five-finger', mode: 'major' },
      hands: 'parallel',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'five-fingers-contrary',
    recipe: {
      material: { kind: 'five-finger', mode: 'major' },
      hands: 'contrary',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'scale-one',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 1 },
      hands: 'right',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'scale-one-left',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 1 },
      hands: 'left',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'scale-two',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 2 },
      hands: 'parallel',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 90,
    },
  },
  {
    name: 'scale-contrary',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 1 },
      hands: 'contrary',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'scale-inward',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 1 },
      hands: 'inward',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'scale-minor',
    recipe: {
      material: { kind: 'scale', scale: 'harmonic minor', octaves: 2 },
      hands: 'parallel',
      keys: { order: 'fifths', from: 'A' },
      meter: FOUR,
      division: 2,
      bpm: 84,
    },
  },
  {
    name: 'scale-four',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 4 },
      hands: 'parallel',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 4,
      bpm: 80,
    },
  },
  {
    name: 'scale-dotted',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 2 },
      hands: 'right',
      rhythm: 'long-short',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'scale-thirds',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 1, in: 'thirds' },
      hands: 'right',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 1,
      bpm: 72,
    },
  },
  {
    name: 'broken-thirds',
    recipe: {
      material: { kind: 'scale', scale: 'major', octaves: 1, in: 'broken-thirds' },
      hands: 'right',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 76,
    },
  },
  {
    name: 'chromatic',
    recipe: {
      material: { kind: 'scale', scale: 'chromatic', octaves: 2 },
      hands: 'parallel',
      keys: { order: 'one' },
      meter: FOUR,
      division: 4,
      bpm: 60,
    },
  },
  {
    name: 'inversions',
    recipe: {
      material: { kind: 'inversions', chord: '' },
      hands: 'right',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 1,
      bpm: 80,
    },
  },
  {
    name: 'inversions-broken',
    recipe: {
      material: { kind: 'inversions', chord: '', isBroken: true },
      hands: 'parallel',
      keys: ALL_BY_FIFTHS,
      meter: THREE,
      division: 3,
      bpm: 60,
    },
  },
  {
    name: 'arpeggio-two',
    recipe: {
      material: { kind: 'arpeggio', chord: '', octaves: 2 },
      hands: 'right',
      keys: ALL_BY_FIFTHS,
      meter: THREE,
      division: 2,
      bpm: 80,
    },
  },
  {
    name: 'arpeggio-seventh',
    recipe: {
      material: { kind: 'arpeggio', chord: '7', octaves: 2 },
      hands: 'parallel',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 76,
    },
  },
  {
    name: 'sevenths-on-the-scale',
    recipe: { material: { kind: 'sevenths' }, hands: 'right', keys: ALL_BY_FIFTHS, meter: FOUR, division: 1, bpm: 72 },
  },
  {
    name: 'sevenths-by-fifths',
    recipe: {
      material: { kind: 'progression', degrees: ['vi7', 'ii7', 'V7', 'Imaj7'] },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 84,
    },
  },
  {
    name: 'two-five-one',
    recipe: {
      material: { kind: 'progression', degrees: ['ii7', 'V7', 'Imaj7', 'Imaj7'] },
      patterns: { left: 'shell' },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 90,
    },
  },
  {
    name: 'four-chords-broken',
    recipe: {
      material: { kind: 'progression', degrees: ['I', 'vi', 'IV', 'V'] },
      patterns: { left: 'broken' },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 84,
    },
  },
  {
    name: 'arpeggio-under-chords',
    recipe: {
      material: { kind: 'progression', degrees: ['I', 'V', 'vi', 'IV'] },
      patterns: { left: 'arpeggio-up-and-back', right: 'block-held' },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 80,
    },
  },
  {
    name: 'arpeggio-over-chords',
    recipe: {
      material: { kind: 'progression', degrees: ['I', 'V', 'vi', 'IV'] },
      patterns: { left: 'block-held', right: 'broken' },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 80,
    },
  },
  {
    name: 'pulse-over-clave',
    recipe: {
      material: { kind: 'progression', degrees: ['ii7', 'V7', 'Imaj7', 'vi7'] },
      patterns: { left: 'bossa-octave', right: 'block-beats' },
      keys: { order: 'one' },
      meter: FOUR,
      bpm: 72,
    },
  },
  {
    name: 'clave-over-pulse',
    recipe: {
      material: { kind: 'progression', degrees: ['ii7', 'V7', 'Imaj7', 'vi7'] },
      patterns: { left: 'root-beats', right: 'bossa-chord' },
      keys: { order: 'one' },
      meter: FOUR,
      bpm: 72,
    },
  },
  {
    name: 'held-bass',
    recipe: {
      material: { kind: 'progression', degrees: ['I', 'IV', 'V', 'I'] },
      patterns: { left: 'held-root', right: 'block-eighths' },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 80,
    },
  },
  {
    name: 'call-and-answer',
    recipe: {
      material: { kind: 'progression', degrees: ['I', 'IV', 'I', 'V'] },
      patterns: { left: 'call-and-answer', right: 'call' },
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      bpm: 84,
    },
  },
  {
    name: 'one-to-four',
    recipe: {
      material: { kind: 'against', right: 4, left: 1, beats: 1 },
      keys: { order: 'one' },
      meter: FOUR,
      bpm: 60,
    },
  },
  {
    name: 'two-to-one',
    recipe: {
      material: { kind: 'against', right: 1, left: 2, beats: 1 },
      keys: { order: 'one' },
      meter: FOUR,
      bpm: 72,
    },
  },
  {
    name: 'two-against-three',
    recipe: {
      material: { kind: 'against', right: 3, left: 2, beats: 1 },
      keys: { order: 'one' },
      meter: FOUR,
      bpm: 54,
    },
  },
  {
    name: 'three-against-four',
    recipe: {
      material: { kind: 'against', right: 4, left: 3, beats: 2 },
      keys: { order: 'one' },
      meter: FOUR,
      bpm: 60,
    },
  },
  {
    name: 'staggered',
    recipe: {
      material: { kind: 'five-finger', mode: 'major' },
      hands: 'staggered',
      keys: ALL_BY_FIFTHS,
      meter: FOUR,
      division: 2,
      bpm: 72,
    },
  },
]

/** Earlier names of ready drills, for command lines that still use them. */
const RENAMED: Readonly<Record<string, string>> = { 'sevenths-down': 'sevenths-by-fifths' }

/** The ready drill of a name, also of an earlier one; undefined where there is none. */
export const readyDrillNamed = (name: string): ReadyDrill | undefined =>
  READY_DRILLS.find(drill => drill.name === (RENAMED[name] ?? name))
