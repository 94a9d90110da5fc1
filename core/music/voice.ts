/**
 * Who plays a part of a score or a track of a file: a hand; both, which share out its notes; another role, which is
 * kept; or nobody.
 */
export type VoiceAssignment = 'right' | 'left' | 'both' | 'role' | 'nobody'
export const VOICE_ASSIGNMENTS: readonly VoiceAssignment[] = ['right', 'left', 'both', 'role', 'nobody']

/**
 * A part of a score, a track or, in a file of one track, a channel. `number` counts from 1; `lowest` and `highest` are
 * MIDI numbers.
 */
export interface Voice {
  number: number
  name: string
  /** As the score names it, or `program N` (from 1) for a track of a MIDI file. */
  instrument: string
  /** The General MIDI program, from 0, of a track of a MIDI file that is no drums. */
  program?: number
  notes: number
  lowest: number
  highest: number
  plays: VoiceAssignment
  /** Drums: their numbers are no pitches, and no hand plays them. */
  percussion?: true
}

/** A note of a voice as it sounds: quarter notes from the beginning, as decimals. */
export interface Strike {
  onset: number
  length: number
  pitch: number
}

/** A voice with its notes, to be shown and heard. */
export interface VoiceNotes extends Voice {
  strikes: Strike[]
}

/** Who plays what, by the voices' numbers, where the player has decided it. */
export type VoiceChoice = Readonly<Record<number, VoiceAssignment>>

/**
 * The range of a voice over time: for each of `stretches` equal shares of the song the lowest and highest key struck,
 * undefined where it rests. `end`: the end of the song, quarter notes.
 */
export function assignedTo(
  strikes: readonly Strike[],
  end: number,
  stretches: number,
): ({ low: number; high: number } | undefined)[] {
  const found: ReturnType<typeof assignedTo> = Array.from({ length: stretches })
  for (const { onset, length, pitch } of strikes) {
    const place = (at: number) => Math.max(0, Math.min(stretches - 1, Math.floor((at / end) * stretches)))
    // A note that ends where a share begins does not reach into it.
    for (let index = place(onset); index <= Math.max(place(onset), place(onset + length - 1e-6)); index++) {
      const one = found[index]
      found[index] = one
        ? { low: Math.min(one.low, pitch), high: Math.max(one.high, pitch) }
        : { low: pitch, high: pitch }
    }
  }
  return found
}

/** The other hand; an assignment that is no single hand stays. */
export const otherHand = <T extends VoiceAssignment>(plays: T): T =>
  (plays === 'right' ? 'left' : plays === 'left' ? 'right' : plays) as T

/** What is known of a voice from its notes. */
export function rangeOf(notes: readonly { pitch: number }[]): Pick<Voice, 'notes' | 'lowest' | 'highest'> {
  return {
    notes: notes.length,
    lowest: notes.reduce((least, note) => Math.min(least, note.pitch), 127),
    highest: notes.reduce((most, note) => Math.max(most, note.pitch), 0),
  }
}

/** A voice as it is printed and kept: without its notes. */
export function withoutNotes({ strikes: _strikes, program: _program, ...voice }: VoiceNotes): Voice {
  return voice
}
