import { formOf, likenessOf, newMaterialShare, type Likeness } from '#core/parts/likeness'
import { proposeParts } from '#core/parts/propose'
import { differenceText } from '#core/words/likeness'
import { barAt, positionIn, type Arrangement } from '#core/music/arrangement'
import { compare, type Quarters } from '#core/music/quarters'
import { printJson, readScoreFile, VOICE_FLAGS } from '../files'
import { parseCommand } from '../usage'

export function split(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], ['max-bars', ...VOICE_FLAGS])
  const arrangement = readScoreFile(flags.positionals[0]!, flags)
  const parts = proposeParts(arrangement, flags.number('max-bars', 1, 64) ?? 4)
  const right = likenessOf(arrangement, parts, 'right')
  const left = likenessOf(arrangement, parts, 'left')
  printJson({
    parts: parts.map(({ name, from, to }, index) => ({
      name, from: place(arrangement, from), to: lastBeat(arrangement, to), right: shown(right[index]!), left: shown(left[index]!),
    })),
    form: formOf(parts, right, left),
    newMaterialShare: { right: rounded(newMaterialShare(right)), left: rounded(newMaterialShare(left)) },
  })
}

const rounded = (share: number): number => Math.round(share * 1000) / 1000
const shown = ({ relation, like, covers, transposedBy, stepsInKey, differs }: Likeness) =>
  ({ ...(like ? { like } : {}), relation, ...(covers ? { covers } : {}), transposedBy, ...(stepsInKey === undefined ? {} : { stepsInKey }), differs: differs.map(one => ({ ...one, text: differenceText(one) })) })

function place(arrangement: Arrangement, at: Quarters) {
  const { bar, beat } = positionIn(barAt(arrangement, at), at)
  return { bar, beat: Math.round(beat * 1e6) / 1e6 }
}

/** Where the last beat of a stretch begins that ends at this moment. */
function lastBeat(arrangement: Arrangement, end: Quarters) {
  const bar = [...arrangement.bars].reverse().find(one => compare(one.start, end) < 0) ?? arrangement.bars[0]!
  const { beat } = positionIn(bar, end)
  return { bar: bar.number, beat: Math.max(1, Math.ceil(beat - 1 - 1e-9)) }
}
