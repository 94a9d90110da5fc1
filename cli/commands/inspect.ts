import { inspectSong } from '#core/formats/json'
import { lastBeat, placed } from '#core/parts/places'
import { propose } from '#core/parts/propose'
import { printJson, readSongFile, VOICE_FLAGS } from '../files'
import { parseCommand } from '../usage'

export function inspect(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], VOICE_FLAGS)
  const song = readSongFile(flags.positionals[0]!, flags)
  const sections = propose(song.arrangement).sections.map(({ name, from, to, like }) => ({
    name,
    from: placed(song.arrangement, from),
    to: lastBeat(song.arrangement, to),
    ...(like === undefined ? {} : { like }),
  }))
  printJson({ ...inspectSong(song), sections })
}
