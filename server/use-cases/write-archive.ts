import { createHash } from 'node:crypto'
import {
  ARCHIVE_FORMAT,
  ARCHIVE_PATHS,
  ARCHIVE_VERSION,
  type ArchivedDay,
  type ArchivedPass,
  type ArchivedPattern,
  type ArchivedSong,
  type ArchiveHead,
  type ArchiveKind,
} from '#core/archive/archive'
import type { SongOrigin } from '#core/formats/song-origin'
import type { ArchiveDocument } from '#shared/archive-file'
import { accountById, playerSettings } from '../database/queries/accounts'
import {
  countPasses,
  daysToArchive,
  partsToArchive,
  passesToArchive,
  patternsToArchive,
  revisionsToArchive,
  revisionTexts,
  songsToArchive,
  type PassToArchive,
} from '../database/queries/archive'
import { stretchOf } from '../database/queries/parts'
import type { Database, Transaction } from '../database/connection'
import { notThere } from './refusal'

/** All of a player, or one song with its other editions, to be given to somebody else. */
export type ArchiveWanted = { kind: 'player' } | { kind: 'songs'; song: string }

/** Ids inside a text, put into other words. */
export const withOtherIds = (text: string, otherId: (id: string) => string | undefined): string =>
  text.replaceAll(/[\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12}/g, id => otherId(id) ?? id)

/** Where a song's notes come from, with its song called otherwise. */
export const withOtherSong = (origin: SongOrigin, otherId: (id: string) => string | undefined): SongOrigin =>
  'of' in origin ? { ...origin, of: otherId(origin.of) ?? origin.of } : origin

/**
 * The documents of an archive (core/archive/archive.ts), one after the other as they are asked for: only what is asked
 * for is in memory. To be read in one transaction that sees one moment. Throws a Refusal for what is not the player's.
 */
export async function* archiveDocuments(
  db: Database | Transaction,
  ownerId: string,
  wanted: ArchiveWanted,
  at: Date,
): AsyncGenerator<ArchiveDocument> {
  const sums: string[] = []
  const written = (path: string, content: string | Uint8Array): ArchiveDocument => {
    const bytes = typeof content === 'string' ? Buffer.from(content) : content
    sums.push(`${createHash('sha256').update(bytes).digest('hex')}  ${path}\n`)
    return { path, bytes }
  }
  const json = (path: string, value: unknown) => written(path, `${JSON.stringify(value, null, 1)}\n`)

  const isAll = wanted.kind === 'player'
  const [account, rows] = [
    await accountById(db as Database, ownerId),
    await songsToArchive(db, ownerId, isAll ? undefined : wanted.song),
  ]
  if (!account) throw notThere('this player')
  if (!isAll && rows.length === 0) throw notThere('this song')
  const patterns = isAll ? await patternsToArchive(db, ownerId) : []
  const names = new Map((isAll ? rows : await songsToArchive(db, ownerId)).map(({ song, name }) => [song.id, name]))
  const nameOf = (id: string) => names.get(id)

  yield json(
    ARCHIVE_PATHS.head,
    headOf(wanted.kind, at, account.name, {
      patterns: patterns.length,
      songs: rows.length,
      passes: isAll ? await countPasses(db, ownerId) : 0,
    }),
  )
  if (isAll) {
    yield json(ARCHIVE_PATHS.settings, await playerSettings(db as Database, ownerId))
    yield json(
      ARCHIVE_PATHS.days,
      (await daysToArchive(db, ownerId)).map((day): ArchivedDay => ({
        ...day,
        skipped: day.skipped.map(one => ({ ...one, id: withOtherIds(one.id, nameOf) })),
      })),
    )
  }
  for (const [index, { id, pattern, createdAt }] of patterns.entries())
    yield json(ARCHIVE_PATHS.pattern(index + 1), {
      id,
      pattern,
      createdAt: createdAt.toISOString(),
    } satisfies ArchivedPattern)
  // Of songs that are given away alone, the one that comes first is the first edition.
  const first = rows[0]?.song.id
  for (const [index, { song, name }] of rows.entries()) {
    const revisions = await revisionsToArchive(db, song.id)
    const kept = isAll ? revisions : revisions.slice(-1)
    const parts = await partsToArchive(db, song.id)
    const partNames = new Map(parts.map(one => [one.part.id, one.name]))
    const editionOf =
      song.editionOf === null || song.id === first ? null : (nameOf(isAll ? song.editionOf : first!) ?? null)
    yield json(ARCHIVE_PATHS.song(index + 1), {
      id: name,
      title: song.title,
      composer: song.composer,
      edition: song.edition,
      editionOf,
      role: song.role,
      origin: withOtherSong(song.origin, nameOf),
      targetDate: isAll ? song.targetDate : null,
      targetShare: song.targetShare,
      proposal: song.proposal,
      createdAt: song.createdAt.toISOString(),
      archivedAt: isAll ? (song.archivedAt?.toISOString() ?? null) : null,
      deletedAt: isAll ? (song.deletedAt?.toISOString() ?? null) : null,
      revisions: kept.map(({ revision, bars, createdAt }) => ({ revision, bars, createdAt: createdAt.toISOString() })),
      parts: parts.map(({ part, name: partName }) => ({
        id: partName,
        name: part.name,
        section: part.section,
        ...stretchOf(part),
        ownLikeness: Object.fromEntries(
          Object.entries(part.ownLikeness).flatMap(([hand, like]): [string, string | null][] =>
            like === null ? [[hand, null]] : partNames.has(like) ? [[hand, partNames.get(like)!]] : [],
          ),
        ),
      })),
    } satisfies ArchivedSong)
    for (const { id, revision } of kept) {
      const { document, musicXml } = await revisionTexts(db, id)
      yield written(ARCHIVE_PATHS.revision(index + 1, revision, 'json'), document)
      yield written(ARCHIVE_PATHS.revision(index + 1, revision, 'musicxml'), musicXml)
    }
  }
  if (isAll) {
    let number = 0
    for await (const row of passesToArchive(db, ownerId)) {
      number++
      const { assessment, ...pass } = passOf(row)
      yield written(
        ARCHIVE_PATHS.pass(number, 'json'),
        `${JSON.stringify(pass).slice(0, -1)},"assessment":${assessment}}\n`,
      )
      yield written(ARCHIVE_PATHS.pass(number, 'mid'), row.midi)
    }
  }
  yield { path: ARCHIVE_PATHS.sums, bytes: Buffer.from(sums.join('')) }
}

const headOf = (
  kind: ArchiveKind,
  at: Date,
  player: string,
  counts: Pick<ArchiveHead, 'patterns' | 'songs' | 'passes'>,
): ArchiveHead => ({
  format: ARCHIVE_FORMAT,
  version: ARCHIVE_VERSION,
  kind,
  writtenAt: at.toISOString(),
  ...(kind === 'player' ? { player } : {}),
  ...counts,
})

/** A pass as it stands in an archive; its assessment as the text that is kept. */
function passOf({
  pass,
  id,
  song,
  revision,
  part,
  assessment,
}: PassToArchive): Omit<ArchivedPass, 'assessment'> & { assessment: string } {
  const {
    partName,
    place,
    hands,
    mode,
    strictness,
    keyboardDelayMs,
    bpm,
    lengthMs,
    notes,
    right,
    wrong,
    missed,
    extra,
    onTimeShare,
    offsetMs,
    driftPercent,
    unsteadinessMs,
    clean,
    ownSpot,
    cleanBut,
    cleanBefore,
    ear,
    score,
    found,
    sentence,
    notesKey,
    failed,
    remark,
  } = pass
  return {
    id,
    song,
    revision,
    part,
    partName,
    place,
    ...stretchOf(pass),
    hands,
    mode,
    strictness,
    keyboardDelayMs,
    bpm,
    startedAt: pass.startedAt.toISOString(),
    lengthMs,
    notes,
    right,
    wrong,
    missed,
    extra,
    onTimeShare,
    offsetMs,
    driftPercent,
    unsteadinessMs,
    clean,
    ownSpot,
    cleanBut,
    cleanBefore,
    ear,
    score,
    found,
    sentence,
    notesKey,
    failed,
    remark,
    savedAt: pass.savedAt.toISOString(),
    assessment,
  }
}
