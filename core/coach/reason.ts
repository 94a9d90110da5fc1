import type { FindingKind } from '../ear/finding'
import type { Hand, Hands } from '../music/arrangement'
import type { Unit } from './stages'

/** Why the coach asks for a pass, as data; core/words makes the sentence. Tempos in quarter notes a minute. */
export type Reason =
  | { kind: 'own-time-first' }
  | { kind: 'start-tempo'; bpm: number }
  // The first time at something
  | { kind: 'hands-together'; bpm: number }
  | { kind: 'over-the-seam' }
  | { kind: 'back-to-back' }
  | { kind: 'in-one-go' }
  | { kind: 'whole-slowly'; bpm: number }
  /** Most of it is known from elsewhere: only these bars are new. */
  | { kind: 'only-new'; bars: readonly number[] }
  | { kind: 'changed'; bars: readonly number[] }
  | { kind: 'known-elsewhere'; bpm: number }
  /** Extracted from a longer run that failed here at this tempo. */
  | { kind: 'taken-out'; from: UnitName; bpm: number }
  | { kind: 'whole-again'; bpm: number }
  // Moving from one thing to another: what was reached, or what is left for now
  | { kind: 'goes'; what: UnitName; hands: Hands; bpm: number; then: Reason }
  | { kind: 'turn-over'; what: UnitName; hands: Hands; minutes: number; then: Reason }
  // With the click
  | { kind: 'in-a-row'; count: number; of: number; isNearly?: true }
  | { kind: 'once-more' }
  | { kind: 'near' }
  | { kind: 'clean-once-more' }
  | { kind: 'slowest-step' }
  | { kind: 'clean-but'; faults: readonly FindingKind[] }
  | { kind: 'probe-up'; bpm: number }
  | { kind: 'first-go'; from: number; to: number; isNearly?: true }
  | { kind: 'gate-top'; of: number; isNearly?: true }
  | { kind: 'gate-up'; of: number; from: number; to: number; isNearly?: true }
  | { kind: 'down'; passes: number; from: number; to: number }
  | { kind: 'clean-up'; from: number; to: number }
  | { kind: 'unclean-down'; from: number; to: number }
  | { kind: 'to-and-fro'; bpm: number }
  | { kind: 'help'; help: LadderHelp }
  | { kind: 'lost-everywhere' }
  | { kind: 'good-enough'; clean: number; of: number; bpm: number }
  // In the player's own time
  | { kind: 'no-wrong-key'; count: number; of: number }
  | { kind: 'own-time-once-more' }
  | { kind: 'keys-first' }
  | { kind: 'keys-known' }
  | { kind: 'keys-nearly-known' }
  // A hard place
  | { kind: 'spot'; failures: number; passes: number }
  | { kind: 'spot-once-more' }
  | { kind: 'spot-own-time' }
  | { kind: 'spot-slower'; bpm: number }
  | { kind: 'spot-in-a-row'; count: number; of: number }
  | { kind: 'spot-grows'; of: number }
  | { kind: 'spot-mended' }
  | { kind: 'spot-no-better' }
  | { kind: 'one-hand'; hand: Hand }
  // The session
  | { kind: 'new'; then: Reason }
  | { kind: 'parts-ready'; then: Reason }
  | { kind: 'review' }
  | { kind: 'review-due'; days: number; times: number }
  | { kind: 'faded' }
  | { kind: 'faded-today' }
  | { kind: 'warm-up' }
  | { kind: 'warm-up-first' }
  | { kind: 'drill' }
  | { kind: 'run' }
  | { kind: 'run-at-last' }
  | { kind: 'break' }

/** The name of a unit of practice. */
export type UnitName = Pick<Unit, 'kind' | 'names'>

/**
 * What changes when tempo alone does not help: the hard spot alone, each hand alone, much slower, without the click.
 */
export type LadderHelp = 'smaller-loop' | 'one-hand' | 'slower' | 'own-time'
