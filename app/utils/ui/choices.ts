import type { Hand, Hands } from '#core/music/arrangement'
import { HANDS_WORDS } from '#core/words/passes'

/** One of several things to choose from, and how it is called. */
export interface Choice<Value> {
  value: Value
  label: string
}

/** The values of a list as choices; they are their own names where no other is given. */
export const choicesOf = <Value>(
  values: readonly Value[],
  labelOf: (value: Value) => string = String,
): Choice<Value>[] => values.map(value => ({ value, label: labelOf(value) }))

/** A table of names as choices, in its order. */
export const choicesFrom = <Value extends string>(names: Readonly<Record<Value, string>>): Choice<Value>[] =>
  (Object.keys(names) as Value[]).map(value => ({ value, label: names[value] }))

/** Either hand. */
export const HAND_CHOICES: readonly Choice<Hand>[] = choicesOf(['right', 'left'], hand => HANDS_WORDS[hand])
/** Either hand, or both of them. */
export const HANDS_CHOICES: readonly Choice<Hands>[] = [...HAND_CHOICES, { value: 'both', label: 'both hands' }]
