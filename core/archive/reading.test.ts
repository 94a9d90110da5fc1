import { bytesToHex } from '@noble/hashes/utils'
import { sha256 } from '@noble/hashes/sha2'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { ARCHIVE_PATHS } from './archive'
import { ArchiveReading, checkedRevision } from './reading'

const ID = (number: number) => `0c9bd8f2-0000-4000-8000-${String(number).padStart(12, '0')}`
const bytes = (value: unknown) => new TextEncoder().encode(typeof value === 'string' ? value : JSON.stringify(value))
const { arrangement, musicXml } = demoScore('lantern-ferry.musicxml')
const WHEN = '2026-11-29T12:00:00.000Z'

const head = (more: object = {}) => ({
  format: 'half-step/archive',
  version: 1,
  kind: 'songs',
  writtenAt: WHEN,
  patterns: 0,
  songs: 1,
  passes: 0,
  ...more,
})
const song = (more: object = {}) => ({
  id: ID(1),
  title: 'A',
  composer: '',
  edition: '',
  editionOf: null,
  role: 'song',
  origin: { kind: 'file' },
  targetDate: null,
  targetShare: 1,
  proposal: 1,
  createdAt: WHEN,
  archivedAt: null,
  deletedAt: null,
  revisions: [{ revision: 1, bars: arrangement.bars.length, createdAt: WHEN }],
  parts: [{ id: ID(2), name: 'Beginning', section: null, from: { n: 0, d: 1 }, to: { n: 16, d: 1 }, ownLikeness: {} }],
  ...more,
})
type Documents = [path: string, content: unknown][]
const whole = (more: { head?: object; song?: object } = {}): Documents => [
  [ARCHIVE_PATHS.head, head(more.head)],
  [ARCHIVE_PATHS.song(1), song(more.song)],
  [ARCHIVE_PATHS.revision(1, 1, 'json'), arrangement],
  [ARCHIVE_PATHS.revision(1, 1, 'musicxml'), musicXml],
]
const withSums = (documents: Documents): Documents => [
  ...documents,
  [ARCHIVE_PATHS.sums, documents.map(([path, content]) => `${bytesToHex(sha256(bytes(content)))}  ${path}\n`).join('')],
]
const read = (documents: Documents) => {
  const reading = new ArchiveReading()
  const items = documents.flatMap(([path, content]) => reading.next(path, bytes(content)) ?? [])
  return { items, end: reading.end() }
}

describe('an archive', () => {
  it('brings its documents in order, and says at its end what it held', () => {
    const { items, end } = read(withSums(whole()))
    expect(items.map(item => item.kind)).toEqual(['head', 'song', 'revision'])
    expect(end).toMatchObject({ songs: 1, passes: 0, patterns: 0 })
    const revision = items.find(item => item.kind === 'revision')!
    expect(checkedRevision(revision)).toEqual({ bars: arrangement.bars.length })
  })

  it.each<[string, Documents, RegExp]>([
    ['cut off', whole(), /SHA256SUMS: the archive ends before it/],
    ['empty', [], /no archive of Half Step/],
    ['something else', [['readme.txt', 'hello']], /readme\.txt: this is no archive/],
    [
      'in another order',
      withSums([whole()[0]!, whole()[2]!]),
      /revision-001\.json: half-step\/songs\/0001\/song\.json was expected here/,
    ],
    ['without a document', withSums(whole().slice(0, 3)), /SHA256SUMS: .*musicxml was expected here/],
    [
      'changed in one place',
      [...whole({ song: { title: 'B' } }), withSums(whole()).at(-1)!],
      /song\.json: it is not as it was written/,
    ],
    ['of a newer version', withSums(whole({ head: { version: 7 } })), /newer version of Half Step \(version 7/],
    ['with an edition of nothing', withSums(whole({ song: { editionOf: ID(9) } })), /does not stand before it/],
    [
      'with a part that ends before it begins',
      withSums(whole({ song: { parts: [{ ...song().parts[0], from: { n: 20, d: 1 } }] } })),
      /"parts\[0\]" ends before it begins/,
    ],
    [
      'with one id for two things',
      withSums(whole({ song: { parts: [{ ...song().parts[0], id: ID(1) }] } })),
      /came already/,
    ],
    [
      'with a part that is like one that is not there',
      withSums(whole({ song: { parts: [{ ...song().parts[0], ownLikeness: { left: ID(8) } }] } })),
      /like one that is not there/,
    ],
    ['with a field that nobody knows', withSums(whole({ song: { stars: 5 } })), /"stars" is not allowed/],
    ['with more than it says', [...withSums(whole()), ['half-step/more', '']], /nothing comes after/],
  ])('%s: what is wrong is said with the document', (_, documents, words) => {
    expect(() => read(documents)).toThrow(words)
  })
})

describe('a revision', () => {
  const revision = (document: unknown, xml = musicXml) => ({
    path: 'revision-001.json',
    song: ID(1),
    revision: 1,
    document: typeof document === 'string' ? document : JSON.stringify(document),
    musicXml: xml,
  })
  it('needs a notehead for every note, in a score that can be read', () => {
    expect(() =>
      checkedRevision(revision(arrangement, musicXml.replace(`id="${arrangement.notes[3]!.id}"`, 'id="gone"'))),
    ).toThrow(/revision-001\.musicxml: notes: one of those/)
    expect(() => checkedRevision(revision(arrangement, '<score-partwise>'))).toThrow(/revision-001\.musicxml/)
    expect(() => checkedRevision(revision('{'))).toThrow(/revision-001\.json: it is not valid JSON/)
  })
  it.each<[string, object, RegExp]>([
    [
      'bars with a hole between them',
      { bars: arrangement.bars.map((bar, index) => (index === 2 ? { ...bar, start: { n: 99, d: 1 } } : bar)) },
      /bars\[2\]\.start/,
    ],
    [
      'a note outside its bar',
      { notes: arrangement.notes.map((note, index) => (index === 5 ? { ...note, barIndex: 20 } : note)) },
      /notes\[5\]\.onset/,
    ],
    [
      'two notes of one id',
      {
        notes: arrangement.notes.map((note, index) => (index === 5 ? { ...note, id: arrangement.notes[4]!.id } : note)),
      },
      /stands twice/,
    ],
    [
      'a fraction that is not in lowest terms',
      {
        notes: arrangement.notes.map((note, index) =>
          index === 0 ? { ...note, duration: { n: 2 * note.duration.n, d: 2 * note.duration.d } } : note,
        ),
      },
      /notes\[0\]\.duration/,
    ],
    [
      'words at no note',
      { lyrics: [{ noteId: 'nobody', onset: { n: 0, d: 1 }, verse: '1', text: 'la', hyphen: false }] },
      /lyrics\[0\]\.noteId/,
    ],
  ])('%s is refused, and where', (_, change, words) => {
    expect(() => checkedRevision(revision({ ...arrangement, ...change }))).toThrow(words)
  })
})
