import type { Hand } from '../music/arrangement'

/** A place of the score. `time`: which time it comes round, where a repeat brings it again and it is not the first. */
export interface Place {
  hand?: Hand
  bar: number
  beat: number
  time?: number
}

/** What a finding about one or more places says of the first; all of them are in `places`. */
interface AtPlaces extends Place {
  count: number
  places: Place[]
}
/** A stretch of bars by their printed numbers. */
export interface BarStretch {
  fromBar: number
  toBar: number
}

export type HesitationCause =
  'chord change' | 'position shift' | 'crossing' | 'jump' | 'hands joining' | 'new material' | 'next note'

/**
 * The data behind a quantity of the whole pass that was found wrong; amounts in the units of their names. Pitches are
 * spelled as in F#4.
 */
export type Finding =
  | { kind: 'clean'; usualWaitMs?: number }
  | { kind: 'nothing-played'; notes: number; ownTime?: true }
  | { kind: 'not-this-music'; right: number; played: number; notes: number }
  // Notes
  /** `triedBefore`: in the player's own time, the keys that came before the right one. */
  | (AtPlaces & { kind: 'wrong-note'; written: string; instead: string; ofChord?: true; triedBefore?: string[] })
  | (AtPlaces & { kind: 'missed-note'; written: string; grace?: true })
  | (AtPlaces & { kind: 'octave'; written: string; tooHigh: boolean })
  | (AtPlaces & { kind: 'extra-note'; struck: string })
  | (AtPlaces & { kind: 're-struck-tie'; written: string })
  | (AtPlaces & BarStretch & { kind: 'hand-displaced'; halfSteps: number; keys: number; whole: boolean })
  | (AtPlaces & { kind: 'signature-forgotten'; written: string; instead: string; fifths: number })
  | (AtPlaces & { kind: 'habit'; habit: 'same-key'; written: string; instead: string })
  | (AtPlaces & { kind: 'habit'; habit: 'inversion'; written: string[]; instead: string[] })
  | (AtPlaces & { kind: 'habit'; habit: 'late-finger'; finger: number; ms: number })
  | (AtPlaces & { kind: 'habit'; habit: 'late-key'; written: string; ms: number })
  // The route through the score
  | (AtPlaces & { kind: 'restart' })
  | (AtPlaces & { kind: 'skipped'; bars: number[] } & BarStretch)
  | (AtPlaces & { kind: 'stopped' })
  | (BarStretch & { kind: 'repeat-not-taken'; count: number })
  | (BarStretch & { kind: 'repeat-taken-again'; count: number })
  // Time
  | (Place & {
      kind: 'hesitation'
      ms: number
      because: HesitationCause
      isChord: boolean
      written: string
      waited?: true
    })
  | { kind: 'late'; ms: number; maybeKeyboard: boolean }
  | { kind: 'early'; ms: number }
  | { kind: 'rushing' | 'dragging'; percent: number; withClick: boolean }
  /** `outOfTime`: more notes are off than a clean pass may have; otherwise they only waver. */
  | {
      kind: 'uneven'
      ms: number
      onTimeShare: number
      outOfTime: boolean
      place?: Place
      written?: string
      count?: number
    }
  | (Place & {
      kind: 'rhythm'
      division: 'dotted' | 'triplets' | 'long-short' | 'thirds'
      asked: number
      played: number
      count: number
    })
  | (BarStretch & {
      kind: 'section-tempo'
      percent: number
      ratio: number
      stretches: BarStretch[]
      count: number
      meter?: string
      withClick: boolean
    })
  | {
      kind: 'wrong-tempo'
      ratio: number
      percent: number
      because: 'half' | 'double' | 'slower' | 'faster'
      bpm: number
      askedBpm: number
      beatBpm: number
      askedBeatBpm: number
    }
  | (AtPlaces & { kind: 'counting'; counted: number; written: number; beatType: number })
  | (Place & { kind: 'late-entry'; beats: number; bars: number | null; ms: number; atBeginning: boolean })
  // Hands
  | { kind: 'hands-apart'; hand: Hand; ms: number; beats: number }
  /** One hand is drawn off its grid by the other's, as in `own` notes against `other`. */
  | (AtPlaces & { kind: 'hand-pulled'; ms: number; own: number; other: number })
  | (AtPlaces & { kind: 'chord-spread'; ms: number })
  // Touch, swing, dynamics, pedal
  | (AtPlaces & { kind: 'released-early'; percent: number })
  | (AtPlaces & { kind: 'blurred'; ms: number; worstMs: number; written: string })
  | (Place & { kind: 'swing'; ratio: number; asked: number; count: number })
  | { kind: 'balance'; steps: number }
  | (AtPlaces & { kind: 'accent'; written: string; sticksOut: boolean; steps: number })
  | (Place & { kind: 'dynamics'; shape: 'crescendo' | 'diminuendo' })
  | (Place & { kind: 'dynamics'; shape: 'level'; from: string; to: string })
  | (AtPlaces & { kind: 'pedal-late' | 'pedal-early'; ms: number; held: boolean })

export type FindingKind = Finding['kind']

/** What a finding is about. A clean pass has none of the first three. */
export type Domain = 'notes' | 'time' | 'hands' | 'touch' | 'swing' | 'dynamics' | 'pedal' | 'route' | 'none'

const DOMAINS: Record<FindingKind, Domain> = {
  clean: 'none',
  'nothing-played': 'notes',
  'not-this-music': 'notes',
  'wrong-note': 'notes',
  'missed-note': 'notes',
  octave: 'notes',
  'extra-note': 'notes',
  're-struck-tie': 'notes',
  'hand-displaced': 'notes',
  'signature-forgotten': 'notes',
  habit: 'notes',
  restart: 'notes',
  skipped: 'notes',
  stopped: 'notes',
  'repeat-not-taken': 'route',
  'repeat-taken-again': 'route',
  hesitation: 'time',
  late: 'time',
  early: 'time',
  rushing: 'time',
  dragging: 'time',
  uneven: 'time',
  rhythm: 'time',
  'section-tempo': 'time',
  'wrong-tempo': 'time',
  counting: 'time',
  'late-entry': 'time',
  'hands-apart': 'hands',
  'hand-pulled': 'hands',
  'chord-spread': 'touch',
  'released-early': 'touch',
  blurred: 'touch',
  swing: 'swing',
  balance: 'dynamics',
  accent: 'dynamics',
  dynamics: 'dynamics',
  'pedal-late': 'pedal',
  'pedal-early': 'pedal',
}

export const FINDING_KINDS = Object.keys(DOMAINS) as FindingKind[]

/** What a clean pass must have: right notes, in time, hands together. */
export type Condition = 'notes' | 'time' | 'hands'
export const CONDITIONS: readonly Condition[] = ['notes', 'time', 'hands']

export function domainOf(finding: Finding): Domain {
  if (finding.kind === 'habit' && (finding.habit === 'late-finger' || finding.habit === 'late-key')) return 'time'
  // Notes that waver within the tolerance are in time; evenness comes later.
  if (finding.kind === 'uneven' && !finding.outOfTime) return 'touch'
  return DOMAINS[finding.kind]
}

/** Touch, swing, dynamics and pedal come later in learning: a clean pass may have their faults, reported beside it. */
export const comesLater = (finding: Finding): boolean =>
  ['touch', 'swing', 'dynamics', 'pedal'].includes(domainOf(finding))
