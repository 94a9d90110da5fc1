import { formOf, likenessOf, newMaterialShare, type Likeness } from '#core/parts/likeness'
import { proposeParts } from '#core/parts/propose'
import { differenceText } from '#core/words/likeness'
import { lastBeat, placed } from '#core/parts/places'
import { printJson, readScoreFile, VOICE_FLAGS } from '../files'
import { parseCommand } from '../usage'

export function split(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], ['max-bars', ...VOICE_FLAGS])
  const arrangement = readScoreFile(flags.positionals[0]!, flags)
  const mostBars = flags.number('max-bars', 1, 64)
  const parts = mostBars === undefined ? proposeParts(arrangement) : proposeParts(arrangement, mostBars, mostBars)
  const right = likenessOf(arrangement, parts, 'right')
  const left = likenessOf(arrangement, parts, 'left')
  printJson({
    parts: parts.map(({ name, section, from, to }, index) => ({
      name,
      ...(section === undefined ? {} : { section }),
      from: placed(arrangement, from),
      to: lastBeat(arrangement, to),
      right: shown(right[index]!),
      left: shown(left[index]!),
    })),
    form: formOf(parts, right, left),
    newMaterialShare: { right: rounded(newMaterialShare(right)), left: rounded(newMaterialShare(left)) },
  })
}

const rounded = (share: number): number => Math.round(share * 1000) / 1000
const shown = ({ relation, like, covers, transposedBy, stepsInKey, differs }: Likeness) => ({
  ...(like ? { like } : {}),
  relation,
  ...(covers ? { covers } : {}),
  transposedBy,
  ...(stepsInKey === undefined ? {} : { stepsInKey }),
  differs: differs.map(one => ({ ...one, text: differenceText(one) })),
})
