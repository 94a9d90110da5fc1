import { LRUCache } from 'lru-cache'
import { checkedPass, checkedRevision, type PassDocuments, type RevisionDocuments } from '#core/archive/reading'
import type { CoachSettings } from '#core/coach/settings'
import { planSong, sentPlan, type SentPlan } from '#core/coach/song-plan'
import type { CoachPart } from '#core/coach/stages'
import { drillOf, editionOf, moved, withHandExchanged } from '#core/formats/arranged'
import { applyChange, ImpossibleChange, type Change } from '#core/edit/change'
import type { Take } from '#core/ear/take'
import { readTake } from '#core/formats/midi/read-take'
import { ScoreDocument } from '#core/formats/musicxml/document'
import type { ReadScore } from '#core/formats/musicxml/read'
import { roleParts, standScore } from '#core/formats/musicxml/stand-score'
import { readSong, type SongChoices, type SongFormat } from '#core/formats/read-score'
import { withHandsSwapped, withRoles } from '#core/formats/roles'
import { UnusableInput } from '#core/formats/unusable'
import { arrangementEnd, type Arrangement, type Hands } from '#core/music/arrangement'
import { LIMITS } from '#core/music/limits'
import { wholePassage } from '#core/music/passage'
import { NotExact, ZERO } from '#core/music/quarters'
import type { VoiceChoice } from '#core/music/voice'
import { proposeParts, type ProposedPart } from '#core/parts/propose'
import type { DrillRecipe } from '#core/patterns/drills/recipe'
import type { NoteNames } from '#core/words/note-names'
import { drillPartName } from '#core/words/patterns'
import type { SentPass } from '#shared/utils/passes'
import type { JudgedPass } from '../database/schema/passes'
import { judgedPass, judgeSentPass, type PassOwner } from '../domain/judged-pass'
import { judgePass, type PassToJudge } from '../domain/judge-pass'
import type { EditionMaking } from '../domain/edition-making'
import { fromText, toText, type ScoreText } from '../domain/score-text'
import { songNotes, type NotedPart, type SongNotes } from '../domain/song-notes'

type BaseText = Pick<ScoreText, 'document' | 'musicXml'>

/** A request that cannot be done, with the reason for the player. */
export interface Refused {
  refused: string
}

const refused = (error: unknown): Refused => {
  if (error instanceof UnusableInput || error instanceof ImpossibleChange || error instanceof NotExact)
    return { refused: error.message }
  throw error
}

/** Reads a song and proposes its parts. */
export function song({
  bytes,
  name,
  choices,
}: {
  bytes: Uint8Array
  name: string
  choices: SongChoices
}): { score: ScoreText; parts: ProposedPart[]; format: SongFormat } | Refused {
  try {
    const { arrangement, musicXml, format } = readSong(bytes, name, choices)
    return { score: toText({ arrangement, musicXml }), parts: proposeParts(arrangement), format }
  } catch (error) {
    return refused(error)
  }
}

/** Makes corrections, one after the other. */
export function corrections({ text, changes }: { text: BaseText; changes: Change[] }): ScoreText | Refused {
  const score = fromText(text)
  const notes =
    score.arrangement.notes.length + score.arrangement.others.reduce((sum, role) => sum + role.notes.length, 0)
  if (changes.length * notes > LIMITS.changedNotes)
    return {
      refused: `${changes.length} corrections at once are too many for a song of ${notes} notes; at most ${Math.floor(LIMITS.changedNotes / notes)} can be saved together`,
    }
  try {
    const document = changes.reduce((before, change) => applyChange(before, change), score.arrangement)
    return toText(new ScoreDocument(score).revised(document))
  } catch (error) {
    return refused(error)
  }
}

/** Gives the parts or tracks of a song to other hands or players, or turns the hands round. */
export function roles({
  text,
  voices,
  swapHands,
}: {
  text: BaseText
  voices: VoiceChoice
  swapHands: boolean
}): ScoreText | 'unchanged' | Refused {
  try {
    const score = fromText(text)
    const given = withRoles(score, voices)
    const turned = swapHands ? withHandsSwapped(given) : given
    return turned === score ? 'unchanged' : toText(turned)
  } catch (error) {
    return refused(error)
  }
}

/** Makes an edition of a song, as wide as the player reaches. */
export function edition({
  text,
  making,
  reach,
}: {
  text: BaseText
  making: EditionMaking
  reach: number
}): ScoreText | Refused {
  try {
    const score = fromText(text)
    switch (making.kind) {
      case 'pattern':
        return toText(withHandExchanged(score, { ...making, reach }))
      case 'level':
        return toText(editionOf(score, making.level, { pattern: making.pattern, reach }))
      case 'key':
        return toText(moved(score, making.halfSteps))
    }
  } catch (error) {
    return refused(error)
  }
}

/** Makes a drill from its recipe, with the names of its parts. */
export function drill({
  recipe,
  reach,
  noteNames,
}: {
  recipe: DrillRecipe
  reach: number
  noteNames: NoteNames
}): { score: ScoreText; parts: ProposedPart[] } | Refused {
  try {
    const { arrangement, musicXml, parts } = drillOf(recipe, { reach })
    return {
      score: toText({ arrangement, musicXml }),
      parts: parts.map(part => ({ name: drillPartName(part, noteNames), from: part.from, to: part.to })),
    }
  } catch (error) {
    return refused(error)
  }
}

/** The notes that this thread has judged last, by their ids: an arrangement does not change once passes point to it. */
const arrangementCache = new LRUCache<string, Arrangement>({
  maxSize: 4 * LIMITS.notes,
  sizeCalculation: arrangement => 1 + arrangement.notes.length,
})

/** The notes that came along, or that this thread knows; 'unknown' when there are none. */
function withCachedArrangement<Made>(
  arrangementId: string,
  arrangement: Arrangement | undefined,
  make: (arrangement: Arrangement) => Made,
): Made | 'unknown' {
  if (arrangement) arrangementCache.set(arrangementId, arrangement)
  const notes = arrangement ?? arrangementCache.get(arrangementId)
  return notes ? make(notes) : 'unknown'
}

/** Judges a pass as it was sent: everything that is kept of it. */
export const pass = ({
  owner,
  sent,
  arrangement,
}: {
  owner: PassOwner
  sent: SentPass
  arrangement?: Arrangement
}): JudgedPass | 'outside' | 'unknown' =>
  withCachedArrangement(owner.arrangementId, arrangement, notes => judgeSentPass(notes, owner, sent))

/** What the notes of a song and its parts say. */
export const songOverview = ({
  arrangementId,
  parts,
  arrangement,
}: {
  arrangementId: string
  parts: NotedPart[]
  arrangement?: Arrangement
}): SongNotes | 'unknown' => withCachedArrangement(arrangementId, arrangement, notes => songNotes(notes, parts))

export interface PlanWanted {
  arrangementId: string
  parts: CoachPart[]
  settings: CoachSettings
  targetShare: number
  arrangement?: Arrangement
  /** Earlier revisions, newest first. */
  earlierRevisions?: Arrangement[]
}

/** Plans a song; what earlier revisions have to say is in its changes, and they themselves stay behind. */
export const plan = ({
  arrangementId,
  parts,
  settings,
  targetShare,
  arrangement,
  earlierRevisions,
}: PlanWanted): SentPlan | 'unknown' =>
  withCachedArrangement(arrangementId, arrangement, notes => ({
    ...sentPlan(planSong(notes, parts, settings, targetShare, { earlierRevisions })),
    earlierRevisions: [],
  }))

/** The MusicXML for the Stand, and its parts of other players. */
export function stand({ score }: { score: ReadScore }): { musicXml: string; roleParts: ReturnType<typeof roleParts> } {
  const musicXml = standScore(score)
  return { musicXml, roleParts: roleParts(musicXml, score.arrangement) }
}

/** Judges a kept take again. */
export function again({
  arrangement,
  midi,
  played,
}: {
  arrangement: Arrangement
  midi: Uint8Array
  played: Omit<PassToJudge, 'take'>
}): ReturnType<typeof judgePass> | Refused {
  try {
    return judgePass(arrangement, { ...played, take: readTake(midi) })
  } catch (error) {
    return refused(error)
  }
}

export interface RecordingToJudge {
  id: string
  ownerId: string
  arrangementId: string
  arrangement: Arrangement
  bytes: Uint8Array
  hands: Hands
  strictness: PassToJudge['strictness']
  startedAt: Date
}

/** Reads a recording of a whole song, played freely, and judges it: everything that is kept of it. */
export function recording({ arrangement, bytes, hands, ...its }: RecordingToJudge): JudgedPass | Refused {
  try {
    const take = readTake(bytes)
    if (take.notes.length === 0) return { refused: 'the MIDI file has no notes' }
    if (take.notes.length > LIMITS.takeNotes)
      return { refused: `the MIDI file has ${take.notes.length} notes; at most ${LIMITS.takeNotes} are assessed` }
    const played = {
      ...its,
      partName: '',
      stretch: { from: ZERO, to: arrangementEnd(arrangement) },
      passage: wholePassage(arrangement, hands),
      mode: 'free' as const,
      hands,
      lengthMs: lengthOf(take),
      offsetMs: 0,
      take,
    }
    return judgedPass(arrangement, played, judgePass(arrangement, played))
  } catch (error) {
    return refused(error)
  }
}

function lengthOf({ notes }: Take): number {
  const last = notes.reduce((latest, note) => Math.max(latest, note.onsetMs + note.durationMs), 0)
  return last - Math.min(0, notes[0]!.onsetMs)
}

/** Looks at a revision of a song in an archive. */
export function archivedRevision(revision: RevisionDocuments): ReturnType<typeof checkedRevision> | Refused {
  try {
    return checkedRevision(revision)
  } catch (error) {
    return refused(error)
  }
}

/** Looks at passes in an archive. */
export function archivedPasses({
  passes,
}: {
  passes: PassDocuments[]
}): (ReturnType<typeof checkedPass> & { path: string })[] | Refused {
  try {
    return passes.map(pass => ({ path: pass.path, ...checkedPass(pass) }))
  } catch (error) {
    return refused(error)
  }
}
