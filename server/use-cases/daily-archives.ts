import { createWriteStream } from 'node:fs'
import { mkdir, readdir, rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { ARCHIVE_ENDING } from '#core/archive/archive'

/** Where the archives of every day go, how many of each player are kept, and which day it is (YYYY-MM-DD). */
export interface DailyArchives {
  folder: string
  kept: number
  day: string
}

/** A name that any file system takes. */
const plainName = (name: string): string =>
  name
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-|-$/g, '')
    .slice(0, 40) || 'player'

/**
 * Writes the day's archive of each player who has none yet, and deletes the oldest beyond those that are kept. A file
 * gets its name only once it is complete; partial files are deleted. Gives the files written.
 */
export async function writeDailyArchives(
  players: readonly { id: string; name: string }[],
  { folder, kept, day }: DailyArchives,
  write: (playerId: string, use: (file: Readable) => Promise<void>) => Promise<void>,
): Promise<string[]> {
  await mkdir(folder, { recursive: true, mode: 0o700 })
  const written: string[] = []
  for (const { id, name } of players) {
    const isIts = (file: string) => file.includes(` ${id.slice(0, 8)} `) && file.endsWith(ARCHIVE_ENDING)
    const mine = (await readdir(folder)).filter(isIts)
    if (!mine.some(file => file.includes(` ${day}.`))) {
      const file = join(folder, `${plainName(name)} ${id.slice(0, 8)} ${day}.${ARCHIVE_ENDING}`)
      const draft = `${file}.part`
      try {
        await write(id, async archive => {
          await pipeline(archive, createWriteStream(draft, { mode: 0o600 }))
        })
        await rename(draft, file)
        written.push(file)
      } finally {
        await rm(draft, { force: true })
      }
    }
    const dayOf = (file: string) => file.slice(-(ARCHIVE_ENDING.length + 11), -(ARCHIVE_ENDING.length + 1))
    const newestFirst = (await readdir(folder)).filter(isIts).sort((a, b) => dayOf(b).localeCompare(dayOf(a)))
    for (const old of newestFirst.slice(kept)) await rm(join(folder, old), { force: true })
  }
  return written
}
