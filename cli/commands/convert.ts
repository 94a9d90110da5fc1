import { extname } from 'node:path'
import { inspectSong } from '#core/formats/json'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { compressMusicXml } from '#core/formats/musicxml/archive'
import type { ReadSong } from '#core/formats/read-score'
import { readSongFile, VOICE_FLAGS, writeWhole } from '../files'
import { parseCommand, UsageError } from '../usage'

/** The document that was read, or of other formats the one that was written from them, is the score as MusicXML. */
const WRITERS: Record<string, (song: ReadSong) => string | Uint8Array> = {
  '.json': song => `${JSON.stringify(inspectSong(song), null, 2)}\n`,
  '.mid': ({ arrangement }) => writeArrangementMidi(arrangement),
  '.musicxml': ({ musicXml }) => musicXml,
  '.mxl': ({ musicXml }) => compressMusicXml(musicXml),
}

export function convert(args: string[]): void {
  const flags = parseCommand(args, ['SCORE', 'OUT'], VOICE_FLAGS)
  const [score, out] = flags.positionals
  const write = WRITERS[extname(out!).toLowerCase()]
  if (!write) throw new UsageError(`OUT ends in ${Object.keys(WRITERS).join(' or ')}, not "${extname(out!)}"`)
  writeWhole(out!, write(readSongFile(score!, flags)))
}
