import { editionOf } from '#core/formats/arranged'
import { pieceDifficulty } from '#core/hands/difficulty'
import type { Level } from '#core/patterns/editions'
import { checkEnding, patternOf, printJson, readSongFile, VOICE_FLAGS, writeSong } from '../files'
import { parseCommand, UsageError } from '../usage'

/** An edition of a song for two hands, at a level. */
export function arrange(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], ['level', 'pattern', 'reach', 'out', ...VOICE_FLAGS], [], { out: 'o' })
  const [level, out, name] = [flags.number('level', 1, 4), flags.text('out'), flags.text('pattern')]
  if (level === undefined || !Number.isInteger(level)) throw new UsageError('arrange needs --level 1, 2, 3 or 4')
  if (out === undefined) throw new UsageError('arrange needs -o OUT')
  checkEnding(out)
  const pattern = name === undefined ? undefined : patternOf(name)
  const reach = flags.number('reach', 7, 19)
  const song = readSongFile(flags.positionals[0]!, flags)
  const { leftOut, melody, melodyName, ...edition } = editionOf(song, level as Level, { reach, pattern })
  writeSong(out, { ...song, ...edition })
  printJson({
    level,
    melody: melodyName || melody,
    leftOut,
    difficulty: pieceDifficulty(edition.arrangement, { reach }),
  })
}
