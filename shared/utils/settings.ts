import type { CoachSettings } from '#core/coach/settings'
import type { Strictness } from '#core/ear/parameters'
import type { NoteNames } from '#core/words/note-names'
import type { Controls } from './controls'
import type { SoundSettings } from './sound'

/** How large notation is drawn on the Stand. */
export const NOTATION_SIZES = ['small', 'medium', 'large'] as const
/** How staves are drawn that neither hand plays: as the others, small, or only their words. */
export const OTHER_STAVES = ['full', 'small', 'words'] as const

/** How the Stand looks. */
export interface StandLook {
  size: (typeof NOTATION_SIZES)[number]
  otherStaves: (typeof OTHER_STAVES)[number]
}
export const STAND_LOOK: StandLook = { size: 'medium', otherStaves: 'small' }

/**
 * The measured delay of a keyboard against the click; `outputMs`: the output latency reported at that time.
 * `measuredAt`: ISO 8601.
 */
export interface KeyboardDelay {
  keyboard: string
  outputMs: number
  delayMs: number
  spreadMs: number
  measuredAt: string
}
export const MAX_DELAYS = 20
/** An output whose delay is further from it than this is another one, ms. */
const SAME_OUTPUT_MS = 40

/** The delay measured for a keyboard and an output; undefined where none was. */
export function delayOf(
  delays: readonly KeyboardDelay[],
  keyboard: string,
  outputMs: number,
): KeyboardDelay | undefined {
  return delays
    .filter(one => one.keyboard === keyboard && Math.abs(one.outputMs - outputMs) <= SAME_OUTPUT_MS)
    .sort((a, b) => Math.abs(a.outputMs - outputMs) - Math.abs(b.outputMs - outputMs))[0]
}

/**
 * The delays with a new one, which takes the place of the one of the same keyboard and output; the oldest go when there
 * are too many.
 */
export function withDelay(delays: readonly KeyboardDelay[], measured: KeyboardDelay): KeyboardDelay[] {
  const before = delayOf(delays, measured.keyboard, measured.outputMs)
  return [...delays.filter(one => one !== before), measured].slice(-MAX_DELAYS)
}

/** What a player has set; the server keeps it. */
export interface PlayerSettings {
  strictness: Strictness
  keyboardDelayMs: number
  reachHalfSteps: number
  noteNames: NoteNames
  coach: Partial<CoachSettings>
  /** Minutes of a day's session. */
  sessionMinutes: number
  controls: Controls
  /** How the Stand looks; the defaults hold for what is not set. */
  stand: Partial<StandLook>
  /** Clicks, volumes, what sounds; the defaults hold for what is not set. */
  sound: Partial<SoundSettings>
  /** What was measured of keyboards. */
  delays: KeyboardDelay[]
  /** A name of the IANA time zone database. */
  timeZone: string
}
