import { plural } from './amounts'
import type { Finding } from '../ear/finding'
import type { Hands } from '../music/arrangement'
import type { SpanPlace } from '../music/stretch-place'
import { passSentence, type Wording } from './findings'
import { stretchText } from './places'

export const HANDS_WORDS: Record<Hands, string> = { left: 'left hand', right: 'right hand', both: 'together' }
/** The same at the head of a row. */
export const HANDS_LABELS: Record<Hands, string> = { left: 'Left hand', right: 'Right hand', both: 'Together' }

/** What of a kept pass its words are made from. `sentence`: of a pass that only the first ear has judged. */
export interface NamedPass {
  partId: string | null
  partName: string
  place: SpanPlace | null
  mode: 'steady' | 'free' | 'own-time'
}
export interface ToldPass {
  found: Finding[] | null
  sentence: string | null
}

/** Which part a pass was of, and where in it or beyond it: "Part 3", "Part 3: bars 9 to 14", "Whole song, recorded". */
export const passName = ({ partId, partName, place, mode }: NamedPass): string =>
  partName === '' && partId === null && mode === 'free'
    ? 'Whole song, recorded'
    : place
      ? `${partName}: ${stretchText(place)}`
      : partName

/** The one sentence of a kept pass. */
export const toldSentence = ({ found, sentence }: ToldPass, wording: Wording): string =>
  found ? passSentence(found, wording) : (sentence ?? '')

/** What is not at the server yet, or never will be, in a few words; '' when there is nothing to say. */
export function unsavedText({
  refused,
  waiting,
  isOnlyHere,
}: {
  refused: number
  waiting: number
  isOnlyHere: boolean
}): string {
  if (refused > 0) return `${plural(refused, 'pass', 'passes')} could not be saved`
  if (waiting === 0 && !isOnlyHere) return ''
  return `${plural(waiting, 'pass', 'passes')} waiting to be saved${isOnlyHere ? ', only in this page' : ''}`
}
