import type { PlayerSettings } from '#shared/utils/settings'
import { createHash } from 'node:crypto'
import type { Readable } from 'node:stream'
import { v5 as idFollowing } from 'uuid'
import type { ArchivedDay, ArchivedPass, ArchivedSong, ArchiveHead } from '#core/archive/archive'
import { ArchiveReading, type PassDocuments, type RevisionDocuments } from '#core/archive/reading'
import { UnusableInput } from '#core/formats/unusable'
import { documentsOf } from '#shared/archive-file'
import { settingsSchema } from '#shared/utils/settings-schema'
import { changeSettings } from '../database/queries/accounts'
import { newestOf } from '../database/queries/arrangements'
import {
  beginRestoring,
  forgetRecords,
  insertArchivedDays,
  insertArchivedPasses,
  insertArchivedPattern,
  insertArchivedRevision,
  insertArchivedSong,
  knownNames,
  lockCount,
  moveParts,
  revisionLike,
  setCount,
  upsertArchivedParts,
} from '../database/queries/archive'
import { MAX_PATTERNS } from '../database/queries/patterns'
import { rebuildSums } from '../database/queries/sums'
import type { RestoredCounts } from '#core/words/archive'
import type { WorkerPool } from '../heavy/pool'
import type { Database, Transaction } from '../database/connection'
import { Refusal } from './refusal'
import { withOtherIds, withOtherSong } from './write-archive'

/** Passes validated and stored at once. */
const AT_ONCE = 40

/**
 * Restores an archive into a player's account, all or nothing. What is there already, from the same archive or another
 * one, stays as it is; ids are derived from the player and the ids in the archive.
 * Idempotent: the same archive twice changes nothing.
 * Settings are restored only into an account that has none yet. `told` reports progress in passes. Throws a Refusal
 * that says what in the archive is wrong.
 */
export async function restoreArchive(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  file: Readable,
  told: (done: number, of: number) => void,
): Promise<RestoredCounts> {
  try {
    return await db.transaction(async tx => {
      if (!(await beginRestoring(tx, ownerId)))
        throw new Refusal(409, 'an archive is being restored into this account already')
      return await new Restoring(tx, heavy, ownerId, told).all(file)
    })
  } catch (error) {
    if (error instanceof UnusableInput) throw new Refusal(422, error.message)
    throw error
  }
}

class Restoring {
  private readonly reading = new ArchiveReading()
  private known!: Awaited<ReturnType<typeof knownNames>>
  private isEmpty = false
  private readonly brought = { songs: 0, patterns: 0, passes: 0, days: 0, settings: false }
  private total = 0
  /** The songs of the archive so far, by what it calls them. */
  private readonly songs = new Set<string>()
  /** Where a song's revisions lie here, by what the archive calls the song and their number. */
  private readonly revisions = new Map<string, string>()
  private song: { archived: ArchivedSong; isNew: boolean; left: number; newest: string | undefined } | undefined
  private days: ArchivedDay[] = []
  private passes: PassDocuments[] = []
  private looked: Promise<unknown> = Promise.resolve()
  private ordinal: number | undefined
  private done = 0

  constructor(
    private readonly tx: Transaction,
    private readonly heavy: WorkerPool,
    private readonly ownerId: string,
    private readonly told: (done: number, of: number) => void,
  ) {}

  async all(file: Readable): Promise<RestoredCounts> {
    this.known = await knownNames(this.tx, this.ownerId)
    this.isEmpty = this.known.songs.size === 0 && this.known.patterns.size === 0
    const head = await this.takeAll(file)
    if (this.ordinal !== undefined) await setCount(this.tx, this.ownerId, this.ordinal)
    this.brought.days = await insertArchivedDays(
      this.tx,
      this.ownerId,
      this.days.map(day => ({
        ...day,
        skipped: day.skipped.map(one => ({ ...one, id: withOtherIds(one.id, id => this.songIdIfAny(id)) })),
      })),
    )
    if (this.brought.passes > 0) await rebuildSums(this.tx, this.ownerId)
    await forgetRecords(this.tx, this.ownerId)
    return { ...this.brought, of: { songs: head.songs, patterns: head.patterns, passes: head.passes } }
  }

  private async takeAll(file: Readable): Promise<ArchiveHead> {
    try {
      for await (const { path, bytes } of documentsOf(file)) await this.take(path, bytes)
      await this.lookAtPasses()
      await this.looked
      return this.reading.end().head
    } finally {
      // Nothing may go on being kept once the transaction is over.
      await this.looked.catch(() => {})
    }
  }

  private async take(path: string, bytes: Uint8Array): Promise<void> {
    const item = this.reading.next(path, bytes)
    switch (item?.kind) {
      case undefined:
        return
      case 'head':
        this.total = item.head.passes
        return
      case 'settings':
        return await this.takeSettings(path, item.settings)
      case 'days':
        this.days = item.days
        return
      case 'pattern': {
        if (this.known.patterns.has(item.pattern.id)) return
        if (this.known.patterns.size + ++this.brought.patterns > MAX_PATTERNS)
          throw new Refusal(
            422,
            `with this archive there would be more than ${MAX_PATTERNS} patterns of your own; please delete some first`,
          )
        return await insertArchivedPattern(this.tx, {
          id: this.following(item.pattern.id),
          archiveId: item.pattern.id,
          ownerId: this.ownerId,
          document: item.pattern.pattern,
          createdAt: new Date(item.pattern.createdAt),
        })
      }
      case 'song':
        return await this.takeSong(item.song)
      case 'revision':
        return await this.takeRevision(item)
      case 'pass':
        this.passes.push({ path: item.path, text: item.text, midi: item.midi })
        if (this.passes.length >= AT_ONCE) await this.lookAtPasses()
    }
  }

  /** The id here of what the archive calls so: always the same for this player. */
  private following(name: string): string {
    return idFollowing(name, this.ownerId)
  }

  private songId(name: string): string {
    return this.known.songs.get(name) ?? this.following(name)
  }

  private songIdIfAny(name: string): string | undefined {
    return this.known.songs.has(name) || this.songs.has(name) ? this.songId(name) : undefined
  }

  private async takeSettings(path: string, settings: unknown): Promise<void> {
    const { error } = settingsSchema.validate(settings, { convert: false })
    if (error) throw new UnusableInput(path, error.message)
    if (!this.isEmpty) return
    await changeSettings(this.tx, this.ownerId, settings as Partial<PlayerSettings>)
    this.brought.settings = true
  }

  private async takeSong(archived: ArchivedSong): Promise<void> {
    const id = this.known.songs.get(archived.id)
    this.song = {
      archived,
      isNew: id === undefined,
      left: archived.revisions.length,
      newest: id === undefined ? undefined : await newestOf(this.tx, id),
    }
    this.songs.add(archived.id)
    if (id !== undefined) return
    this.brought.songs++
    const {
      id: archiveId,
      revisions: _revisions,
      parts: _parts,
      createdAt,
      archivedAt,
      deletedAt,
      editionOf,
      origin,
      ...song
    } = archived
    const moment = (text: string | null) => (text === null ? null : new Date(text))
    await insertArchivedSong(this.tx, this.ownerId, {
      ...song,
      id: this.following(archiveId),
      archiveId,
      origin: withOtherSong(origin, name => this.songIdIfAny(name)),
      editionOf: editionOf === null ? null : this.songId(editionOf),
      createdAt: new Date(createdAt),
      archivedAt: moment(archivedAt),
      deletedAt: moment(deletedAt),
    })
  }

  private async takeRevision(item: RevisionDocuments): Promise<void> {
    const { archived, isNew } = this.song!
    const songId = this.songId(archived.id)
    const { revision, bars, createdAt } = archived.revisions.find(one => one.revision === item.revision)!
    const like = isNew ? undefined : await revisionLike(this.tx, songId, item.document)
    if (like === undefined) {
      const looked = await this.heavy.run(this.ownerId, 'archivedRevision', item)
      if ('refused' in looked) throw new Refusal(422, looked.refused)
      if (looked.bars !== bars) throw new Refusal(422, `${item.path}: it has ${looked.bars} bars and not ${bars}`)
    }
    // Two revisions of one number and other notes, from accounts that went different ways, are two.
    const id =
      like ?? this.following(`${archived.id} ${revision} ${createHash('sha256').update(item.document).digest('hex')}`)
    if (like === undefined)
      await insertArchivedRevision(
        this.tx,
        { id, ownerId: this.ownerId, songId, revision, bars, createdAt: new Date(createdAt) },
        item,
      )
    this.revisions.set(`${archived.id} ${revision}`, id)
    if (--this.song!.left === 0) await this.takeParts()
  }

  /**
   * Parts belong to the newest revision: of a song that is new here, or that the archive knows further on than this
   * account does.
   */
  private async takeParts(): Promise<void> {
    const { archived, isNew, newest: before } = this.song!
    const songId = this.songId(archived.id)
    const newest = await newestOf(this.tx, songId)
    this.song = undefined
    if (newest === before) return
    if (!isNew) await moveParts(this.tx, songId, newest!)
    const partId = (name: string) => this.known.parts.get(name) ?? this.following(name)
    await upsertArchivedParts(
      this.tx,
      archived.parts.map((part, place) => ({
        id: partId(part.id),
        ...(this.known.parts.has(part.id) ? {} : { archiveId: part.id }),
        ownerId: this.ownerId,
        arrangementId: newest!,
        place,
        name: part.name,
        section: part.section,
        fromN: part.from.n,
        fromD: part.from.d,
        toN: part.to.n,
        toD: part.to.d,
        ownLikeness: Object.fromEntries(
          Object.entries(part.ownLikeness).map(([hand, like]) => [hand, like === null ? null : partId(like)]),
        ),
      })),
    )
    for (const { id } of archived.parts) this.known.parts.set(id, partId(id))
  }

  /** Has some passes looked at in a thread, while those before them are kept. */
  private async lookAtPasses(): Promise<void> {
    const some = this.passes
    this.passes = []
    if (some.length === 0) return
    await this.looked
    const looking = this.heavy.run(this.ownerId, 'archivedPasses', { passes: some })
    this.looked = looking.then(async looked => {
      if ('refused' in looked) throw new Refusal(422, looked.refused)
      await this.keepPasses(some, looked)
    })
    // A rejection here surfaces at the next await.
    this.looked.catch(() => {})
  }

  private async keepPasses(
    some: PassDocuments[],
    looked: { path: string; pass: Omit<ArchivedPass, 'assessment'>; assessment: string }[],
  ): Promise<void> {
    this.ordinal ??= await lockCount(this.tx, this.ownerId)
    const rows = looked.flatMap(({ path, pass, assessment }, index) => {
      this.reading.place(path, pass)
      if (this.known.passes.has(pass.id)) return []
      const { id: archiveId, song, revision, part, from, to, startedAt, savedAt, ...columns } = pass
      const id = this.following(archiveId)
      return [
        {
          midi: some[index]!.midi,
          assessment,
          row: {
            ...columns,
            id,
            archiveId,
            arrangementId: this.revisions.get(`${song} ${revision}`)!,
            partId: part === null ? null : (this.known.parts.get(part) ?? null),
            fromN: from.n,
            fromD: from.d,
            toN: to.n,
            toD: to.d,
            startedAt: new Date(startedAt),
            savedAt: new Date(savedAt),
            ordinal: ++this.ordinal!,
            takeId: this.following(`take ${archiveId}`),
          },
        },
      ]
    })
    await insertArchivedPasses(this.tx, this.ownerId, rows)
    this.brought.passes += rows.length
    this.done += looked.length
    this.told(this.done, this.total)
  }
}
