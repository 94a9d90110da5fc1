import { Note } from 'tonal'
import { barAt, type Arrangement, type ChordSymbol } from './arrangement'
import { nameChord, type HeardChord } from './chord-name'
import { CHORD_KINDS, type ChordKind } from './chord-kinds'
import { spellChord } from './chord-symbol'
import { harmoniesOf, type HeardHarmony } from './harmony'
import { keyAt, type NamedKey } from './key'
import type { ScoreSpan } from './passage'
import { spellInKey } from './pitch'
import { add, compare, type Quarters } from './quarters'
import { romanNumeral } from './roman-numeral'

/**
 * A harmony of a song, from one time to another: its name and place in the key. `from`: a chord symbol of the score, or
 * the notes.
 */
export interface Harmony extends HeardChord {
  onset: Quarters
  end: Quarters
  from: 'symbol' | 'notes'
  roman: string
}

/** The largest share of foreign notes in a harmony; beyond that no chord is claimed (own choice). */
const MAX_FOREIGN = 0.5

/**
 * The harmonies of a song in order: the score's chord symbols where there are some, otherwise what sounds. A chord that
 * goes on is said once; where nothing is clear, nothing is said. With a stretch, those in it.
 */
export function harmonyOf(arrangement: Arrangement, stretch?: ScoreSpan): Harmony[] {
  const symbols = arrangement.chords.filter(
    chord => !stretch || (compare(chord.onset, stretch.from) >= 0 && compare(chord.onset, stretch.to) < 0),
  )
  const last = arrangement.bars.at(-1)
  if (!last) return []
  const end = stretch?.to ?? add(last.start, last.length)
  const found = symbols.length > 0 ? writtenHarmony(symbols, end) : heardHarmony(arrangement, stretch)
  const keys = new Map<number, NamedKey>()
  const keyOf = (onset: Quarters) => {
    const { index, fifths } = barAt(arrangement, onset)
    // One key for all bars in a row under a signature.
    const first = arrangement.bars.findLastIndex(bar => bar.index <= index && bar.fifths !== fifths) + 1
    if (!keys.has(first)) keys.set(first, keyAt(arrangement, onset))
    return keys.get(first)!
  }
  return found.map((one, index) => {
    const { tonic, isMinor } = keyOf(one.onset)
    return { ...one, roman: romanNumeral(one.symbol, tonic, isMinor, found[index + 1]?.symbol) }
  })
}

type Unplaced = Omit<Harmony, 'roman'>

const writtenHarmony = (symbols: readonly ChordSymbol[], end: Quarters): Unplaced[] =>
  symbols.map((chord, index) => ({ ...chord, end: symbols[index + 1]?.onset ?? end, from: 'symbol', missing: [] }))

function heardHarmony(arrangement: Arrangement, stretch?: ScoreSpan): Unplaced[] {
  const heard = harmoniesOf(arrangement, stretch && withContext(arrangement, stretch))
  const named: Unplaced[] = []
  heard.forEach((one, index) => {
    const chord = nameHeard(
      one,
      heard[index + 1],
      barAt(arrangement, one.onset).fifths,
      arrangement.tracks === undefined,
    )
    const last = named.at(-1)
    // Neighbouring spans with one name are one chord; a note missing in both is missing.
    if (chord && last?.symbol === chord.symbol && compare(last.end, one.onset) >= 0)
      Object.assign(last, { end: one.end, missing: last.missing.filter(note => chord.missing.includes(note)) })
    else if (chord) named.push({ ...chord, onset: one.onset, end: one.end, from: 'notes' })
  })
  return named.filter(one => !stretch || (compare(one.onset, stretch.to) < 0 && compare(one.end, stretch.from) > 0))
}

/** A span with a bar before and after it: the context decides what is ambiguous. */
function withContext(arrangement: Arrangement, { from, to }: ScoreSpan): ScoreSpan {
  const [first, last] = [barAt(arrangement, from), barAt(arrangement, to)]
  const before = arrangement.bars[first.index - 1] ?? first
  return { from: before.start, to: add(last.start, last.length) }
}

/**
 * Whether a chord may be claimed: root and third (or the second, fourth or eleventh in its place) sound, with a third
 * note unless the root is the bass, and few foreign notes.
 */
function isClear({ root, kind, bass, moments, sounding }: HeardHarmony): boolean {
  const set = kind.members.reduce((all, { semitones }) => all | (1 << ((root + semitones) % 12)), 0)
  const core = kind.members.find(({ degree }) => (degree >= 2 && degree <= 4) || degree === 11)
  if (!core || !(sounding & (1 << ((root + core.semitones) % 12)))) return false
  if (bass !== root && kind.members.filter(({ semitones }) => sounding & (1 << ((root + semitones) % 12))).length < 3)
    return false
  const all = moments.reduce((sum, one) => sum + one.length, 0)
  const foreign = moments.reduce((sum, one) => sum + (one.sounding & ~set ? one.length : 0), 0)
  return foreign <= MAX_FOREIGN * all
}

/**
 * A heard harmony by name, undefined where none is clear, as it is spelled where it sounds; what is ambiguous as what
 * follows says.
 */
function nameHeard(
  harmony: HeardHarmony,
  next: HeardHarmony | undefined,
  fifths: number,
  isSpelled: boolean,
): HeardChord | undefined {
  const nameOf = (chroma: number) => {
    const letter = harmony.moments.map(one => one.letters[chroma]).find(one => one !== undefined)
    const inKey = spellInKey(60 + chroma, fifths).replace(/-?\d+$/, '')
    return letter === undefined ? inKey : (spelledWith('CDEFGAB'[letter]!, chroma) ?? inKey)
  }
  const struck = harmony.moments.length === 1 ? exactName(harmony, nameOf) : undefined
  if (struck) return struck
  if (!isClear(harmony)) return undefined
  const { root, kind } = otherName(harmony, next, isSpelled)
  const chord = spellChord(nameOf(root), kind.suffix, nameOf(harmony.bass))
  return { ...chord, missing: chord.notes.filter(note => !(harmony.sounding & (1 << Note.chroma(note)!))) }
}

/** The name of a richer chord than is listened for, where all of it is struck at once. */
function exactName(
  { root, kind, bass, sounding }: HeardHarmony,
  nameOf: (chroma: number) => string,
): HeardChord | undefined {
  const set = kind.members.reduce((all, { semitones }) => all | (1 << ((root + semitones) % 12)), 0)
  if (!(sounding & ~set)) return undefined
  const classes = Array.from({ length: 12 }, (_, step) => (bass + step) % 12).filter(chroma => sounding & (1 << chroma))
  return nameChord(classes.map(nameOf))
}

const kindOf = (suffix: string): ChordKind => CHORD_KINDS.find(kind => kind.suffix === suffix)!
const [SIXTH, MINOR_SIXTH] = ['6', 'm6'].map(kindOf) as [ChordKind, ChordKind]

/**
 * A minor seventh over its third is a sixth chord, a half-diminished one a minor sixth, unless what follows is where
 * the seventh leads: a major chord a fifth lower (or, half-diminished, a half step higher). Common practice.
 */
function otherName(
  harmony: HeardHarmony,
  next: HeardHarmony | undefined,
  isSpelled: boolean,
): { root: number; kind: ChordKind } {
  const { root, kind, bass } = harmony
  const rise = next && (next.root - root + 12) % 12
  const above = (bass - root + 12) % 12
  const isDominant = rise === 5 && next!.kind.members.some(({ semitones }) => semitones === 4)
  if (kind.suffix === 'm7' && above === 3 && !isDominant) return { root: bass, kind: SIXTH }
  if (kind.suffix === 'm7b5' && above === 3 && !isDominant && (rise !== 1 || next!.kind === kind))
    return { root: bass, kind: MINOR_SIXTH }
  if (kind.suffix === 'aug' || kind.suffix === 'dim7')
    return { root: rootOfSymmetrical(harmony, next, isSpelled), kind }
  return { root, kind }
}

/**
 * The root of a chord that is the same on each of its notes: the one from which it is spelled in thirds, where somebody
 * spelled it; of a diminished seventh the leading note of what follows; otherwise the bass. Common practice.
 */
function rootOfSymmetrical(
  { root, kind, bass, moments }: HeardHarmony,
  next: HeardHarmony | undefined,
  isSpelled: boolean,
): number {
  const roots = kind.members.map(({ semitones }) => (root + semitones) % 12)
  const letterAt = (chroma: number) => moments.map(one => one.letters[chroma]).find(letter => letter !== undefined)
  const inThirds = roots.filter(one =>
    kind.members.every(({ semitones, letters }) => letterAt((one + semitones) % 12) === (letterAt(one)! + letters) % 7),
  )
  if (isSpelled && inThirds.length === 1) return inThirds[0]!
  const leading = next && kind.suffix === 'dim7' ? roots.find(one => (one + 1) % 12 === next.root) : undefined
  return leading ?? (roots.includes(bass) ? bass : root)
}

/** A pitch class under a letter: B♯ for 0 under B. Undefined where that needs more than two signs. */
function spelledWith(letter: string, chroma: number): string | undefined {
  const off = ((chroma - Note.chroma(letter)! + 18) % 12) - 6
  return Math.abs(off) > 2 ? undefined : letter + (off > 0 ? '#'.repeat(off) : 'b'.repeat(-off))
}
