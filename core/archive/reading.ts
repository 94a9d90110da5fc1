import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex } from '@noble/hashes/utils'
import { strFromU8 } from 'fflate'
import Joi from 'joi'
import { findingText } from '../words/findings'
import { checkedArrangement } from '../formats/arrangement-schema'
import { readTake } from '../formats/midi/read-take'
import { ScoreDocument } from '../formats/musicxml/document'
import { UnusableInput } from '../formats/unusable'
import { compare } from '../music/quarters'
import { unplainTextIn } from '../music/plain-text'
import {
  ARCHIVE_FORMAT,
  ARCHIVE_LIMITS,
  ARCHIVE_PATHS,
  ARCHIVE_VERSION,
  type ArchivedDay,
  type ArchivedPass,
  type ArchivedPattern,
  type ArchivedSong,
  type ArchiveHead,
} from './archive'
import { archivedPatternSchema, daysSchema, headSchema, passSchema, songSchema } from './schemas'

/** A revision of a song, as it stands in the archive: to be looked at by `checkedRevision`. */
export interface RevisionDocuments {
  path: string
  song: string
  revision: number
  document: string
  musicXml: string
}
/** A pass and its take, as they stand in the archive: to be looked at by `checkedPass`. */
export interface PassDocuments {
  path: string
  text: string
  midi: Uint8Array
}

/** What an archive brings, one after the other. `settings` are the caller's to look at. */
export type ArchiveItem =
  | { kind: 'head'; head: ArchiveHead }
  | { kind: 'settings'; path: string; settings: unknown }
  | { kind: 'days'; days: ArchivedDay[] }
  | { kind: 'pattern'; pattern: ArchivedPattern }
  | { kind: 'song'; song: ArchivedSong }
  | ({ kind: 'revision' } & RevisionDocuments)
  | ({ kind: 'pass' } & PassDocuments)

/** JSON as the schema allows it. Throws UnusableInput that names the document and the place in it. */
function parsed<T>(schema: Joi.Schema<T>, path: string, text: string): T {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new UnusableInput(path, 'it is not valid JSON')
  }
  const unplain = unplainTextIn(value)
  if (unplain !== undefined)
    throw new UnusableInput(path, `"${unplain}" has a control character or half a character in it`)
  const { error, value: own } = schema.required().validate(value, { convert: false, errors: { wrap: { label: '"' } } })
  if (error) throw new UnusableInput(path, error.message.slice(0, 500))
  return own as T
}

/**
 * Reads an archive document by document, in the order in which they stand (docs/formats.md), and says what is wrong
 * with it: what is missing, stands in the wrong place, is too large, was changed or refers to nothing. It keeps only
 * ids and sums, so that memory does not grow with what was played.
 */
export class ArchiveReading {
  private head: ArchiveHead | undefined
  private readonly sums: string[] = []
  private readonly songs = new Map<string, Set<number>>()
  private readonly ids = new Set<string>()
  private readonly found = { patterns: 0, songs: 0, passes: 0, days: 0 }
  private song: ArchivedSong | undefined
  private revision = 0
  private json: { path: string; text: string } | undefined
  private hasSettings = false
  private hasDays = false
  private isOver = false

  /** The next document, and what it brings; undefined where it only completes one. Throws UnusableInput. */
  next(path: string, bytes: Uint8Array): ArchiveItem | undefined {
    if (this.isOver) throw new UnusableInput(path, `nothing comes after ${ARCHIVE_PATHS.sums}`)
    if (path === ARCHIVE_PATHS.sums) return this.compareSums(strFromU8(bytes))
    const expected = this.expectedPath()
    if (path !== expected)
      throw new UnusableInput(
        path.slice(0, 200),
        this.head ? `${expected} was expected here` : `this is no archive of Half Step: it begins with ${expected}`,
      )
    this.sums.push(`${bytesToHex(sha256(bytes))}  ${path}`)
    return this.read(path, bytes)
  }

  /** The end of the archive. Throws UnusableInput when it was cut off. */
  end(): { head: ArchiveHead; patterns: number; songs: number; passes: number; days: number } {
    if (!this.head) throw new UnusableInput('', `this is no archive of Half Step: it begins with ${ARCHIVE_PATHS.head}`)
    if (!this.isOver) throw new UnusableInput(this.expectedPath(), 'the archive ends before it: it was cut off')
    return { head: this.head, ...this.found }
  }

  /** Looks where a pass belongs. Throws UnusableInput when that is not in the archive, or the pass came already. */
  place(path: string, { id, song, revision }: Pick<ArchivedPass, 'id' | 'song' | 'revision'>): void {
    if (!this.songs.get(song)?.has(revision))
      throw new UnusableInput(path, `it is of revision ${revision} of the song ${song}, which is not in the archive`)
    this.keepId(path, id)
  }

  private keepId(path: string, id: string) {
    if (this.ids.has(id)) throw new UnusableInput(path, `the id ${id} came already`)
    this.ids.add(id)
  }

  private expectedPath(): string {
    if (!this.head) return ARCHIVE_PATHS.head
    if (this.head.kind === 'player' && !this.hasSettings) return ARCHIVE_PATHS.settings
    if (this.head.kind === 'player' && !this.hasDays) return ARCHIVE_PATHS.days
    if (this.found.patterns < this.head.patterns) return ARCHIVE_PATHS.pattern(this.found.patterns + 1)
    if (this.song)
      return ARCHIVE_PATHS.revision(
        this.found.songs,
        this.song.revisions[this.revision]!.revision,
        this.json ? 'musicxml' : 'json',
      )
    if (this.found.songs < this.head.songs) return ARCHIVE_PATHS.song(this.found.songs + 1)
    if (this.json) return ARCHIVE_PATHS.pass(this.found.passes + 1, 'mid')
    return this.found.passes < this.head.passes ? ARCHIVE_PATHS.pass(this.found.passes + 1, 'json') : ARCHIVE_PATHS.sums
  }

  private read(path: string, bytes: Uint8Array): ArchiveItem | undefined {
    if (bytes.length > ARCHIVE_LIMITS.documentBytes)
      throw new UnusableInput(
        path,
        `it has ${bytes.length} bytes; at most ${ARCHIVE_LIMITS.documentBytes} were expected`,
      )
    if (!this.head) return { kind: 'head', head: (this.head = this.readHead(path, strFromU8(bytes))) }
    if (path === ARCHIVE_PATHS.settings) {
      this.hasSettings = true
      return { kind: 'settings', path, settings: parsed(Joi.object(), path, strFromU8(bytes)) }
    }
    if (path === ARCHIVE_PATHS.days) {
      this.hasDays = true
      const days = parsed(daysSchema, path, strFromU8(bytes)) as unknown as ArchivedDay[]
      this.found.days = days.length
      return { kind: 'days', days }
    }
    if (this.found.patterns < this.head.patterns) {
      const pattern = parsed(archivedPatternSchema, path, strFromU8(bytes))
      this.keepId(path, pattern.id)
      this.found.patterns++
      return { kind: 'pattern', pattern }
    }
    if (this.song) return this.readRevision(path, strFromU8(bytes))
    if (this.found.songs < this.head.songs) return { kind: 'song', song: this.readSong(path, strFromU8(bytes)) }
    if (!this.json) {
      this.json = { path, text: strFromU8(bytes) }
      return undefined
    }
    const pass = { path: this.json.path, text: this.json.text, midi: bytes }
    this.json = undefined
    this.found.passes++
    return { kind: 'pass', ...pass }
  }

  private readHead(path: string, text: string): ArchiveHead {
    const head = parsed(Joi.object<ArchiveHead>({ format: Joi.any(), version: Joi.any() }).unknown(), path, text)
    if (head.format !== ARCHIVE_FORMAT) throw new UnusableInput(path, `"format" is not "${ARCHIVE_FORMAT}"`)
    if (Number(head.version) > ARCHIVE_VERSION)
      throw new UnusableInput(
        path,
        `it was written by a newer version of Half Step (version ${String(head.version)} of the format; this one reads up to ${ARCHIVE_VERSION})`,
      )
    return parsed(headSchema, path, text)
  }

  private readSong(path: string, text: string): ArchivedSong {
    const song = parsed(songSchema, path, text)
    if (song.editionOf !== null && !this.songs.has(song.editionOf))
      throw new UnusableInput(path, `it is an edition of ${song.editionOf}, which does not stand before it`)
    const backward = song.parts.findIndex(part => compare(part.from, part.to) >= 0)
    if (backward >= 0) throw new UnusableInput(path, `"parts[${backward}]" ends before it begins`)
    for (const one of [song, ...song.parts]) this.keepId(path, one.id)
    const known = new Set(song.parts.map(part => part.id))
    if (
      song.parts.some(({ ownLikeness }) =>
        Object.values(ownLikeness).some(like => like !== null && like !== undefined && !known.has(like)),
      )
    )
      throw new UnusableInput(path, 'a part is like one that is not there')
    this.songs.set(song.id, new Set(song.revisions.map(one => one.revision)))
    this.song = song
    this.revision = 0
    this.found.songs++
    return song
  }

  private readRevision(path: string, text: string): ArchiveItem | undefined {
    if (!this.json) {
      this.json = { path, text }
      return undefined
    }
    const song = this.song!
    const item = {
      kind: 'revision' as const,
      path: this.json.path,
      song: song.id,
      revision: song.revisions[this.revision]!.revision,
      document: this.json.text,
      musicXml: text,
    }
    this.json = undefined
    if (++this.revision === song.revisions.length) this.song = undefined
    return item
  }

  private compareSums(text: string): undefined {
    const expected = this.expectedPath()
    if (expected !== ARCHIVE_PATHS.sums) throw new UnusableInput(ARCHIVE_PATHS.sums, `${expected} was expected here`)
    const said = text.split('\n').filter(line => line !== '')
    const other = this.sums.findIndex((line, index) => said[index] !== line)
    if (other >= 0)
      throw new UnusableInput(this.sums[other]!.slice(66), 'it is not as it was written: its SHA-256 is another one')
    if (said.length !== this.sums.length)
      throw new UnusableInput(ARCHIVE_PATHS.sums, 'it names documents that are not there')
    this.isOver = true
    return undefined
  }
}

/**
 * A revision's notes as they are kept: the document is an arrangement, its MusicXML a score, and the noteheads of the
 * one are in the other. Gives the number of bars. Throws UnusableInput that names the document and the place in it.
 */
export function checkedRevision({ path, document, musicXml }: RevisionDocuments): { bars: number } {
  let value: unknown
  try {
    value = JSON.parse(document)
  } catch {
    throw new UnusableInput(path, 'it is not valid JSON')
  }
  const arrangement = inDocument(path, () => checkedArrangement(value))
  return inDocument(path.replace(/json$/, 'musicxml'), () => {
    if (!new ScoreDocument({ arrangement, musicXml }).holds(arrangement.notes))
      throw new UnusableInput('notes', `one of those in ${path} has no notehead here`)
    return { bars: arrangement.bars.length }
  })
}

/**
 * A pass as it is kept, its assessment apart as text; its take can be read. Throws UnusableInput that names the
 * document and the place in it.
 */
export function checkedPass({ path, text, midi }: PassDocuments): {
  pass: Omit<ArchivedPass, 'assessment'>
  assessment: string
} {
  const { assessment, ...pass } = parsed(passSchema, path, text)
  if (compare(pass.from, pass.to) >= 0) throw new UnusableInput(path, 'it ends before it begins')
  inDocument(path, () => {
    for (const finding of [
      ...(pass.found ?? []),
      ...(pass.ear === assessment.ear ? (assessment.findings ?? []) : []),
    ]) {
      try {
        findingText(finding)
      } catch {
        throw new UnusableInput('findings', `one of the kind "${finding.kind}" lacks what it is told with`)
      }
    }
  })
  inDocument(path.replace(/json$/, 'mid'), () => readTake(midi))
  return { pass, assessment: JSON.stringify(assessment) }
}

function inDocument<Made>(path: string, make: () => Made): Made {
  try {
    return make()
  } catch (error) {
    if (error instanceof UnusableInput) throw new UnusableInput(path, error.message)
    if (error instanceof RangeError) throw new UnusableInput(path, error.message)
    throw error
  }
}
