import type { Relation } from '#core/parts/likeness'

/** What is known already, in a musician's words; nothing for what is new. */
export function likenessText({ relation, like, transposedBy, stepsInKey, differs }: { relation: Relation, like?: string, transposedBy: number, stepsInKey?: number, differs: readonly string[] }): string {
  if (relation === 'same') return `as in ${like}`
  if (relation === 'differs') return `as in ${like}, but ${differs.join('; ')}`
  if (relation === 'rhythm') return `the rhythm of ${like}, other notes`
  if (relation !== 'transposed') return ''
  const steps = stepsInKey ?? transposedBy
  return `${like} moved ${steps > 0 ? 'up' : 'down'} ${Math.abs(steps)} ${stepsInKey === undefined ? 'half steps' : 'steps of the key'}`
}
