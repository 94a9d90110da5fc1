import { extname } from 'node:path'
import { inspectArrangement } from '#core/formats/json'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { compressMusicXml } from '#core/formats/musicxml/archive'
import { writeMusicXml } from '#core/formats/musicxml/write'
import type { Arrangement } from '#core/music/arrangement'
import { readScoreFile, writeWhole } from '../files'
import { parseCommand, UsageError } from '../usage'

const WRITERS: Record<string, (arrangement: Arrangement) => string | Uint8Array> = {
  '.json': arrangement => `${JSON.stringify(inspectArrangement(arrangement), null, 2)}\n`,
  '.mid': writeArrangementMidi,
  '.musicxml': arrangement => writeMusicXml(arrangement).musicXml,
  '.mxl': arrangement => compressMusicXml(writeMusicXml(arrangement).musicXml),
}

export function convert(args: string[]): void {
  const { positionals: [score, out] } = parseCommand(args, ['SCORE', 'OUT'], [])
  const write = WRITERS[extname(out!).toLowerCase()]
  if (!write) throw new UsageError(`OUT ends in ${Object.keys(WRITERS).join(' or ')}, not "${extname(out!)}"`)
  writeWhole(out!, write(readScoreFile(score!)))
}
