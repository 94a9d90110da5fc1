import type { Arrangement, Note } from '../music/arrangement'
import { barAt, positionIn } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { add, compare, later, type Quarters } from '../music/quarters'
import { harmonyOf, type Harmony } from '../music/song-harmony'
import { displayName, symbolText, type NoteNames } from '../words/note-names'
import { describeChange, type HeldKey } from './voice-leading'

/** A harmony of a part, from left to right: its name and what leads to it. */
export interface PartChord {
  onset: Quarters
  bar: number
  beat: number
  /** From the score's chord symbol, or found in the notes. */
  from: Harmony['from']
  /** As the player calls notes; `plain` as it is stored. */
  symbol: string
  plain: string
  inversion: number | null
  roman: string
  /** Notes from low to high that sound, as names. */
  notes: string[]
  missing: string[]
  /** How the left hand gets here from the chord before; empty for the first. */
  leftMove: string
  rightMove: string
}

/**
 * The chords of a part in order: the score's chord symbols where there are some, otherwise what is heard over each beat
 * or figure. A chord that goes on is not said again. `fingers` are used where they are known.
 */
export function chordsOfPart(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  fingers: ReadonlyMap<string, number> = new Map(),
  names: NoteNames = 'letters',
): PartChord[] {
  const notes = arrangement.notes.filter(
    note =>
      !note.grace && compare(note.onset, stretch.to) < 0 && compare(add(note.onset, note.duration), stretch.from) > 0,
  )
  let before: { right: HeldKey[]; left: HeldKey[] } | undefined
  return harmonyOf(arrangement, stretch).map((harmony): PartChord => {
    const onset = later(harmony.onset, stretch.from)
    // What a broken chord strikes one by one is gathered; what passes is left out.
    const heard = notes
      .filter(note => compare(note.onset, harmony.end) < 0 && compare(add(note.onset, note.duration), onset) > 0)
      .sort((a, b) => a.pitch - b.pitch)
    const sounding = heard.filter(note => compare(note.onset, onset) <= 0)
    const missing =
      harmony.from === 'symbol'
        ? harmony.notes.filter(name => !heard.some(note => letter(note.spelled) === name))
        : harmony.missing
    const keys = {
      right: heldKeys(sounding, 'right', fingers, names),
      left: heldKeys(sounding, 'left', fingers, names),
    }
    const change = (hand: 'right' | 'left') =>
      before && before[hand].length > 0 && keys[hand].length > 0 ? describeChange(before[hand], keys[hand]) : ''
    const [leftMove, rightMove] = [change('left'), change('right')]
    before = keys
    const { bar, beat } = positionIn(barAt(arrangement, onset), onset)
    const tones = new Set(harmony.notes)
    const chordTones =
      harmony.from === 'symbol'
        ? sounding
        : heard.filter(note => tones.has(letter(note.spelled)) || sounding.includes(note))
    return {
      onset,
      bar,
      beat,
      from: harmony.from,
      symbol: symbolText(harmony.symbol, names),
      plain: harmony.symbol,
      inversion: harmony.inversion,
      roman: harmony.roman,
      notes: distinct(chordTones).map(note => displayName(note.spelled, false, names)),
      missing: missing.map(name => displayName(name, false, names)),
      leftMove,
      rightMove,
    }
  })
}

const heldKeys = (
  sounding: readonly Note[],
  hand: 'right' | 'left',
  fingers: ReadonlyMap<string, number>,
  names: NoteNames,
): HeldKey[] =>
  sounding
    .filter(note => note.hand === hand)
    .map(note => ({
      pitch: note.pitch,
      name: displayName(note.spelled, false, names),
      ...(fingers.has(note.id) ? { finger: fingers.get(note.id)! } : {}),
    }))

const letter = (name: string): string => name.replace(/-?\d+$/, '')
/** Each key once. */
const distinct = (notes: readonly Note[]): Note[] =>
  notes.filter((note, index) => note.pitch !== notes[index - 1]?.pitch)

/** "root position", "first inversion": as it is said. */
export const inversionText = (inversion: number | null): string =>
  inversion === null
    ? 'over another bass'
    : (['root position', 'first inversion', 'second inversion', 'third inversion'][inversion] ??
      `${inversion}th inversion`)
