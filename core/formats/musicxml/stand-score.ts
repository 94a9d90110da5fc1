import type { Arrangement } from '../../music/arrangement'
import { NotExact } from '../../music/quarters'
import type { ReadScore } from './read'
import { writeMusicXml } from './write'

/** Two hands read two staves; parts that share them out may have more. */
const MAX_PARTS = 2
const PART = /<part\s[^>]*\bid\s*=\s*(["'])(.*?)\1[^>]*>[^]*?<\/part\s*>/g

/**
 * The MusicXML to play from: the staves that the hands play, and others only where they carry words. Where the hands
 * play more than two parts, their notes are written on two staves, `bars` of them where not all are wanted.
 */
export function standScore({ arrangement, musicXml }: ReadScore, bars?: number): string {
  const played = arrangement.partPlays?.filter(one => one === 'right' || one === 'left' || one === 'both').length ?? 0
  if (played > MAX_PARTS) {
    try {
      return writeMusicXml({ ...arrangement, others: [] }, bars).musicXml
    } catch (error) {
      // A rhythm that only the score itself can write: then it is played from as it is.
      if (!(error instanceof NotExact)) throw error
    }
  }
  if (arrangement.others.length === 0 && !arrangement.partPlays?.includes('nobody')) return musicXml
  const own = new Set(arrangement.notes.flatMap(note => [note.id, ...note.tiedIds]))
  const roles = new Set(arrangement.others.flatMap(role => role.notes.map(note => note.id)))
  const gone = new Set<string>()
  const kept = musicXml.replaceAll(PART, (part: string, _quote: string, id: string) => {
    if (holdsAny(part, own) || (part.includes('<lyric') && holdsAny(part, roles))) return part
    gone.add(id)
    return ''
  })
  if (gone.size === 0) return musicXml
  // A bracket around staves that are gone would hold nothing.
  return kept
    .replaceAll(
      /<score-part\s[^>]*\bid\s*=\s*(["'])(.*?)\1[^>]*>[^]*?<\/score-part\s*>/g,
      (entry: string, _quote: string, id: string) => (gone.has(id) ? '' : entry),
    )
    .replaceAll(/<part-group\b(?:[^>]*\/>|[^]*?<\/part-group\s*>)/g, '')
}

/** The parts of a score to play from, by id, that no hand plays: a voice whose words are wanted. */
export function roleParts(standXml: string, { notes }: Arrangement): string[] {
  const own = new Set(notes.flatMap(note => [note.id, ...note.tiedIds]))
  return [...standXml.matchAll(PART)].flatMap(([part, _quote, id]) => (holdsAny(part, own) ? [] : [id!]))
}

/** Whether a part has one of these noteheads. */
function holdsAny(part: string, ids: ReadonlySet<string>): boolean {
  for (const match of part.matchAll(/<note\s[^>]*\bid\s*=\s*["']([^"']*)["']/g)) if (ids.has(match[1]!)) return true
  return false
}
