import type { FindingKind } from '../ear/finding'
import type { Hand, Hands } from '../music/arrangement'
import type { LadderHelp } from './ladder'
import type { Unit } from './stages'

/** Why the coach asks for a pass, as data; the words are made in the words' room. Tempos in quarter notes a minute. */
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
  /** Taken out of a longer run that failed here at this tempo. */
  | { kind: 'taken-out'; from: UnitName; bpm: number }
  | { kind: 'whole-again'; bpm: number }
  // Going from one thing to another: what went, or what is left for now
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

/** What a thing to practise is called by. */
export type UnitName = Pick<Unit, 'kind' | 'names'>
