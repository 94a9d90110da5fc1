import type { Difference, Likeness } from '../parts/likeness'
import type { Wording } from './findings'
import { displayName } from './note-names'
import { plural, stepsText } from './amounts'
import { barRangeText, placeWords } from './places'

/** More differences than this are not read out. */
const MAX_NAMED = 5

/** What is known already of a hand's part, as a musician would say it; nothing for what is new. */
export function likenessText(
  {
    relation,
    like: name,
    covers,
    transposedBy,
    stepsInKey,
    differs,
  }: Pick<Likeness, 'relation' | 'like' | 'covers' | 'transposedBy' | 'stepsInKey' | 'differs'>,
  wording: Wording = {},
): string {
  const like = covers ? `${name}, ${coveredText(covers)}` : name
  if (relation === 'same') return `as in ${like}`
  if (relation === 'differs') return `as in ${like}, but ${differencesText(differs, wording)}`
  if (relation === 'rhythm') return `the rhythm of ${like}, other notes`
  if (relation !== 'transposed') return ''
  const steps = stepsInKey ?? transposedBy
  const but = differs.length > 0 ? `, but ${differencesText(differs, wording)}` : ''
  return (
    `${like} moved ${steps > 0 ? 'up' : 'down'} ${stepsInKey === undefined ? stepsText(steps) : plural(Math.abs(steps), 'step')} ${stepsInKey === undefined ? '' : 'of the key'}`.trimEnd() +
    but
  )
}

/** The first differences by name, the others counted. */
function differencesText(differs: readonly Difference[], wording: Wording): string {
  const named = differs
    .slice(0, differs.length > MAX_NAMED ? MAX_NAMED - 1 : MAX_NAMED)
    .map(one => differenceText(one, wording))
  const others = differs.length - named.length
  return [...named, ...(others > 0 ? [`and ${plural(others, 'more place')}`] : [])].join('; ')
}

/** Which bars of an earlier part: "bars 5 to 8"; the end no longer belongs to it. */
function coveredText({ from, to }: NonNullable<Likeness['covers']>): string {
  const last = to.beat === 1 ? Math.max(from.bar, to.bar - 1) : to.bar
  return barRangeText(from.bar, last)
}

/** "bar 8, beat 4: D added", "last note A instead of F♯". */
export function differenceText(
  { bar, beat, here, there, held, place }: Difference,
  { noteNames }: Wording = {},
): string {
  const names = (list: readonly string[]) => list.map(spelled => displayName(spelled, false, noteNames)).join(' ')
  const isLast = place === 'last'
  const where = isLast ? 'last note' : placeWords({ bar, beat })
  if (held) return `${where}: ${names(here)} held ${held}`
  if (there.length === 0) return isLast ? `one more ${names(here)} at the end` : `${where}: ${names(here)} added`
  if (here.length === 0)
    return place === 'behind' ? `without the ${names(there)} at the end` : `${where}: without ${names(there)}`
  return isLast
    ? `last note ${names(here)} instead of ${names(there)}`
    : `${where}: ${names(here)} instead of ${names(there)}`
}
