/** What a pianist may want to do on the Stand without letting go of the keys. */
export const STAND_ACTIONS = ['start', 'again', 'slower', 'faster', 'next', 'from', 'to', 'back', 'listen'] as const
export type StandAction = (typeof STAND_ACTIONS)[number]

/** A piano key by its MIDI number, or a pedal by its controller (64 sustain, 66 sostenuto, 67 soft). */
export type Trigger = { key: number } | { pedal: 64 | 66 | 67 }

/** The keys and pedals that the player has given to actions. A key so given is not heard as music. */
export type Controls = Partial<Record<StandAction, Trigger>>

export const isSameTrigger = (one: Trigger | undefined, other: Trigger | undefined): boolean =>
  one !== undefined &&
  other !== undefined &&
  ('key' in one ? 'key' in other && one.key === other.key : 'pedal' in other && one.pedal === other.pedal)
