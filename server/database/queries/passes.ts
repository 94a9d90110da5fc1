import { and, desc, eq, lt, sql } from 'drizzle-orm'
import { assessTake } from '#core/ear/assess'
import type { Take } from '#core/ear/take'
import { writeTake } from '#core/formats/midi/write-take'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { stretchPassage } from '#core/music/passage'
import type { Database } from '../../utils/database'
import { arrangements, assessments, passes, songs, takes } from '../schema'
import { stretchOf } from './songs'

export interface PlayedPass {
  id: string
  hands: Hands
  bpm: number
  startedAt: Date
  lengthMs: number
  offsetMs: number
  take: Take
}

interface PracticedPart { id: string, ownerId: string, arrangementId: string, name: string, fromN: number, fromD: number, toN: number, toD: number }

/**
 * Assesses a pass and keeps it with its take and assessment, all or nothing. A pass that is there already is left as it
 * is. Gives false when the id belongs to another player's pass.
 */
export async function insertPass(db: Database, part: PracticedPart, arrangement: Arrangement, played: PlayedPass): Promise<boolean> {
  const stretch = stretchOf(part)
  const assessment = assessTake({
    arrangement, passage: stretchPassage(stretch.from, stretch.to, played.hands), take: played.take, mode: 'steady', bpm: played.bpm, offsetMs: played.offsetMs,
  })
  const { summary } = assessment
  return await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${played.id}, 0))`)
    const [known] = await tx.select({ ownerId: passes.ownerId }).from(passes).where(eq(passes.id, played.id))
    if (known) return known.ownerId === part.ownerId
    const [take] = await tx.insert(takes).values({ ownerId: part.ownerId, midi: Buffer.from(writeTake(played.take, played.bpm)) }).returning({ id: takes.id })
    await tx.insert(passes).values({
      id: played.id, ownerId: part.ownerId, arrangementId: part.arrangementId, partId: part.id, partName: part.name,
      fromN: part.fromN, fromD: part.fromD, toN: part.toN, toD: part.toD, takeId: take!.id, hands: played.hands, mode: 'steady',
      bpm: played.bpm, startedAt: played.startedAt, lengthMs: Math.round(played.lengthMs),
      notes: summary.notes, right: summary.right, wrong: summary.wrong, missed: summary.missed, extra: summary.extra,
      onTimeShare: summary.onTimeShare, offsetMs: summary.offsetMs, driftPercent: summary.driftPercent,
      unsteadinessMs: summary.unsteadinessMs, clean: summary.clean, score: summary.score, sentence: assessment.findings[0]!.text,
    })
    await tx.insert(assessments).values({ passId: played.id, ownerId: part.ownerId, document: assessment })
    return true
  })
}

/** A player's passes, newest first; `before` is the start of the oldest one already known. */
export async function listPasses(db: Database, ownerId: string, limit: number, before?: Date) {
  return await db.select({
    id: passes.id, songId: songs.id, songTitle: songs.title, partId: passes.partId, partName: passes.partName, hands: passes.hands,
    bpm: passes.bpm, startedAt: passes.startedAt, lengthMs: passes.lengthMs, notes: passes.notes, right: passes.right, wrong: passes.wrong,
    missed: passes.missed, extra: passes.extra, onTimeShare: passes.onTimeShare, unsteadinessMs: passes.unsteadinessMs,
    clean: passes.clean, score: passes.score, sentence: passes.sentence,
  }).from(passes)
    .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(and(eq(passes.ownerId, ownerId), before ? lt(passes.startedAt, before) : undefined))
    .orderBy(desc(passes.startedAt), desc(passes.id)).limit(limit)
}

export async function passAssessment(db: Database, ownerId: string, passId: string) {
  const [row] = await db.select({ document: assessments.document }).from(assessments)
    .where(and(eq(assessments.ownerId, ownerId), eq(assessments.passId, passId)))
  return row?.document
}

export async function passTake(db: Database, ownerId: string, passId: string) {
  const [row] = await db.select({ midi: takes.midi }).from(passes).innerJoin(takes, eq(takes.id, passes.takeId))
    .where(and(eq(passes.ownerId, ownerId), eq(passes.id, passId)))
  return row?.midi
}
