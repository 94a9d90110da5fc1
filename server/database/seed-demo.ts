import { randomUUID } from 'node:crypto'
import { readMusicXml } from '#core/formats/musicxml/read'
import type { Hands } from '#core/music/arrangement'
import { loopPlan } from '#core/music/loop'
import { expectedNotes, stretchPassage } from '#core/music/passage'
import { tempoSteps } from '#core/coach/tempo-steps'
import { proposeParts } from '#core/parts/propose'
import { MACHINE } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { and, asc, eq } from 'drizzle-orm'
import type { Database } from '../utils/database'
import { createPlayer, demoPlayer } from './queries/players'
import { insertSong, stretchOf } from './queries/songs'
import { keepPass } from '../use-cases/keep-pass'
import { arrangements, parts, songs } from './schema'

/** The demo's made-up player; demo/README.md tells the story. */
const DEMO_PLAYER = 'Mira'
const DEMO_SONGS = ['lantern-ferry.musicxml', 'snow-on-the-towpath.musicxml', 'side-street-shuffle.musicxml']
const DAY_MS = 86_400_000

/** How Mira's first days went: part by place, hands, tempo step, passes, and how unsure she was. */
const DIARY: { daysAgo: number, part: number, hands: Hands, step: number, passes: number, unsure: number, mode?: 'own-time' }[] = [
  { daysAgo: 6, part: 0, hands: 'right', step: 0, passes: 2, unsure: 0, mode: 'own-time' },
  { daysAgo: 6, part: 0, hands: 'right', step: 0, passes: 5, unsure: 1 },
  { daysAgo: 5, part: 0, hands: 'right', step: 1, passes: 4, unsure: 0.4 },
  { daysAgo: 5, part: 0, hands: 'left', step: 0, passes: 5, unsure: 1 },
  { daysAgo: 4, part: 0, hands: 'right', step: 2, passes: 4, unsure: 0.2 },
  { daysAgo: 4, part: 0, hands: 'left', step: 1, passes: 5, unsure: 0.3 },
  { daysAgo: 3, part: 1, hands: 'right', step: 0, passes: 5, unsure: 0.8 },
  { daysAgo: 2, part: 0, hands: 'both', step: 0, passes: 6, unsure: 0.7 },
  { daysAgo: 1, part: 1, hands: 'right', step: 1, passes: 4, unsure: 0.2 },
  { daysAgo: 1, part: 0, hands: 'both', step: 0, passes: 4, unsure: 0.1 },
]

/** Makes the demo's player, songs and first days of practice, once. */
export async function seedDemo(db: Database): Promise<void> {
  if (await demoPlayer(db)) return
  const storage = useStorage('assets:demo')
  await db.transaction(async (tx) => {
    const player = await createPlayer(tx as Database, DEMO_PLAYER, null, true)
    if (!player) throw new Error(`a player named ${DEMO_PLAYER} is there already and is not the demo's`)
    let firstSong: string | undefined
    for (const file of DEMO_SONGS) {
      const bytes = await storage.getItemRaw<Uint8Array>(file)
      if (!bytes) throw new Error(`demo/${file} is missing from the build`)
      const score = readMusicXml(new Uint8Array(bytes))
      const id = await insertSong(tx as Database, player.id, score, proposeParts(score.arrangement))
      firstSong ??= id
    }
    await keepDiary(tx as Database, player.id, firstSong!)
  })
}

async function keepDiary(db: Database, ownerId: string, songId: string): Promise<void> {
  const rows = await db.select({ part: parts, document: arrangements.document }).from(parts)
    .innerJoin(arrangements, eq(arrangements.id, parts.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(and(eq(parts.ownerId, ownerId), eq(songs.id, songId))).orderBy(asc(parts.place))
  let seed = 1
  for (const { daysAgo, part: place, hands, step, passes, unsure, mode = 'steady' } of DIARY) {
    const { part, document } = rows[place]!
    const stretch = stretchOf(part)
    const bpm = tempoSteps(document.tempos[0]?.quarterBpm ?? 100)[step]!
    const { roundMs } = loopPlan(document, stretchPassage(stretch.from, stretch.to, hands), bpm)
    const evening = new Date(Date.now() - daysAgo * DAY_MS)
    evening.setHours(19, (mode === 'own-time' ? 0 : 10) + place * 9, 0, 0)
    for (let pass = 0; pass < passes; pass++) {
      const left = unsure * (1 - pass / passes)
      const habits = {
        ...MACHINE, jitterMs: 16 + 26 * left, chordSpreadMs: 10, wrong: 0.07 * left, missed: 0.03 * left, extra: 0.03 * left,
        hesitations: left > 0.6 ? [{ bar: 3, beat: 1, ms: 360 }] : [],
      }
      const expected = expectedNotes(document, stretchPassage(stretch.from, stretch.to, hands), bpm)
      const { take } = simulatePlayer(expected, habits, seed++)
      await keepPass(db, document, {
        id: randomUUID(), ownerId, arrangementId: part.arrangementId, partId: part.id, partName: part.name, stretch,
        passage: stretchPassage(stretch.from, stretch.to, hands), mode, strictness: 'normal',
        hands, bpm, take, offsetMs: 0, lengthMs: roundMs, startedAt: new Date(evening.getTime() + pass * roundMs),
      })
    }
  }
}
