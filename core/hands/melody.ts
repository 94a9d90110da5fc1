import type { Arrangement, Note } from '../music/arrangement'
import { highestLine } from '../music/highest-line'
import { add, compare, equal, subtract, toDecimal } from '../music/quarters'
import { BASS_NAME, MELODY_NAME } from './who-plays'

type AnyNote = Omit<Note, 'hand'>

/**
 * A song's tune: one note at a time, in order; and from where: a voice that sings it or is called so, or the top of
 * what the hands play. `role`: the number of the role it is.
 */
export interface Melody {
  readonly notes: readonly AnyNote[]
  readonly from: 'voice' | 'track' | 'top'
  readonly name: string
  readonly role?: number
}

/**
 * A voice is sung when so many of its notes, at least, have words: a share of them; and of several voices that have
 * about as many the highest has the tune.
 */
const SUNG = { share: 0.2, asMany: 0.6 } as const

/**
 * The tune of a song: the voice that has the words; else one that is called melody, voice, lead …; else the highest
 * line of the right hand, or of all where that rests throughout. A voice's notes are taken note for note, of several at
 * once the highest; one that sounds on over the next ends there. Grace notes stay.
 */
export function melodyOf(arrangement: Arrangement): Melody {
  const { notes, others, lyrics, tracks } = arrangement
  const words = new Set(lyrics.map(lyric => lyric.noteId))
  const sung = (own: readonly AnyNote[]) => own.filter(note => words.has(note.id)).length
  const pitched = others
    .map((role, index) => ({ role, index }))
    .filter(({ role }) => !role.percussion && !role.silent && role.notes.length > 0)
  const right = notes.filter(note => note.hand === 'right')
  const top = (): Melody => ({ notes: topOf(right.length > 0 ? right : notes), from: 'top', name: '' })
  const singers = [
    ...pitched.map(({ role, index }) => ({
      role: index as number | undefined,
      notes: role.notes as readonly AnyNote[],
      name: role.name,
    })),
    { role: undefined, notes: right, name: '' },
  ].filter(one => sung(one.notes) > 0 && (one.role === undefined || sung(one.notes) >= SUNG.share * one.notes.length))
  const most = Math.max(...singers.map(one => sung(one.notes)))
  const [singer] = singers
    .filter(one => sung(one.notes) >= SUNG.asMany * most)
    .sort((a, b) => height(b.notes) - height(a.notes))
  // The right hand may be singing itself: a chart's words, a choir's upper voice.
  if (singer)
    return singer.role === undefined
      ? top()
      : { notes: oneAtATime(singer.notes), from: 'voice', name: singer.name, role: singer.role }
  const isTune = (name: string) => MELODY_NAME.test(name) && !BASS_NAME.test(name)
  const called = pitched
    .filter(({ role }) => isTune(role.name))
    .sort((a, b) => b.role.notes.length - a.role.notes.length)[0]
  const track = tracks
    ?.filter(one => one.plays !== 'nobody' && isTune(one.name))
    .map(one => ({ one, own: notes.filter(note => note.track === one.number) }))
    .sort((a, b) => b.own.length - a.own.length)[0]
  if (track && track.own.length > (called?.role.notes.length ?? 0))
    return { notes: oneAtATime(track.own), from: 'track', name: track.one.name }
  return called
    ? { notes: oneAtATime(called.role.notes), from: 'voice', name: called.role.name, role: called.index }
    : top()
}

const height = (notes: readonly AnyNote[]): number =>
  notes.reduce((sum, note) => sum + note.pitch, 0) / Math.max(1, notes.length)

/** A voice's notes, of those struck together the highest, each no longer than up to the next. */
function oneAtATime(notes: readonly AnyNote[]): AnyNote[] {
  const line: AnyNote[] = []
  for (const note of notes) {
    const last = line.at(-1)
    if (last && !note.grace && !last.grace && equal(last.onset, note.onset)) {
      if (note.pitch > last.pitch) line[line.length - 1] = note
    } else line.push(note)
  }
  return line.map((note, index) => {
    const next = line.slice(index + 1, index + LOOKED_AHEAD).find(other => compare(other.onset, note.onset) > 0)
    return next && compare(add(note.onset, note.duration), next.onset) > 0
      ? { ...note, duration: subtract(next.onset, note.onset), tiedIds: [], tiedAt: undefined }
      : note
  })
}
/** Grace notes of one moment are fewer. */
const LOOKED_AHEAD = 12

/** The highest line of a hand, with its grace notes. */
function topOf(notes: readonly Note[]): AnyNote[] {
  const sounding = notes
    .filter(note => !note.grace)
    .map(note => ({
      from: toDecimal(note.onset),
      to: toDecimal(add(note.onset, note.duration)),
      pitch: note.pitch,
      note,
    }))
  const line = new Map(highestLine(sounding).map(({ note }) => [note.id, note]))
  const onsets = new Set([...line.values()].map(note => toDecimal(note.onset)))
  const kept = notes.filter(note => line.has(note.id) || (note.grace && onsets.has(toDecimal(note.onset))))
  return oneAtATime(kept.map(({ hand: _hand, ...note }) => note))
}
