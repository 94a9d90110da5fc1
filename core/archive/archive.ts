import type { PracticeRole, SessionItemName } from '../coach/session'
import type { Assessment } from '../ear/assessment'
import type { Finding, FindingKind } from '../ear/finding'
import type { Strictness } from '../ear/parameters'
import type { SongOrigin } from '../formats/song-origin'
import type { Hands } from '../music/arrangement'
import type { Quarters } from '../music/quarters'
import type { SpanPlace } from '../music/stretch-place'
import type { OwnLikeness } from '../parts/likeness'
import type { HandPattern } from '../patterns/hand-pattern'

/**
 * An archive is a tar file, compressed with gzip, of documents in this order (docs/formats.md): its head; the player's
 * settings and days; patterns; songs, each with its revisions as JSON and MusicXML; passes, each with its take as MIDI,
 * oldest first; and the SHA-256 of them all. Whatever refers to something else calls it by its id, and stands after it.
 */
export const ARCHIVE_FORMAT = 'half-step/archive'
export const ARCHIVE_VERSION = 1
/** What files of archives end in. */
export const ARCHIVE_ENDING = 'half-step.tar.gz'

/** All of a player, or songs to be given to somebody else: those without days, settings and passes. */
export type ArchiveKind = 'player' | 'songs'

export interface ArchiveHead {
  format: typeof ARCHIVE_FORMAT
  version: typeof ARCHIVE_VERSION
  kind: ArchiveKind
  /** ISO 8601. */
  writtenAt: string
  /** Whose it is; in archives of a player. */
  player?: string
  /** How many of each come. */
  patterns: number
  songs: number
  passes: number
}

export interface ArchivedDay {
  day: string
  minutes: number
  skipped: { id: string; what?: SessionItemName; text?: string; at: string }[]
  note: string
}

export interface ArchivedPattern {
  id: string
  pattern: HandPattern
  createdAt: string
}

export interface ArchivedPart {
  id: string
  name: string
  section: string | null
  from: Quarters
  to: Quarters
  ownLikeness: OwnLikeness
}

/** A song without its notes; these stand in its revisions, the newest of which has the parts. */
export interface ArchivedSong {
  id: string
  title: string
  composer: string
  edition: string
  /** The song that it is an edition of: one that stands before it. */
  editionOf: string | null
  role: PracticeRole
  origin: SongOrigin
  targetDate: string | null
  targetShare: number
  proposal: number
  createdAt: string
  archivedAt: string | null
  deletedAt: string | null
  revisions: { revision: number; bars: number; createdAt: string }[]
  parts: ArchivedPart[]
}

/** A pass with its assessment. Figures as in the Logbook; times in ms. */
export interface ArchivedPass {
  id: string
  song: string
  revision: number
  /** Null where the part was removed, or it was the whole song. */
  part: string | null
  partName: string
  place: SpanPlace | null
  from: Quarters
  to: Quarters
  hands: Hands
  mode: 'steady' | 'free' | 'own-time'
  strictness: Strictness
  keyboardDelayMs: number
  bpm: number
  startedAt: string
  lengthMs: number
  notes: number
  right: number
  wrong: number
  missed: number
  extra: number
  onTimeShare: number
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  clean: boolean
  ownSpot: boolean
  cleanBut: FindingKind[]
  cleanBefore: boolean | null
  ear: number
  score: number
  found: Finding[] | null
  sentence: string | null
  notesKey: string | null
  failed: Quarters[] | null
  remark: string
  savedAt: string
  assessment: Assessment
}

/** The names of the documents in an archive. Numbers count from 1, filled up with noughts so that they sort. */
const numbered = (number: number, digits: number) => String(number).padStart(digits, '0')
export const ARCHIVE_PATHS = {
  head: 'half-step/archive.json',
  settings: 'half-step/settings.json',
  days: 'half-step/days.json',
  pattern: (number: number) => `half-step/patterns/${numbered(number, 3)}.json`,
  song: (number: number) => `half-step/songs/${numbered(number, 4)}/song.json`,
  revision: (number: number, revision: number, ending: 'json' | 'musicxml') =>
    `half-step/songs/${numbered(number, 4)}/revision-${numbered(revision, 3)}.${ending}`,
  pass: (number: number, ending: 'json' | 'mid') => `half-step/passes/${numbered(number, 6)}.${ending}`,
  sums: 'half-step/SHA256SUMS',
} as const

/** What an archive may hold at most: far above what a life of practice comes to. */
export const ARCHIVE_LIMITS = {
  /** Bytes of the file, of any one document in it, and of all of them together. */
  fileBytes: 4_000_000_000,
  documentBytes: 60_000_000,
  unpackedBytes: 20_000_000_000,
  patterns: 200,
  songs: 5_000,
  revisions: 2_000,
  parts: 400,
  days: 40_000,
  passes: 500_000,
} as const
