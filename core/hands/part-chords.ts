import { nameChord, romanNumeral, type HeardChord } from '../music/chord-name'
import type { Arrangement, Note } from '../music/arrangement'
import { barAt, positionIn } from '../music/arrangement'
import type { Stretch } from '../music/passage'
import { displayName, type NoteNames } from '../words/note-names'
import { add, compare, equal, type Quarters } from '../music/quarters'
import { keyAt } from './part-fingering'
import { describeChange, type HeldKey } from './voice-leading'

/** A harmony of a part, from left to right: its name and what leads to it. */
export interface PartChord {
  onset: Quarters
  bar: number
  beat: number
  /** From the score's chord symbol, or found in the notes. */
  from: 'symbol' | 'notes'
  symbol: string
  name: string
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
 * The chords of a part in order: at each chord symbol, and between them wherever both hands or one strike three or more different notes. A
 * chord that goes on is not said again. `fingers` are used where they are known.
 */
export function chordsOfPart(arrangement: Arrangement, stretch: Stretch, fingers: ReadonlyMap<string, number> = new Map(), names: NoteNames = 'letters'): PartChord[] {
  const { tonic, isMinor } = keyAt(arrangement, stretch)
  const notes = arrangement.notes.filter(note => !note.grace && compare(note.onset, stretch.to) < 0 && compare(add(note.onset, note.duration), stretch.from) > 0)
  const inside = (at: Quarters) => compare(at, stretch.from) >= 0 && compare(at, stretch.to) < 0
  const symbols = arrangement.chords.filter(chord => inside(chord.onset))
  const onsets = [...new Map([...notes.map(note => note.onset), ...symbols.map(chord => chord.onset)].filter(inside).map(at => [`${at.n}/${at.d}`, at])).values()].sort(compare)
  const chords: PartChord[] = []
  let before: { right: HeldKey[], left: HeldKey[] } | undefined
  for (const onset of onsets) {
    const sounding = notes.filter(note => compare(note.onset, onset) <= 0 && compare(add(note.onset, note.duration), onset) > 0).sort((a, b) => a.pitch - b.pitch)
    const symbol = symbols.find(chord => equal(chord.onset, onset))
    const struckAlone = notes.filter(note => equal(note.onset, onset)).length < 2
    // What is sounded one by one belongs to the symbol before it.
    const heard = symbol || struckAlone ? undefined : nameChord(sounding.map(note => note.spelled))
    const named: HeardChord | undefined = symbol ? { ...symbol, missing: missingFrom(symbol.notes, soundingUntilNext(notes, onset, symbols, stretch)) } : heard
    if (!named || named.symbol === chords.at(-1)?.symbol || (!symbol && symbols.length > 0)) continue
    const keys = { right: heldKeys(sounding, 'right', fingers, names), left: heldKeys(sounding, 'left', fingers, names) }
    const change = (hand: 'right' | 'left') => before && before[hand].length > 0 && keys[hand].length > 0 ? describeChange(before[hand], keys[hand]) : ''
    const { bar, beat } = positionIn(barAt(arrangement, onset), onset)
    chords.push({
      onset, bar, beat, from: symbol ? 'symbol' : 'notes', symbol: named.symbol, name: named.name, inversion: named.inversion, roman: romanNumeral(named.symbol, tonic, isMinor),
      notes: sounding.map(note => displayName(note.spelled, false, names)), missing: named.missing.map(name => displayName(name, false, names)), leftMove: change('left'), rightMove: change('right'),
    })
    before = keys
  }
  return chords
}

const heldKeys = (sounding: readonly Note[], hand: 'right' | 'left', fingers: ReadonlyMap<string, number>, names: NoteNames): HeldKey[] =>
  sounding.filter(note => note.hand === hand).map(note => ({ pitch: note.pitch, name: displayName(note.spelled, false, names), ...(fingers.has(note.id) ? { finger: fingers.get(note.id)! } : {}) }))

/** Everything struck under a symbol, until the next one: broken chords are heard as a whole. */
function soundingUntilNext(notes: readonly Note[], onset: Quarters, symbols: Arrangement['chords'], stretch: Stretch): Note[] {
  const next = symbols.find(chord => compare(chord.onset, onset) > 0)?.onset ?? stretch.to
  return notes.filter(note => compare(note.onset, next) < 0 && compare(add(note.onset, note.duration), onset) > 0)
}

const letter = (name: string): string => name.replace(/-?\d+$/, '')
const missingFrom = (wanted: readonly string[], notes: readonly Note[]): string[] => wanted.filter(name => !notes.some(note => letter(note.spelled) === name))

/** "root position", "first inversion": as it is said. */
export const inversionText = (inversion: number | null): string =>
  inversion === null ? 'over another bass' : ['root position', 'first inversion', 'second inversion', 'third inversion'][inversion] ?? `${inversion}th inversion`
