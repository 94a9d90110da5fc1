import { partOf } from '../domain/part-of'
import { randomUUID } from 'node:crypto'
import { asc, desc, eq } from 'drizzle-orm'
import { daysIn } from '#core/coach/days'
import { startRecord } from '#core/coach/record'
import type { SongInWork } from '#core/coach/session'
import { coachSettings } from '#core/coach/settings'
import { planSong } from '#core/coach/song-plan'
import { readSong } from '#core/formats/read-score'
import { equal } from '#core/music/quarters'
import { spanPlace } from '#core/music/stretch-place'
import { proposeParts } from '#core/parts/propose'
import type { LEARNERS } from '#core/players/learner'
import type { Database } from '../database/connection'
import { judgedPass } from '../domain/judged-pass'
import { practiseAsLearner, type SimulatedPass } from './practise-as-learner'
import { changeDay } from '../database/queries/coach'
import { insertFirstPasses } from '../database/queries/passes'
import type { JudgedPass } from '../database/schema/passes'
import { changeSettings, createAccount, demoAccount } from '../database/queries/accounts'
import { rebuildSums } from '../database/queries/sums'
import { stretchOf } from '../database/queries/parts'
import { toText } from '../domain/score-text'
import { insertSong, updateSong } from '../database/queries/songs'
import { arrangements, parts } from '../database/schema'

/** demo/diary.json: who the demo's player is, which songs there are, and on which evenings they were practised. */
interface Diary {
  player: string
  /** The simulated learner, and the seed. */
  learner: keyof typeof LEARNERS
  seed: number
  sessionMinutes: number
  songs: { file: string; edition?: string; editionOf?: string; readyInDays?: number }[]
  /** Oldest first. `at`: hours and minutes of the player's clock. */
  evenings: { daysAgo: number; at: string; minutes: number; song: string; note?: string }[]
}

interface DemoSong {
  songId: string
  arrangementId: string
  parts: (typeof parts.$inferSelect)[]
  inWork: SongInWork
}

const DAY_MS = 86_400_000

/**
 * Makes the demo's player, songs and weeks of practice, once: a simulated learner does as the coach says and is heard
 * as anybody is. All or nothing. The diary's days are counted back from `now`.
 */
export async function seedDemo(db: Database, now = new Date()): Promise<void> {
  if (await demoAccount(db)) return
  const diary = JSON.parse(new TextDecoder().decode(await shippedFile('diary.json'))) as Diary
  await db.transaction(async tx => {
    const own = tx as Database
    const player = await createAccount(own, diary.player, null, true)
    if (!player) throw new Error(`a player named ${diary.player} is there already and is not the demo's`)
    await changeSettings(own, player.id, { sessionMinutes: diary.sessionMinutes })
    const songs = new Map<string, DemoSong>()
    for (const song of diary.songs) songs.set(song.file, await addSong(own, player.id, song, songs, now))
    await keepEvenings(own, player.id, diary, songs, now)
  })
}

async function addSong(
  db: Database,
  ownerId: string,
  { file, edition, editionOf, readyInDays }: Diary['songs'][number],
  known: ReadonlyMap<string, DemoSong>,
  now: Date,
): Promise<DemoSong> {
  const score = readSong(await shippedFile(file), file)
  const of = editionOf === undefined ? undefined : known.get(editionOf)!.songId
  const songId = (await insertSong(db, ownerId, toText(score), proposeParts(score.arrangement), {
    origin: { kind: 'file' },
    ...(of === undefined ? {} : { edition: { of, name: edition! } }),
  }))!
  const targetDate =
    readyInDays === undefined ? undefined : new Date(now.getTime() + readyInDays * DAY_MS).toISOString().slice(0, 10)
  if (targetDate !== undefined || (edition !== undefined && of === undefined))
    await updateSong(db, ownerId, songId, { targetDate, ...(of === undefined ? { edition } : {}) })
  const [row] = await db
    .select({ id: arrangements.id })
    .from(arrangements)
    .where(eq(arrangements.songId, songId))
    .orderBy(desc(arrangements.revision))
    .limit(1)
  const itsParts = await db.select().from(parts).where(eq(parts.arrangementId, row!.id)).orderBy(asc(parts.place))
  const plan = planSong(
    score.arrangement,
    itsParts.map(part => ({
      id: part.id,
      name: part.name,
      ...(part.section === null ? {} : { section: part.section }),
      ...stretchOf(part),
    })),
    coachSettings({}),
  )
  return {
    songId,
    arrangementId: row!.id,
    parts: itsParts,
    inWork: { songId, title: score.arrangement.title, plan, record: startRecord(plan) },
  }
}

async function keepEvenings(
  db: Database,
  ownerId: string,
  { learner, seed, evenings }: Diary,
  songs: ReadonlyMap<string, DemoSong>,
  now: Date,
): Promise<void> {
  const bySongId = new Map([...songs.values()].map(song => [song.songId, song]))
  const planned = evenings.map(({ daysAgo, at, minutes, song }) => {
    const startsAt = new Date(now.getTime() - daysAgo * DAY_MS)
    const [hours, minute] = at.split(':').map(Number)
    startsAt.setHours(hours!, minute, 0, 0)
    return { startsAt, minutes, songId: songs.get(song)!.songId }
  })
  const judged = [
    ...practiseAsLearner(
      [...bySongId.values()].map(song => song.inWork),
      planned,
      { learner, seed, dayOf: daysIn('UTC') },
    ),
  ].map(pass => simulatedPass(ownerId, bySongId.get(pass.songId)!, pass))
  await insertFirstPasses(db, ownerId, judged)
  await rebuildSums(db, ownerId)
  for (const [index, { note }] of evenings.entries()) {
    if (note) await changeDay(db, ownerId, daysIn('UTC')(planned[index]!.startsAt.getTime()), { note })
  }
}

function simulatedPass(
  ownerId: string,
  { arrangementId, parts: itsParts, inWork }: DemoSong,
  { stretch, hands, mode, bpm, passage, take, lengthMs, startedAt, judged }: SimulatedPass,
): JudgedPass {
  const { arrangement } = inWork.plan
  const part = itsParts.find(one => one.id === partOf(inWork, stretch))!
  const itself = stretchOf(part)
  const isPart = equal(itself.from, stretch.from) && equal(itself.to, stretch.to)
  return judgedPass(
    arrangement,
    {
      id: randomUUID(),
      ownerId,
      arrangementId,
      partId: part.id,
      partName: part.name,
      ...(isPart ? {} : { place: spanPlace(arrangement, stretch) }),
      stretch,
      passage,
      hands,
      mode,
      bpm,
      take,
      strictness: 'normal',
      offsetMs: 0,
      lengthMs,
      startedAt,
    },
    judged,
  )
}
