import { inspectSong } from '#core/formats/json'
import { printJson, readSongFile, VOICE_FLAGS } from '../files'
import { parseCommand } from '../usage'

export function inspect(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], VOICE_FLAGS)
  printJson(inspectSong(readSongFile(flags.positionals[0]!, flags)))
}
