import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { writeDailyArchives } from './daily-archives'

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'half-step-daily-'))
})
afterEach(() => rmSync(folder, { recursive: true }))

const MIRA = { id: '0c9bd8f2-0000-4000-8000-000000000000', name: 'Mira / Ölund' }
const TOM = { id: '77777777-0000-4000-8000-000000000000', name: '../..' }
const DAYS = ['2026-11-27', '2026-11-28', '2026-11-29', '2026-11-30']
const writing = (text: string) => async (_id: string, use: (file: Readable) => Promise<void>) => {
  await use(Readable.from([text]))
}

test('each player has one archive a day, under a name that stays in its folder, and the newest are kept', async () => {
  for (const day of DAYS) {
    for (let times = 0; times < 2; times++)
      await writeDailyArchives([MIRA, TOM], { folder, kept: 3, day }, writing(day))
  }
  const files = readdirSync(folder).sort()
  expect(files).toEqual(
    [MIRA, TOM]
      .flatMap(({ id }, index) =>
        DAYS.slice(1).map(day => `${['Mira-Ölund', 'player'][index]} ${id.slice(0, 8)} ${day}.half-step.tar.gz`),
      )
      .sort(),
  )
  for (const file of files) expect(readFileSync(join(folder, file), 'utf8')).toBe(/\d{4}-\d\d-\d\d/.exec(file)![0])
})

test("an archive that could not be written to its end is not there, and takes no older one's place", async () => {
  await writeDailyArchives([MIRA], { folder, kept: 1, day: DAYS[0]! }, writing('whole'))
  const broken = async (_id: string, use: (file: Readable) => Promise<void>) => {
    await use(
      Readable.from(
        (function* () {
          yield 'half'
          throw new Error('the server ended')
        })(),
      ),
    )
  }
  await expect(writeDailyArchives([MIRA], { folder, kept: 1, day: DAYS[1]! }, broken)).rejects.toThrow(
    'the server ended',
  )
  expect(readdirSync(folder)).toEqual([`Mira-Ölund 0c9bd8f2 ${DAYS[0]}.half-step.tar.gz`])
})
