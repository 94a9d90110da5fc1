import type { ComparedFinger } from '../hands/alternatives'
import type { FingeringEvent, FingeringEventKind } from '../hands/fingering'
import { listText, numberWord } from './amounts'
import { stepText } from '../hands/voice-leading'
import { displayName, type NoteNames } from './note-names'

/**
 * What the hand does there, in a few words: "thumb under to F", "3 over to E", "stretch a major sixth from 2 to 5, to
 * C". `spelled` names the note of the event.
 */
export function describeEvent(
  { kind, finger, from, halfSteps }: FingeringEvent,
  spelled: string,
  names: NoteNames = 'letters',
): string {
  const note = displayName(spelled, false, names)
  switch (kind) {
    case 'crossing':
      return finger === 1 ? `thumb under to ${note}` : `${finger} over to ${note}`
    case 'substitution':
      return `change from ${from} to ${finger} on the held ${note}`
    case 'stretch':
      return `stretch ${stepText(halfSteps ?? 0)} from ${from} to ${finger}, to ${note}`
    case 'position-change':
      return `move the hand${halfSteps ? ` by ${stepText(halfSteps)}` : ''}: ${finger} on ${note}`
    case 'repeated-note':
      return `change from ${from} to ${finger} on ${note}`
    case 'beyond-reach':
      return `${from} and ${finger} would have to reach ${stepText(halfSteps ?? 0)}: more than your hand; roll it or leave a note out`
    case 'impossible':
      return `${from} and ${finger} would have to cross or lie on two keys at once at ${note}`
  }
}

const EVENTS: Record<FingeringEventKind, [one: string, many: string]> = {
  crossing: ['crossing', 'crossings'],
  substitution: ['change on a held key', 'changes on held keys'],
  stretch: ['wide stretch', 'wide stretches'],
  'position-change': ['move of the hand', 'moves of the hand'],
  'repeated-note': ['change on a repeated key', 'changes on repeated keys'],
  'beyond-reach': ['reach that your hand does not have', 'reaches that your hand does not have'],
  impossible: ['crossing of fingers on a chord', 'crossings of fingers on chords'],
}
/** A little more effort is not worth a word (own choice; the unit is the model's own). */
const LITTLE = 1.5

/** What another finger would cost, in words: "one crossing fewer, but one wide stretch more". */
export function comparedText({ extraCost, fewer, more }: ComparedFinger): string {
  const counted = (of: ComparedFinger['fewer'], word: string) =>
    (Object.entries(of) as [FingeringEventKind, number][]).map(
      ([kind, count]) => `${numberWord(count)} ${EVENTS[kind][count === 1 ? 0 : 1]} ${word}`,
    )
  const [less, worse] = [counted(fewer, 'fewer'), counted(more, 'more')]
  if (less.length > 0 && worse.length > 0) return `${listText(less)}, but ${listText(worse)}`
  if (worse.length > 0) return listText(worse)
  const awkward = extraCost < LITTLE ? 'nearly as easy' : 'less comfortable'
  return less.length > 0 ? `${listText(less)}, but ${awkward}` : awkward
}
