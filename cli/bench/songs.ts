import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { readMusicXml } from '#core/formats/musicxml/read'
import type { Arrangement } from '#core/music/arrangement'

const DEMO = join(dirname(fileURLToPath(import.meta.url)), '../../demo')
let songs: { song: string; arrangement: Arrangement }[] | undefined

/** The demo's songs, read once. */
export const demoSongs = (): { song: string; arrangement: Arrangement }[] =>
  (songs ??= readdirSync(DEMO)
    .filter(file => file.endsWith('.musicxml'))
    .sort()
    .map(song => ({ song, arrangement: readMusicXml(new Uint8Array(readFileSync(join(DEMO, song)))).arrangement })))
