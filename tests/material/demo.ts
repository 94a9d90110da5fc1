import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { readMusicXml, type ReadScore } from '#core/formats/musicxml/read'

const FOLDER = join(import.meta.dirname, '../../demo')

export const DEMO_FILES = readdirSync(FOLDER)
  .filter(file => file.endsWith('.musicxml'))
  .sort()
export const demoBytes = (file: string): Uint8Array => new Uint8Array(readFileSync(join(FOLDER, file)))
export const demoScore = (file: string): ReadScore => readMusicXml(demoBytes(file))
