import { checkEnding, readSongFile, VOICE_FLAGS, writeSong } from '../files'
import { parseCommand } from '../usage'

export function convert(args: string[]): void {
  const flags = parseCommand(args, ['SCORE', 'OUT'], VOICE_FLAGS)
  const [score, out] = flags.positionals
  checkEnding(out!)
  writeSong(out!, readSongFile(score!, flags))
}
