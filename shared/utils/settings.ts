import type { CoachSettings } from '#core/coach/settings'
import type { Strictness } from '#core/ear/parameters'
import type { NoteNames } from '#core/words/note-names'
import type { Controls } from './controls'

/** How large notation is drawn on the Stand. */
export const NOTATION_SIZES = ['small', 'medium', 'large'] as const
/** How staves are drawn that neither hand plays: as the others, small, or only their words. */
export const OTHER_STAVES = ['full', 'small', 'words'] as const

/** How the Stand looks. */
export interface StandLook { size: (typeof NOTATION_SIZES)[number], otherStaves: (typeof OTHER_STAVES)[number] }
export const STAND_LOOK: StandLook = { size: 'medium', otherStaves: 'small' }

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
  /** A name of the IANA time zone database. */
  timeZone: string
}
