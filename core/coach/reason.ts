import type { FindingKind } from '../ear/finding'
import type { Hand } from '../music/arrangement'
import type { LadderHelp } from './ladder'

/** Why the coach asks for a pass, as data; the words are made in the words' room. Tempos in quarter notes a minute. */
export type Reason
  = | { kind: 'own-time-first' } | { kind: 'start-tempo', bpm: number }
    // With the click
    | { kind: 'in-a-row', count: number, of: number } | { kind: 'once-more' } | { kind: 'near' } | { kind: 'clean-once-more' } | { kind: 'slowest-step' }
    | { kind: 'clean-but', faults: readonly FindingKind[] }
    | { kind: 'probe-up', bpm: number } | { kind: 'gate-top', of: number } | { kind: 'gate-up', of: number, from: number, to: number } | { kind: 'down', passes: number, from: number, to: number }
    | { kind: 'clean-up', from: number, to: number } | { kind: 'unclean-down', from: number, to: number } | { kind: 'to-and-fro', bpm: number }
    | { kind: 'help', help: LadderHelp } | { kind: 'lost-everywhere' } | { kind: 'good-enough', clean: number, of: number, bpm: number }
    // In the player's own time
    | { kind: 'no-wrong-key', count: number, of: number } | { kind: 'own-time-once-more' } | { kind: 'keys-known' }
    // A hard place
    | { kind: 'spot', failures: number, passes: number } | { kind: 'spot-once-more' } | { kind: 'spot-own-time' } | { kind: 'spot-slower', bpm: number }
    | { kind: 'spot-in-a-row', count: number, of: number } | { kind: 'spot-grows', of: number } | { kind: 'spot-mended' } | { kind: 'spot-no-better' }
    | { kind: 'one-hand', hand: Hand }
    // The session
    | { kind: 'new', then: Reason } | { kind: 'parts-ready', then: Reason } | { kind: 'review' } | { kind: 'review-due', days: number, times: number }
    | { kind: 'faded' } | { kind: 'faded-today' } | { kind: 'warm-up' } | { kind: 'warm-up-first' } | { kind: 'run' } | { kind: 'run-at-last' } | { kind: 'break' }
