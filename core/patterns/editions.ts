import { separateHands } from '../hands/separate'
import { TABLE_REACH } from '../hands/ergonomics'
import { melodyOf, type Melody } from '../hands/melody'
import { playableByTwo, type HandKey } from '../hands/two-hands'
import { tempoAt, type Arrangement, type Hand, type Note } from '../music/arrangement'
import { inOrder } from '../music/note-list'
import { barAt, arrangementEnd } from '../music/arrangement'
import { tempoBeatQuarters } from '../music/meter'
import { add, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'
import { canPlayIn, type HandPattern } from './hand-pattern'
import { handPatternNamed } from './hand-patterns'
import { MUDDY } from './hand-keys'
import { patternHarmony } from './pattern-harmony'
import { playPattern } from './play-pattern'
import { withHand } from './with-pattern'

/**
 * How much of a song two hands get: the tune with roots; with a pattern; with its bass and inner voices, thinned;
 * everything that they can hold.
 */
export type Level = 1 | 2 | 3 | 4
export const LEVELS: readonly Level[] = [1, 2, 3, 4]

export interface EditionChoices {
  /** From thumb to little finger, half steps. */
  reach?: number
  /** What the left hand plays at level 2; without it a broken chord, or what the meter has instead. */
  pattern?: HandPattern
}

/**
 * An edition for two hands, where its tune comes from, and what it leaves out of the song: how many notes of how many,
 * and which voices.
 */
export interface Edition {
  readonly arrangement: Arrangement
  readonly melody: Melody['from']
  readonly melodyName: string
  readonly leftOut: { readonly notes: number; readonly of: number }
}

/**
 * What is thinned at level 3, own choice: keys to a hand, strokes of the accompaniment no nearer than this, seconds,
 * and inner notes this far below the tune, half steps.
 */
export const THINNED = { keys: { right: 2, left: 2 }, apartSeconds: 0.24, below: 12 } as const

type AnyNote = Omit<Note, 'hand'>

/**
 * An edition of a song for two hands at a level: the tune in the right hand, under it as much of the song as the level
 * takes. Nothing in it is wider than the reach, asks for more fingers than a hand has, crosses the other hand, or leaps
 * farther than there is time for. At the levels of roots and patterns other voices are kept to play along with.
 */
export function editionAt(
  arrangement: Arrangement,
  level: Level,
  { reach = TABLE_REACH, pattern }: EditionChoices = {},
): Edition {
  const melody = melodyOf(arrangement)
  const sounding = soundingNotes(arrangement)
  const accompanied = () =>
    withAccompaniment(
      arrangement,
      melody,
      level === 1 ? handPatternNamed('held-root')! : (pattern ?? usualPattern(arrangement)),
      reach,
    )
  const taken = level <= 2 ? undefined : fromTheSong(arrangement, melody, level === 3, reach)
  // A song of nothing but a tune has no more to take than its chords.
  const made = taken?.notes.some(note => note.hand === 'left') ? taken : accompanied()
  const there = new Set(made.notes.map(note => note.id))
  const leftOut = { notes: sounding.filter(({ note }) => !there.has(note.id)).length, of: sounding.length }
  const { tracks: _tracks, partPlays: _plays, ...rest } = made
  const known = rest.warnings.filter(remark => typeof remark === 'string' || remark.kind !== 'left-out')
  return {
    arrangement: { ...rest, warnings: leftOut.notes > 0 ? [...known, { kind: 'left-out', ...leftOut }] : known },
    melody: melody.from,
    melodyName: melody.name,
    leftOut,
  }
}

/** Everything with a pitch that the hands or other roles play. */
function soundingNotes({ notes, others }: Arrangement): { note: AnyNote; hand?: Hand }[] {
  return [
    ...notes.map(note => ({ note, hand: note.hand as Hand | undefined })),
    ...others.filter(role => !role.percussion && !role.silent).flatMap(role => role.notes.map(note => ({ note }))),
  ]
}

/** A broken chord where the meter has one, roots and fifths where it has not. */
function usualPattern({ bars }: Arrangement): HandPattern {
  const { meter } = bars[Math.min(1, bars.length - 1)]!
  return (
    ['broken', 'root-fifth', 'held-root']
      .map(name => handPatternNamed(name)!)
      .find(pattern => canPlayIn(pattern, meter)) ?? handPatternNamed('held-root')!
  )
}

/** The tune over a pattern to the song's chords. */
function withAccompaniment(arrangement: Arrangement, melody: Melody, pattern: HandPattern, reach: number): Arrangement {
  const harmonies = patternHarmony(arrangement)
  const tune: Arrangement = {
    ...withTune(arrangement, melody),
    others: arrangement.others.filter((_, index) => index !== melody.role),
    pedals: [],
  }
  return withHand(
    tune,
    'left',
    { from: ZERO, to: arrangementEnd(arrangement) },
    playPattern(tune, { pattern, hand: 'left', harmonies, reach }),
    harmonies,
    arrangement,
  )
}

/** The song with nothing but its tune, in the right hand. */
function withTune(arrangement: Arrangement, melody: Melody): Arrangement {
  const notes = melody.notes.map(note => ofHand(note, 'right')).sort(inOrder)
  return keptMarks({ ...arrangement, notes })
}

/** Without the words and slurs that hang on notes which are not there. */
function keptMarks(arrangement: Arrangement): Arrangement {
  const there = new Set([...arrangement.notes, ...arrangement.others.flatMap(role => role.notes)].map(note => note.id))
  return {
    ...arrangement,
    lyrics: arrangement.lyrics.filter(lyric => there.has(lyric.noteId)),
    ...(arrangement.slurs
      ? { slurs: arrangement.slurs.filter(slur => there.has(slur.from) && there.has(slur.to)) }
      : {}),
  }
}

/** A note as a hand's. Another hand's finger is none of it. */
function ofHand(note: AnyNote & { hand?: Hand }, hand: Hand): Note {
  if (note.hand === hand) return { ...note, hand }
  const { finger: _finger, fingerBy: _by, ...rest } = note
  return { ...rest, hand, voice: hand === 'right' ? '1' : '5', tiedIds: note.tiedIds }
}

interface Key extends HandKey {
  note: AnyNote
  isTune: boolean
}

/** The tune with what the song itself plays under it: all of it, or a bass and inner voices. */
function fromTheSong(arrangement: Arrangement, melody: Melody, isThinned: boolean, reach: number): Arrangement {
  const quarterSeconds = 60 / tempoAt(arrangement, ZERO)
  const tune = new Map(melody.notes.map(note => [note.id, note]))
  // What the hands play already is the better bass than that of a band.
  const isFromHands = isThinned && arrangement.notes.some(note => note.hand === 'left')
  const all = soundingNotes(arrangement)
    .filter(({ note, hand }) => tune.has(note.id) || (!note.grace && (hand !== undefined || !isFromHands)))
    .map(({ note, hand }) => {
      const own = tune.get(note.id) ?? note
      return {
        note: own,
        hand: tune.has(note.id) ? ('right' as const) : hand,
        onset: toDecimal(own.onset),
        end: toDecimal(add(own.onset, own.duration)),
        pitch: own.pitch,
      }
    })
    .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)
  const hands = separateHands(all, quarterSeconds)
  const graces = all.filter(({ note }) => note.grace)
  const keys = withoutDoubles(
    all
      .map((one, index): Key => ({
        ...one,
        hand: hands[index]!,
        isTune: tune.has(one.note.id),
        isKept: tune.has(one.note.id),
      }))
      .filter(({ note }) => !note.grace),
  )
  const wished = isThinned ? thinned(arrangement, keys, quarterSeconds, reach) : keys
  const held = playableByTwo(wished, { reach, unitSeconds: quarterSeconds })
  const onsets = new Map(all.map(({ note, onset }) => [onset, note.onset]))
  const notes = [...held.map(key => asWritten(key, onsets)), ...graces.map(({ note }) => ofHand(note, 'right'))]
  return keptMarks({
    ...arrangement,
    notes: notes.sort(inOrder),
    others: arrangement.others.filter(role => role.percussion),
  })
}

/** A key as a note, no longer than it is held. */
function asWritten({ note, hand, onset, end }: Key, onsets: ReadonlyMap<number, Quarters>): Note {
  const own = ofHand(note, hand)
  const stop = end < toDecimal(add(note.onset, note.duration)) - 1e-9 ? onsets.get(end) : undefined
  return stop && end > onset ? { ...own, duration: subtract(stop, note.onset), tiedIds: [], tiedAt: undefined } : own
}

/** One note to a key at a time: the tune's, else the longest. */
function withoutDoubles(keys: readonly Key[]): Key[] {
  const best = new Map<string, Key>()
  for (const key of keys) {
    const name = `${key.onset} ${key.pitch}`
    const before = best.get(name)
    if (!before || (key.isTune && !before.isTune) || (key.isTune === before.isTune && key.end > before.end))
      best.set(name, key)
  }
  // A key that is struck again is let go before.
  const last = new Map<number, Key>()
  return [...best.values()].map(key => {
    const before = last.get(key.pitch)
    if (before && before.end > key.onset) before.end = key.onset
    const own = { ...key }
    last.set(key.pitch, own)
    return own
  })
}

/**
 * The tune, with each of its notes at most one inner note close under it; and the lowest line with at most one note
 * above it, on beats and as often between them as the hand has time.
 */
function thinned(arrangement: Arrangement, keys: readonly Key[], quarterSeconds: number, reach: number): Key[] {
  const apart = THINNED.apartSeconds / quarterSeconds
  const kept: Key[] = []
  let lastLeft = Number.NEGATIVE_INFINITY
  for (let first = 0; first < keys.length;) {
    let next = first + 1
    while (next < keys.length && keys[next]!.onset === keys[first]!.onset) next++
    const struck = keys.slice(first, next)
    first = next
    const tune = struck.find(key => key.isTune)
    if (tune) {
      const inner = struck.filter(
        key => key.hand === 'right' && !key.isTune && key.pitch < tune.pitch && tune.pitch - key.pitch <= THINNED.below,
      )
      kept.push(tune, ...inner.slice(Math.max(0, inner.length - THINNED.keys.right + 1)))
    }
    const left = struck.filter(key => key.hand === 'left')
    if (left.length === 0 || !(isOnBeat(arrangement, left[0]!) || left[0]!.onset - lastLeft >= apart - 1e-9)) continue
    lastLeft = left[0]!.onset
    const [bass, ...others] = left
    const clear = others.filter(
      ({ pitch }) => pitch - bass!.pitch <= reach && (bass!.pitch >= MUDDY.below || pitch - bass!.pitch >= MUDDY.least),
    )
    kept.push(bass!, ...clear.slice(clear.length - THINNED.keys.left + 1))
  }
  return kept
}

function isOnBeat(arrangement: Arrangement, { note }: Key): boolean {
  const bar = barAt(arrangement, note.onset)
  const into = toDecimal(subtract(add(note.onset, bar.offset), bar.start)) / tempoBeatQuarters(bar.meter)
  return Math.abs(into - Math.round(into)) < 1e-6
}
