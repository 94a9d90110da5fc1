import { and, eq, sql } from 'drizzle-orm'
import { assessTake } from '#core/ear/assess'
import type { Assessment, Mode } from '#core/ear/assessment'
import { failedPlaces } from '#core/coach/pass'
import { notesKey } from '#core/parts/notes-key'
import type { Strictness } from '#core/ear/parameters'
import type { Take } from '#core/ear/take'
import { readTake } from '#core/formats/midi/read-take'
import { writeTake } from '#core/formats/midi/write-take'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { stretchPassage, wholePassage, type Passage, type Stretch } from '#core/music/passage'
import type { Database } from '../../utils/database'
import { arrangements, assessments, passes, players, songs, takes } from '../schema'
import { newestFirst, passesWhere, type LogbookFilter } from './logbook'
import { stretchOf } from './songs'
import { addToSums } from './sums'

/** A pass as it was played: of which arrangement, where in it, how. */
export interface PlayedPass {
  id: string
  ownerId: string
  arrangementId: string
  /** The part practised; none for a recording of a whole song. */
  partId?: string
  partName: string
  stretch: Stretch
  passage: Passage
  mode: Mode
  hands: Hands
  /** Quarter notes a minute; of a free pass it is found. */
  bpm?: number
  startedAt: Date
  lengthMs: number
  offsetMs: number
  strictness: Strictness
  take: Take
}

/**
 * Assesses a pass and keeps it with its take and assessment, all or nothing. A pass that is there already is left as it
 * is. Gives false when the id belongs to another player's pass.
 */
export async function insertPass(db: Database, arrangement: Arrangement, played: PlayedPass): Promise<boolean> {
  const { id, ownerId, stretch, take, mode, hands, offsetMs, strictness } = played
  const assessment = assessTake({ arrangement, passage: played.passage, take, mode, bpm: played.bpm, offsetMs, strictness })
  const { summary } = assessment
  const bpm = played.bpm ?? assessment.score.bpm
  return await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${id}, 0))`)
    const [known] = await tx.select({ ownerId: passes.ownerId }).from(passes).where(eq(passes.id, id))
    if (known) return known.ownerId === ownerId
    const [kept] = await tx.insert(takes).values({ ownerId, midi: Buffer.from(writeTake(take, bpm)) }).returning({ id: takes.id })
    // One after the other: whoever has seen a pass has seen all with lower ordinals.
    const [player] = await tx.update(players).set({ passesKept: sql`${players.passesKept} + 1` }).where(eq(players.id, ownerId)).returning({ ordinal: players.passesKept })
    await tx.insert(passes).values({
      id, ownerId, ordinal: player!.ordinal, arrangementId: played.arrangementId, partId: played.partId, partName: played.partName,
      fromN: stretch.from.n, fromD: stretch.from.d, toN: stretch.to.n, toD: stretch.to.d, takeId: kept!.id, hands, mode,
      bpm, startedAt: played.startedAt, lengthMs: Math.round(played.lengthMs), strictness, keyboardDelayMs: Math.round(offsetMs),
      notes: summary.notes, right: summary.right, wrong: summary.wrong, missed: summary.missed, extra: summary.extra,
      onTimeShare: summary.onTimeShare, offsetMs: summary.offsetMs, driftPercent: summary.driftPercent,
      unsteadinessMs: summary.unsteadinessMs, clean: summary.clean, score: summary.score, sentence: assessment.findings[0]!.text,
      ...(mode === 'free' ? {} : { notesKey: notesKey(arrangement, stretch, hands), failed: failedPlaces(arrangement, assessment) }),
    })
    await tx.insert(assessments).values({ passId: id, ownerId, document: assessment })
    await addToSums(tx, id)
    return true
  })
}

/** A pass with everything its review shows. An assessment from an earlier version of the ear is made anew from the take. */
export async function passReview(db: Database, ownerId: string, passId: string) {
  const [row] = await db.select({ pass: passes, song: songs, arrangement: arrangements, document: assessments.document, midi: takes.midi }).from(passes)
    .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .innerJoin(assessments, eq(assessments.passId, passes.id)).innerJoin(takes, eq(takes.id, passes.takeId))
    .where(and(eq(passes.ownerId, ownerId), eq(passes.id, passId)))
  if (!row) return undefined
  const { pass, song, arrangement } = row
  const stretch = stretchOf(pass)
  // A recording of the whole song, or a pass over it in which something came round again.
  const isWhole = (pass.partId === null && pass.mode === 'free') || row.document.notes.some(note => (note.time ?? 1) > 1)
  const assessment: Assessment = 'measures' in row.document
    ? row.document
    : assessTake({
        arrangement: arrangement.document, passage: isWhole ? wholePassage(arrangement.document, pass.hands) : stretchPassage(stretch.from, stretch.to, pass.hands),
        take: readTake(new Uint8Array(row.midi)), mode: pass.mode, bpm: pass.mode === 'free' ? undefined : pass.bpm, offsetMs: pass.keyboardDelayMs, strictness: pass.strictness,
      })
  return {
    id: pass.id, song: { id: song.id, title: song.title }, partId: pass.partId, partName: pass.partName, stretch, isWhole, hands: pass.hands, mode: pass.mode, remark: pass.remark,
    bpm: pass.bpm, startedAt: pass.startedAt, arrangementId: arrangement.id, arrangement: arrangement.document, musicXml: arrangement.musicXml, assessment,
  }
}

/** A player's passes, newest first; of an earlier page the filter's `to` is the start of the oldest one already known. */
export async function listPasses(db: Database, ownerId: string, limit: number, filter: LogbookFilter = {}) {
  return await db.select({
    id: passes.id, songId: songs.id, songTitle: songs.title, partId: passes.partId, partName: passes.partName, hands: passes.hands, mode: passes.mode, remark: passes.remark,
    bpm: passes.bpm, startedAt: passes.startedAt, lengthMs: passes.lengthMs, notes: passes.notes, right: passes.right, wrong: passes.wrong,
    missed: passes.missed, extra: passes.extra, onTimeShare: passes.onTimeShare, unsteadinessMs: passes.unsteadinessMs,
    clean: passes.clean, score: passes.score, sentence: passes.sentence,
  }).from(passes)
    .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(passesWhere(ownerId, filter))
    .orderBy(...newestFirst).limit(limit)
}

/** The player's own words on a pass. Gives false when the pass is not there. */
export async function changeRemark(db: Database, ownerId: string, passId: string, remark: string): Promise<boolean> {
  const changed = await db.update(passes).set({ remark }).where(and(eq(passes.ownerId, ownerId), eq(passes.id, passId))).returning({ id: passes.id })
  return changed.length > 0
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
