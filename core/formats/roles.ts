import { group } from 'd3-array'
import { beyondHands, splitBetweenHands, rolesOf } from '../hands/deal-out'
import { separateHands } from '../hands/separate'
import { tempoAt, voiceOfTrack, type Arrangement, type Hand, type Note, type Track } from '../music/arrangement'
import { add, compare, equal, quarters, subtract, toDecimal, ZERO } from '../music/quarters'
import { otherHand, type VoiceAssignment, type VoiceChoice, type VoiceNotes } from '../music/voice'
import { ScoreDocument } from './musicxml/document'
import type { WrittenPart } from './musicxml/part'
import { parseScore, understood, voicesOfParts, type ReadScore, type WrittenScore } from './musicxml/read'
import { writeMusicXml } from './musicxml/write'
import { UnusableInput } from './unusable'

type AnyNote = Omit<Note, 'hand'> & { hand?: Hand }
const allNotes = ({ notes, others }: Arrangement): AnyNote[] => [...notes, ...others.flatMap(role => role.notes)]

/**
 * Who plays what in a song that was read before: the tracks it was made from, or the parts of its score. Throws
 * UnusableInput for a text that is no score.
 */
export function voicesOf({ arrangement, musicXml }: ReadScore): VoiceNotes[] {
  const { tracks } = arrangement
  if (tracks) {
    const notes = group(allNotes(arrangement), note => note.track)
    return tracks.map(track =>
      voiceOfTrack(
        track,
        (notes.get(track.number) ?? []).map(note => ({
          onset: toDecimal(note.onset),
          length: toDecimal(note.duration),
          pitch: note.pitch,
        })),
      ),
    )
  }
  const score = parseScore(musicXml)
  return voicesOfParts(score, playsOf(arrangement, score.parts))
}

/** Who plays each part of a score. */
const playsOf = (arrangement: Arrangement, parts: readonly WrittenPart[]): VoiceAssignment[] =>
  arrangement.partPlays?.length === parts.length ? arrangement.partPlays : playsSeen(arrangement, parts)

/** In songs of earlier versions: who plays a part is seen from where its notes are. */
function playsSeen({ notes, others }: Arrangement, parts: readonly WrittenPart[]): VoiceAssignment[] {
  const hands = new Map(notes.map(note => [note.id, note.hand]))
  const roles = new Set(others.flatMap(role => role.notes.map(note => note.id)))
  return parts.map(part => {
    const ids = part.notes.map(note => note.element.attributes.id ?? '')
    const own = new Set(ids.flatMap(id => hands.get(id) ?? []))
    return own.size === 2
      ? 'both'
      : ([...own][0] ?? (ids.length === 0 || ids.some(id => roles.has(id)) ? 'role' : 'nobody'))
  })
}

/**
 * The song with other players for its voices; what `choice` does not name stays as it is. Bars, corrections, fingers
 * and marks are kept, and the hands of notes whose voice goes on as before. Throws UnusableInput for a voice that is
 * not there, and when none is left to a hand.
 */
export function withRoles(score: ReadScore, choice: VoiceChoice): ReadScore {
  const { arrangement, musicXml } = score
  const { tracks } = arrangement
  if (tracks) {
    const plays = decided(
      tracks.map(track => track.plays),
      choice,
    ).map((own, index) => (tracks[index]!.percussion && own !== 'nobody' ? ('role' as const) : own))
    return plays.every((own, index) => own === tracks[index]!.plays)
      ? score
      : tracksGiven(
          arrangement,
          tracks.map((track, index) => ({ ...track, plays: plays[index]! })),
        )
  }
  const written = parseScore(musicXml)
  const before = playsOf(arrangement, written.parts)
  const plays = decided(before, choice)
  return plays.every((own, index) => own === before[index]) ? score : partsGiven(arrangement, written, before, plays)
}

/** Who plays each voice once the player has decided. */
function decided(before: readonly VoiceAssignment[], choice: VoiceChoice): VoiceAssignment[] {
  const missing = Object.keys(choice).find(number => before[Number(number) - 1] === undefined)
  if (missing !== undefined) throw new UnusableInput(`voice ${missing}`, `the song has ${before.length}`)
  const plays = before.map((own, index) => choice[index + 1] ?? own)
  if (!plays.some(one => one === 'right' || one === 'left' || one === 'both'))
    throw new UnusableInput('the whole score', 'at least one voice for a hand was expected')
  return plays
}

/** A score whose parts are other players' now: its document stays as it is, and is understood anew. */
function partsGiven(
  arrangement: Arrangement,
  written: WrittenScore,
  before: readonly VoiceAssignment[],
  plays: readonly VoiceAssignment[],
): ReadScore {
  const { arrangement: read, musicXml } = understood(
    written,
    Object.fromEntries(plays.map((own, index) => [index + 1, own])),
  )
  const known = new Map(arrangement.notes.map(note => [note.id, note]))
  const kept = new Set(
    written.parts
      .filter((_, index) => before[index] === 'both' && plays[index] === 'both')
      .flatMap(part => part.notes.map(note => note.element.attributes.id)),
  )
  const notes = read.notes.map(note => {
    const was = known.get(note.id)
    if (!was) return note
    const hand = kept.has(note.id) ? was.hand : note.hand
    return { ...note, hand, ...fingerOf(was, hand) }
  })
  return { arrangement: { ...read, title: arrangement.title, composer: arrangement.composer, notes }, musicXml }
}

/** A finger is its hand's. */
const fingerOf = ({ hand: own, finger, fingerBy }: AnyNote, hand: Hand) =>
  own === hand && finger !== undefined ? { finger, ...(fingerBy ? { fingerBy } : {}) } : {}

/** A song made from tracks: its notes are dealt out anew and written anew. */
function tracksGiven(arrangement: Arrangement, tracks: Track[]): ReadScore {
  const all = allNotes(arrangement)
  const byTrack = group(all, note => note.track)
  const loose = (note: AnyNote) => ({
    note,
    onset: toDecimal(note.onset),
    end: toDecimal(add(note.onset, note.duration)),
    pitch: note.pitch,
  })
  const given = tracks.map(({ number, plays }) => ({
    plays,
    notes: (byTrack.get(number) ?? []).map(loose).sort((a, b) => a.onset - b.onset || a.pitch - b.pitch),
  }))
  const { hands, left } = splitBetweenHands(given)
  const wasBoth = new Set(arrangement.tracks!.filter(track => track.plays === 'both').map(track => track.number))
  const dealt = [
    // What was put in by hand comes from no track and stays where it is.
    ...(byTrack.get(undefined) ?? []).flatMap(note =>
      note.hand ? [{ ...loose(note), hand: note.hand as Hand | undefined, voice: undefined }] : [],
    ),
    ...hands.map(({ note, hand, voice }) => ({
      ...note,
      hand: hand ?? (wasBoth.has(tracks[voice]!.number) ? note.note.hand : undefined),
      voice,
    })),
  ].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)
  const shared = dealt.some(one => one.hand === undefined) ? separateHands(dealt, 60 / tempoAt(arrangement, ZERO)) : []
  const notes: Note[] = []
  const sounding = new Map<string, Note>()
  dealt.forEach(({ note, end, hand, voice }, index) => {
    const mine = hand ?? shared[index]!
    const before = sounding.get(`${mine} ${note.pitch}`)
    // A key is struck once at a time: what another voice strikes there stays with its voice, and a key struck again
    // ends its earlier note.
    if (before && equal(before.onset, note.onset) && voice !== undefined) {
      left[voice]!.push(loose(note))
      return
    }
    if (before && compare(add(before.onset, before.duration), note.onset) > 0 && compare(before.onset, note.onset) < 0)
      before.duration = subtract(note.onset, before.onset)
    const own = changed(note, mine, end)
    sounding.set(`${mine} ${note.pitch}`, own)
    notes.push(own)
  })
  notes.sort(
    (a, b) => compare(a.onset, b.onset) || (b.grace?.before ?? 0) - (a.grace?.before ?? 0) || a.pitch - b.pitch,
  )
  const withoutHand = ({ note: { hand: _hand, finger: _finger, fingerBy: _by, ...note } }: ReturnType<typeof loose>) =>
    note
  const others = rolesOf(
    tracks,
    left.map(notes => notes.map(withoutHand)),
  )
  const leftOut = beyondHands(tracks, left)
  const warnings = arrangement.warnings.filter(remark => typeof remark === 'string' || remark.kind !== 'beyond-hand')
  return writeMusicXml({
    ...arrangement,
    notes,
    others,
    tracks,
    warnings: leftOut > 0 ? [...warnings, { kind: 'beyond-hand', notes: leftOut }] : warnings,
  })
}

/** A note as a hand's: without the finger of another hand, and as short as the hand holds it. */
function changed(note: AnyNote, hand: Hand, end: number): Note {
  const { finger: _finger, fingerBy: _by, ...rest } = note
  const isShorter = end < toDecimal(add(note.onset, note.duration)) - 1e-9
  const duration = isShorter ? subtract(quarters(Math.round(end * 960), 960), note.onset) : note.duration
  return { ...rest, ...fingerOf(note, hand), hand, voice: hand === 'right' ? '1' : '5', duration }
}

/**
 * The song with its hands the other way round. On a keyboard's two staves the notes change places; elsewhere only who
 * plays them.
 */
export function withHandsSwapped(score: ReadScore): ReadScore {
  const { arrangement, musicXml } = score
  const { tracks, partPlays } = arrangement
  const swapped: Arrangement = {
    ...arrangement,
    notes: arrangement.notes.map(note => ({ ...note, hand: otherHand(note.hand) })),
    dynamics: arrangement.dynamics.map(mark => (mark.hand ? { ...mark, hand: otherHand(mark.hand) } : mark)),
    ...(tracks ? { tracks: tracks.map(track => ({ ...track, plays: otherHand(track.plays) })) } : {}),
    ...(partPlays ? { partPlays: partPlays.map(otherHand) } : {}),
  }
  if (musicXml === '') return { arrangement: swapped, musicXml }
  const played = new Set(arrangement.notes.map(note => note.id))
  const hasStaves = parseScore(musicXml).parts.some(
    part => part.staves > 1 && part.notes.some(note => played.has(note.element.attributes.id ?? '')),
  )
  return hasStaves ? new ScoreDocument({ arrangement, musicXml }).revised(swapped) : { arrangement: swapped, musicXml }
}
