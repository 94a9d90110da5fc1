import { arrangementEnd, barAt, type Arrangement, type Bar, type Hand, type Note } from '../music/arrangement'
import { spellSymbol } from '../music/chord-symbol'
import { LIMITS } from '../music/limits'
import { freshIds, inOrder } from '../music/note-list'
import { playingOrder } from '../music/playing-order'
import { isOnKeyboard, spellInKey, type MidiPitch } from '../music/pitch'
import { add, compare, equal, quarters, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'
import { transposed } from '../music/transpose'

/** One correction of an arrangement, as plain data: kept in the history, sent to the server, played again there. */
export type Change =
  | { kind: 'pitch'; ids: string[]; halfSteps: number }
  | { kind: 'spelling'; id: string; spelled: string }
  | { kind: 'length'; id: string; duration: Quarters }
  | { kind: 'hand'; ids: string[]; hand: Hand }
  /** Two notes of one key that follow each other become one. */
  | { kind: 'join'; ids: [string, string] }
  /** A note becomes two at a moment inside it. */
  | { kind: 'divide'; id: string; at: Quarters }
  | { kind: 'delete'; ids: string[] }
  | { kind: 'insert'; hand: Hand; onset: Quarters; duration: Quarters; pitches: MidiPitch[] }
  | { kind: 'finger'; id: string; finger: number | null }
  | { kind: 'fingers'; fingers: { id: string; finger: number }[] }
  | { kind: 'transpose'; halfSteps: number }
  | { kind: 'tempo'; onset: Quarters; quarterBpm: number | null }
  | { kind: 'swing'; onset: Quarters; ratio: number | null }
  | { kind: 'chord'; onset: Quarters; symbol: string | null }
  | { kind: 'lyric'; id: string; text: string; hyphen: boolean }
  | { kind: 'dynamic'; onset: Quarters; mark: string | null; hand?: Hand }
  | { kind: 'pedal'; onset: Quarters; mark: 'down' | 'up' | 'change' | null }
  /** Bars at the end with notes in them, counted from the first new bar: a phrase that was played in. */
  | { kind: 'append'; notes: { hand: Hand; onset: Quarters; duration: Quarters; pitch: MidiPitch }[] }

/** The change cannot be made; the message says why, for the player. */
export class ImpossibleChange extends Error {
  override readonly name = 'ImpossibleChange'
}

/**
 * The arrangement with the change made; the one given stays as it is, so that undoing is going back to it. Ids of notes
 * that stay are kept. Throws ImpossibleChange.
 */
export function applyChange(arrangement: Arrangement, change: Change): Arrangement {
  switch (change.kind) {
    case 'pitch':
      return eachNote(arrangement, change.ids, note => moved(arrangement, note, change.halfSteps))
    case 'spelling':
      return eachNote(arrangement, [change.id], note => ({ ...note, spelled: change.spelled }))
    case 'length':
      return withLength(arrangement, change.id, change.duration)
    case 'hand':
      return eachNote(arrangement, change.ids, note => ({
        ...withoutFinger(note),
        hand: change.hand,
        voice: change.hand === 'right' ? '1' : '5',
      }))
    case 'join':
      return joined(arrangement, change.ids)
    case 'divide':
      return divided(arrangement, change.id, change.at)
    case 'delete':
      return deleted(arrangement, change.ids)
    case 'insert':
      return inserted(arrangement, change)
    case 'finger':
      return eachNote(arrangement, [change.id], note =>
        change.finger === null ? withoutFinger(note) : { ...note, finger: change.finger, fingerBy: 'player' },
      )
    case 'fingers': {
      const fingers = new Map(change.fingers.map(one => [one.id, one.finger]))
      return eachNote(arrangement, [...fingers.keys()], note => ({
        ...note,
        finger: fingers.get(note.id)!,
        fingerBy: 'player',
      }))
    }
    case 'transpose':
      return movedToKey(arrangement, change.halfSteps)
    case 'tempo':
      return withMark(
        arrangement,
        'tempos',
        change.onset,
        change.quarterBpm === null ? undefined : { onset: change.onset, quarterBpm: change.quarterBpm },
      )
    case 'swing':
      return withMark(
        { ...arrangement, swings: arrangement.swings ?? [] },
        'swings',
        change.onset,
        change.ratio === null ? undefined : { onset: change.onset, unit: 'eighth', ratio: change.ratio },
      )
    case 'chord':
      return withMark(
        arrangement,
        'chords',
        change.onset,
        change.symbol === null ? undefined : { onset: change.onset, ...spelledChord(change.symbol) },
      )
    case 'lyric':
      return withLyric(arrangement, change.id, change.text, change.hyphen)
    case 'dynamic':
      return withMark(
        arrangement,
        'dynamics',
        change.onset,
        change.mark === null
          ? undefined
          : { onset: change.onset, mark: change.mark, ...(change.hand ? { hand: change.hand } : {}) },
        mark => mark.hand === change.hand,
      )
    case 'pedal':
      return withMark(
        arrangement,
        'pedals',
        change.onset,
        change.mark === null ? undefined : { onset: change.onset, kind: change.mark },
      )
    case 'append':
      return appended(arrangement, change.notes)
  }
}

function withoutFinger(note: Note): Note {
  const { finger: _finger, fingerBy: _by, ...rest } = note
  return rest
}

function noteOf(arrangement: Arrangement, id: string): Note {
  const note = arrangement.notes.find(one => one.id === id)
  if (!note) throw new ImpossibleChange('this note is not there any more')
  return note
}

function eachNote(arrangement: Arrangement, ids: readonly string[], change: (note: Note) => Note): Arrangement {
  const wanted = new Set(ids)
  for (const id of wanted) noteOf(arrangement, id)
  return {
    ...arrangement,
    notes: arrangement.notes.map(note => (wanted.has(note.id) ? change(note) : note)).sort(inOrder),
  }
}

function moved(arrangement: Arrangement, note: Note, halfSteps: number): Note {
  const pitch = note.pitch + halfSteps
  if (!isOnKeyboard(pitch)) throw new ImpossibleChange('the note would leave the 88 keys')
  return { ...note, pitch, spelled: spellInKey(pitch, arrangement.bars[note.barIndex]!.fifths) }
}

/** A note of a changed length is drawn anew. */
const UNTIED = { tiedIds: [] as string[], tiedAt: undefined }

function withLength(arrangement: Arrangement, id: string, duration: Quarters): Arrangement {
  const note = noteOf(arrangement, id)
  if (note.grace) throw new ImpossibleChange('a grace note has no length of its own')
  if (compare(duration, ZERO) <= 0) throw new ImpossibleChange('a note needs a length')
  if (compare(add(note.onset, duration), arrangementEnd(arrangement)) > 0)
    throw new ImpossibleChange('the note would reach beyond the last bar')
  return eachNote(arrangement, [id], one => ({ ...one, duration, ...UNTIED }))
}

function joined(arrangement: Arrangement, [first, second]: readonly [string, string]): Arrangement {
  const [a, b] = [noteOf(arrangement, first), noteOf(arrangement, second)].sort(inOrder) as [Note, Note]
  if (a.pitch !== b.pitch || a.hand !== b.hand || !equal(add(a.onset, a.duration), b.onset))
    throw new ImpossibleChange('only two notes of one key and hand that follow each other can be tied')
  return {
    ...deleted(
      eachNote(arrangement, [a.id], note => ({ ...note, duration: add(a.duration, b.duration), ...UNTIED })),
      [b.id],
    ),
  }
}

function divided(arrangement: Arrangement, id: string, at: Quarters): Arrangement {
  const note = noteOf(arrangement, id)
  const end = add(note.onset, note.duration)
  if (compare(at, note.onset) <= 0 || compare(at, end) >= 0)
    throw new ImpossibleChange('the note does not sound at that moment')
  const shorter = eachNote(arrangement, [id], one => ({ ...one, duration: subtract(at, note.onset), ...UNTIED }))
  return inserted(shorter, { hand: note.hand, onset: at, duration: subtract(end, at), pitches: [note.pitch] })
}

function deleted(arrangement: Arrangement, ids: readonly string[]): Arrangement {
  const gone = new Set(ids)
  for (const id of gone) noteOf(arrangement, id)
  const notes = arrangement.notes.filter(note => !gone.has(note.id))
  if (notes.length === 0) throw new ImpossibleChange('the last note cannot be deleted')
  return {
    ...arrangement,
    notes,
    lyrics: arrangement.lyrics.filter(lyric => !gone.has(lyric.noteId)),
    ...(arrangement.slurs
      ? { slurs: arrangement.slurs.filter(slur => !gone.has(slur.from) && !gone.has(slur.to)) }
      : {}),
  }
}

function inserted(
  arrangement: Arrangement,
  { hand, onset, duration, pitches }: Omit<Extract<Change, { kind: 'insert' }>, 'kind'>,
): Arrangement {
  if (
    compare(onset, ZERO) < 0 ||
    compare(duration, ZERO) <= 0 ||
    compare(add(onset, duration), arrangementEnd(arrangement)) > 0
  )
    throw new ImpossibleChange('there is no bar there to write into')
  if (arrangement.notes.length + pitches.length > LIMITS.notes)
    throw new ImpossibleChange(`a song has at most ${LIMITS.notes} notes`)
  const nextId = freshIds(arrangement)
  const notes = pitches.map((pitch): Note => {
    const fresh = newNote(arrangement, { hand, onset, duration, pitch }, nextId())
    if (arrangement.notes.some(note => isHeldInto(note, fresh)))
      throw new ImpossibleChange('this key is held there already')
    return fresh
  })
  return { ...arrangement, notes: [...arrangement.notes, ...notes].sort(inOrder) }
}

function newNote(
  arrangement: Arrangement,
  { hand, onset, duration, pitch }: { hand: Hand; onset: Quarters; duration: Quarters; pitch: MidiPitch },
  id: string,
): Note {
  if (!isOnKeyboard(pitch)) throw new ImpossibleChange('the note is not on the 88 keys')
  const bar = barAt(arrangement, onset)
  return {
    id,
    hand,
    barIndex: bar.index,
    onset,
    duration,
    pitch,
    spelled: spellInKey(pitch, bar.fifths),
    voice: hand === 'right' ? '1' : '5',
    tiedIds: [],
  }
}

const isHeldInto = (note: Note, fresh: Note): boolean =>
  !note.grace &&
  note.hand === fresh.hand &&
  note.pitch === fresh.pitch &&
  compare(note.onset, add(fresh.onset, fresh.duration)) < 0 &&
  compare(add(note.onset, note.duration), fresh.onset) > 0

function movedToKey(arrangement: Arrangement, halfSteps: number): Arrangement {
  try {
    return transposed(arrangement, halfSteps)
  } catch (error) {
    if (error instanceof RangeError) throw new ImpossibleChange(error.message)
    throw error
  }
}

function spelledChord(symbol: string) {
  try {
    return spellSymbol(symbol)
  } catch (error) {
    if (error instanceof RangeError) throw new ImpossibleChange(error.message)
    throw error
  }
}

/** Sets, replaces or takes away the mark of a kind at a moment. */
function withMark<K extends 'tempos' | 'swings' | 'chords' | 'dynamics' | 'pedals'>(
  arrangement: Arrangement,
  list: K,
  onset: Quarters,
  mark: NonNullable<Arrangement[K]>[number] | undefined,
  same: (one: { hand?: Hand }) => boolean = () => true,
): Arrangement {
  if (compare(onset, ZERO) < 0 || compare(onset, arrangementEnd(arrangement)) > 0)
    throw new ImpossibleChange('this moment is not in the song')
  const marks = (arrangement[list] ?? []) as { onset: Quarters; hand?: Hand }[]
  const kept = marks.filter(one => !equal(one.onset, onset) || !same(one))
  return { ...arrangement, [list]: (mark ? [...kept, mark] : kept).sort((a, b) => compare(a.onset, b.onset)) }
}

function withLyric(arrangement: Arrangement, id: string, text: string, hyphen: boolean): Arrangement {
  const note = noteOf(arrangement, id)
  const kept = arrangement.lyrics.filter(lyric => lyric.noteId !== id || lyric.verse !== '1')
  const lyrics =
    text.trim() === '' ? kept : [...kept, { noteId: id, onset: note.onset, verse: '1', text: text.trim(), hyphen }]
  return { ...arrangement, lyrics: lyrics.sort((a, b) => compare(a.onset, b.onset)) }
}

function appended(arrangement: Arrangement, added: Extract<Change, { kind: 'append' }>['notes']): Arrangement {
  if (added.length === 0) throw new ImpossibleChange('the phrase has no notes')
  const last = arrangement.bars.at(-1)!
  const start = arrangementEnd(arrangement)
  const length = quarters(4 * last.meter.beats, last.meter.beatType)
  const until = added.reduce((latest, note) => Math.max(latest, toDecimal(add(note.onset, note.duration))), 0)
  const count = Math.max(1, Math.ceil(until / toDecimal(length) - 1e-9))
  if (arrangement.bars.length + count > LIMITS.bars)
    throw new ImpossibleChange(`a song has at most ${LIMITS.bars} bars`)
  if (arrangement.notes.length + added.length > LIMITS.notes)
    throw new ImpossibleChange(`a song has at most ${LIMITS.notes} notes`)
  if (added.some(note => compare(note.onset, ZERO) < 0 || compare(note.duration, ZERO) <= 0))
    throw new ImpossibleChange('there is no bar there to write into')
  const fresh = Array.from({ length: count }, (_, place): Bar => ({
    index: last.index + 1 + place,
    number: last.number + 1 + place,
    start: add(start, quarters(place * length.n, length.d)),
    length,
    offset: ZERO,
    meter: last.meter,
    fifths: last.fifths,
    ...(place === count - 1 ? { sectionEnd: true } : {}),
  }))
  const bars = [...arrangement.bars.slice(0, -1), { ...last, sectionEnd: true }, ...fresh]
  const longer: Arrangement = { ...arrangement, bars, order: playingOrder(bars) }
  const nextId = freshIds(arrangement)
  const notes = added.map(note => newNote(longer, { ...note, onset: add(start, note.onset) }, nextId())).sort(inOrder)
  // Of one hand's key a note ends before the next begins.
  const latest = new Map<string, Note>()
  for (const note of notes) {
    const key = `${note.hand} ${note.pitch}`
    const before = latest.get(key)
    if (before && isHeldInto(before, note)) throw new ImpossibleChange('this key is held there already')
    latest.set(key, note)
  }
  return { ...longer, notes: [...longer.notes, ...notes] }
}
