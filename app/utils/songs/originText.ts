import type { SongOrigin } from '#core/formats/song-origin'
import { stepsText } from '#core/words/amounts'
import { LEVEL_WORDS, patternTitle } from '#core/words/patterns'

/** What an edition was made by, in a few words; '' where it came as it is. */
export function originText(origin: SongOrigin): string {
  switch (origin.kind) {
    case 'pattern':
      return `${origin.hand} hand: ${patternTitle(origin.pattern.name).toLowerCase()}`
    case 'level':
      return LEVEL_WORDS[origin.level].title.toLowerCase()
    case 'key':
      return `${stepsText(origin.halfSteps)} ${origin.halfSteps > 0 ? 'higher' : 'lower'} than the first edition`
    case 'chart':
      return `from a chord chart${origin.patterns?.left ? `, left hand: ${patternTitle(origin.patterns.left.name).toLowerCase()}` : ''}`
    case 'played':
      return 'played in'
    case 'file':
    case 'copy':
    case 'drill':
      return ''
  }
}
