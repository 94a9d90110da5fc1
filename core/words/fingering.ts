import type { FingeringEvent } from '../hands/fingering'
import { stepText } from '../hands/voice-leading'
import { displayName, type NoteNames } from './note-names'

/** What the hand does there, for the player: "thumb under 3 on F", "5 and 1 stretch over 9 half steps". `spelled` names the note of the event. */
export function describeEvent({ kind, finger, from, halfSteps }: FingeringEvent, spelled: string, names: NoteNames = 'letters'): string {
  const note = displayName(spelled, false, names)
  switch (kind) {
    case 'crossing': return finger === 1 ? `the thumb passes under ${from} to ${note}` : `${finger} passes over the thumb to ${note}`
    case 'substitution': return `${finger} takes over from ${from} on the held key`
    case 'stretch': return `${from ?? ''} and ${finger} stretch over ${stepText(halfSteps ?? 0)} to ${note}`
    case 'position-change': return `the hand moves ${halfSteps ? `by ${stepText(halfSteps)} ` : ''}to ${finger} on ${note}`
    case 'repeated-note': return `${note} is struck again with ${finger} after ${from}`
    case 'beyond-reach': return `${from} and ${finger} would have to reach ${stepText(halfSteps ?? 0)}: more than your hand; roll it or leave a note out`
    case 'impossible': return `${from} and ${finger} would have to cross or lie on two keys at once at ${note}`
  }
}
