import type { CoachSettings } from '#core/coach/settings'
import type { Strictness } from '#core/ear/parameters'
import type { NoteNames } from '#core/words/note-names'
import type { Controls } from './controls'

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
  /** A name of the IANA time zone database. */
  timeZone: string
}
