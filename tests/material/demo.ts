import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { readMusicXml, type ReadScore } from '#core/formats/musicxml/read'

const FOLDER = join(import.meta.dirname, '../../demo')

export const DEMO_FILES = readdirSync(FOLDER)
  .filter(file => file.endsWith('.musicxml'))
  .sort()
export const demoBytes = (file: string): Uint8Array => new Uint8Array(readFileSync(join(FOLDER, file)))

const scores = new Map<string, ReadScore>()
/** A demo song as read, once for all tests of a file: nothing changes an arrangement. */
export function demoScore(file: string): ReadScore {
  const score = scores.get(file) ?? readMusicXml(demoBytes(file))
  scores.set(file, score)
  return score
}
