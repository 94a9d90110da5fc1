import type { Hand } from '../../music/arrangement'
import type { WrittenPart } from './part'
import type { Warnings } from './warnings'

/** Which hand plays a staff of a part; undefined for a role that is neither hand. */
export type HandOf = (part: WrittenPart, staff: number) => Hand | undefined

const KEYBOARD_NAME = /piano|klavier|pianoforte|keyboard|keys|clavier/i
const RIGHT_NAME = /\b(right|r\.?h\.?|rechts|rechte|droite|destra)\b/i
const LEFT_NAME = /\b(left|l\.?h\.?|links|linke|gauche|sinistra)\b/i

/**
 * Finds the two hands among a score's parts: the two staves of a keyboard part, or two parts of one staff
 * each. What had to be guessed is said in a warning.
 */
export function assignHands(parts: readonly WrittenPart[], warnings: Warnings): HandOf {
  const twoStaves = parts.filter(part => part.staves >= 2)
  const keyboard = twoStaves.find(part => KEYBOARD_NAME.test(part.name)) ?? twoStaves[0]
  if (keyboard) {
    if (keyboard.staves > 2) warnings.note(`"${keyboard.name}" has ${keyboard.staves} staves; the first is taken as the right hand, the others as the left`)
    sayOthers(parts, [keyboard], warnings)
    return (part, staff) => part !== keyboard ? undefined : staff === 1 ? 'right' : 'left'
  }
  if (parts.length === 1) {
    const only: Hand = parts[0]!.clefs.get(1) === 'F' ? 'left' : 'right'
    return () => only
  }
  const [right, left] = pairOfParts(parts)
  sayOthers(parts, [right, left], warnings)
  if (!RIGHT_NAME.test(right.name) || !LEFT_NAME.test(left.name)) {
    warnings.note(`guessed: "${right.name || right.id}" is the right hand and "${left.name || left.id}" the left`)
  }
  return part => part === right ? 'right' : part === left ? 'left' : undefined
}

function pairOfParts(parts: readonly WrittenPart[]): [WrittenPart, WrittenPart] {
  const namedRight = parts.find(part => RIGHT_NAME.test(part.name))
  const namedLeft = parts.find(part => LEFT_NAME.test(part.name))
  if (namedRight && namedLeft && namedRight !== namedLeft) return [namedRight, namedLeft]
  const keyboards = parts.filter(part => KEYBOARD_NAME.test(part.name))
  // A voice or solo stands above the piano in a score (common practice), so the lowest two parts are the hands.
  const pair = keyboards.length >= 2 ? keyboards : parts.slice(-2)
  return [pair[0]!, pair[1]!]
}

function sayOthers(parts: readonly WrittenPart[], hands: readonly WrittenPart[], warnings: Warnings) {
  for (const part of parts) {
    if (!hands.includes(part)) warnings.note(`"${part.name || part.id}" is neither hand; its notes are kept but not practised`)
  }
}
