import type { ClickChoice } from '#core/music/click'
import { PLAIN_CLICK } from '#core/music/click'
import type { TurnTaking } from '#core/music/in-turns'
import type { Style } from '#core/patterns/styles'

/**
 * What can be made louder and softer by itself: the click; the program's piano (hands, what was played before); a
 * guiding melody; other roles of a song; the rhythm section; the player's own audio file; and keys that have no sound
 * of their own.
 */
export const MIX_CHANNELS = ['click', 'piano', 'guide', 'roles', 'drums', 'bass', 'chords', 'file', 'keys'] as const
export type MixChannel = (typeof MIX_CHANNELS)[number]

/** `volume` from 0 to 1. */
export interface Level {
  volume: number
  muted: boolean
}
export type Mix = Record<MixChannel, Level>

const level = (volume: number): Level => ({ volume, muted: false })
export const MIX: Mix = {
  click: level(0.8),
  piano: level(0.8),
  guide: level(0.6),
  roles: level(0.7),
  drums: level(0.6),
  bass: level(0.7),
  chords: level(0.6),
  file: level(0.8),
  keys: level(0.9),
}

/** How far the program's hand is moved so that two can sit at one keyboard, octaves. */
export const DUET_OCTAVES = [-2, -1, 0, 1, 2] as const

/** What plays along on the Stand. */
export interface PlayAlong {
  /** The hand that the player does not play. */
  otherHand: boolean
  /** How many octaves higher the other hand sounds: a partner at the same keyboard. */
  octaves: (typeof DUET_OCTAVES)[number]
  /** The tune, to sing to. */
  guide: boolean
  /** The other roles of the arrangement. */
  roles: boolean
  /** A rhythm section in this style. */
  band?: Style | null
  /** Whether the program plays first, then the player. */
  turns: TurnTaking
}
export const NOTHING_ALONG: PlayAlong = { otherHand: false, octaves: 0, guide: false, roles: false, turns: 'off' }

/** What a player has set of the sound; the defaults hold for what is not set. */
export interface SoundSettings {
  mix: Partial<Mix>
  click: ClickChoice
  /** What is played by the way, outside the Stand: offered to be kept, always kept, or not listened to. */
  heard: 'ask' | 'always' | 'off'
  /** The program's piano for keys that have no sound of their own, and for what is touched on the page. */
  keysSound: boolean
  /** The MIDI keyboard has no sound of its own: the program's piano sounds for it. */
  midiIsSilent: boolean
}
export const SOUND: SoundSettings = { mix: {}, click: PLAIN_CLICK, heard: 'ask', keysSound: true, midiIsSilent: false }
