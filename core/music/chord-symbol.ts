import { Chord, Note } from 'tonal'

/** A chord as a symbol says it: root and bass as note names without octave, `type` as a suffix (`m7`, `maj7`, ``). */
export interface ChordSpelling {
  symbol: string
  name: string
  inversion: number | null
  bass: string
  notes: string[]
}

/** A degree added to, altered in or taken from a chord: `value` 9 with `alter` −1 is a flat nine. */
export interface ChordDegree {
  value: number
  alter: number
  kind: 'add' | 'alter' | 'subtract'
}

const MAJOR_SCALE_INTERVALS = ['1P', '2M', '3M', '4P', '5P', '6M', '7M', '8P', '9M', '10M', '11P', '12P', '13M']

/**
 * Spells a chord from its root, the suffix of its type and its bass: name, inversion and notes from the bass's
 * point of view of the root (`['F', 'A', 'C']` for F, whatever the inversion). The inversion counts the chord's
 * notes from the root; it is null for a bass that is not one of them.
 */
export function spellChord(
  root: string,
  suffix: string,
  bass = root,
  degrees: readonly ChordDegree[] = [],
): ChordSpelling {
  const chord = Chord.getChord(suffix === '' ? 'M' : suffix, root)
  let notes = chord.empty ? [root] : chord.notes
  for (const degree of degrees) notes = withDegree(notes, root, degree)
  const place = notes.findIndex(note => Note.chroma(note) === Note.chroma(bass))
  const changed = degrees.map(degreeSuffix).join('')
  const symbol = `${root}${suffix}${changed}${bass === root ? '' : `/${bass}`}`
  const typeName = chord.type || (suffix === '' ? 'major' : suffix)
  return {
    symbol,
    name: `${root} ${typeName}${changed ? ` ${changed}` : ''}${bass === root ? '' : ` over ${bass}`}`,
    inversion: place < 0 ? null : place,
    bass,
    notes,
  }
}

/**
 * A parsed chord symbol: root, the suffix of its type, added or altered degrees, bass (the root where none is named).
 */
export interface ParsedChord {
  root: string
  suffix: string
  degrees: ChordDegree[]
  bass: string
}

/**
 * Parses a symbol such as `F#m7b5/E` or `C7(b9)`. `suffixes` are the types known as a whole; whatever follows the
 * longest of them is read as degrees. Throws a RangeError that says what is not understood.
 */
export function parseChordSymbol(symbol: string, suffixes: readonly string[] = []): ParsedChord {
  const match = /^([A-G](?:#{1,2}|b{1,2})?)(.*?)(?:\/([A-G](?:#{1,2}|b{1,2})?))?$/.exec(plainSymbol(symbol))
  if (!match) throw new RangeError(`"${symbol.slice(0, 20)}" is not a chord symbol; a root from A to G was expected`)
  const [, root, type, bass] = match as unknown as [string, string, string, string | undefined]
  const known = [...suffixes].filter(suffix => type.startsWith(suffix)).sort((a, b) => b.length - a.length)
  for (const suffix of known) {
    const degrees = parseDegrees(type.slice(suffix.length))
    if (degrees) return { root, suffix, degrees, bass: bass ?? root }
  }
  if (Chord.getChord(type === '' ? 'M' : type, root).empty)
    throw new RangeError(`"${symbol.slice(0, 20)}": the chord type "${type.slice(0, 20)}" is not known`)
  return { root, suffix: type, degrees: [], bass: bass ?? root }
}

/**
 * A typed symbol in one normal form: sharps and flats as # and b, no brackets, minus for minor, triangle for major
 * seventh.
 */
function plainSymbol(symbol: string): string {
  return symbol
    .trim()
    .replaceAll('♯', '#')
    .replaceAll('♭', 'b')
    .replace(/[()\s,]/g, '')
    .replace(/Δ7?|(?<=[A-G][#b]?)(?:MA7|Maj7|M7)/, 'maj7')
    .replace(/(?<=^[A-G][#b]?)(?:-|min|mi(?!\w*n))(?!aj)/, 'm')
    .replace(/(?<=^[A-G][#b]?)ø7?/, 'm7b5')
    .replace(/(?<=^[A-G][#b]?)[°o](7?)/, 'dim$1')
    .replace(/(?<=^[A-G][#b]?)\+/, 'aug')
    .replace(/(?<=^[A-G][#b]?)mmaj7/i, 'mMaj7')
}

function parseDegrees(text: string): ChordDegree[] | undefined {
  const degrees: ChordDegree[] = []
  for (let rest = text; rest !== '';) {
    const match = /^(no|add)?([#b]{0,2})(\d{1,2})/.exec(rest)
    const value = Number(match?.[3])
    if (!match || value < 1 || value > 13) return undefined
    const [, word, signs] = match as unknown as [string, string | undefined, string]
    if (word === undefined && signs === '') return undefined
    const alter = signs.startsWith('#') ? signs.length : -signs.length
    degrees.push({ value, alter, kind: word === 'no' ? 'subtract' : word === 'add' || value > 7 ? 'add' : 'alter' })
    rest = rest.slice(match[0].length)
  }
  return degrees
}

/** A symbol spelled out. Throws a RangeError for one that is not understood. */
export function spellSymbol(symbol: string): ChordSpelling {
  const { root, suffix, degrees, bass } = parseChordSymbol(symbol, COMMON_SUFFIXES)
  return spellChord(root, suffix, bass, degrees)
}

/** Types that further degrees are added to; any other type is in the chord dictionary. */
const COMMON_SUFFIXES = [
  '',
  'm',
  'aug',
  'dim',
  '7',
  'maj7',
  'm7',
  'dim7',
  'm7b5',
  'mMaj7',
  '6',
  'm6',
  '9',
  'maj9',
  'm9',
  '11',
  'm11',
  '13',
  'maj13',
  'm13',
  'sus2',
  'sus4',
  '7sus4',
  '5',
]

function withDegree(notes: string[], root: string, degree: ChordDegree): string[] {
  const plainInterval = MAJOR_SCALE_INTERVALS[degree.value - 1]
  if (!plainInterval) return notes
  // A degree is counted as in a dominant chord (MusicXML, degree-alter): an added plain 7 is the minor seventh.
  const alter = degree.alter - (degree.value === 7 && degree.kind === 'add' ? 1 : 0)
  const altered = respell(Note.pitchClass(Note.transpose(root, plainInterval)), alter)
  const byLetter = (note: string) => (Note.get(note).step - Note.get(root).step + 7) % 7 === (degree.value - 1) % 7
  if (degree.kind === 'subtract') return notes.filter(note => !byLetter(note))
  if (degree.kind === 'alter') return notes.map(note => (byLetter(note) ? altered : note))
  return notes.includes(altered) ? notes : [...notes, altered]
}

/** A note name moved by half steps under the same letter: B♭ and +1 is B. */
function respell(name: string, alter: number): string {
  const { letter, alt } = Note.get(name)
  const sum = alt + alter
  return letter + (sum > 0 ? '#'.repeat(sum) : 'b'.repeat(-sum))
}

const degreeSuffix = ({ value, alter, kind }: ChordDegree): string =>
  kind === 'subtract'
    ? `no${value}`
    : `${kind === 'add' && alter === 0 ? 'add' : ''}${alter > 0 ? '#'.repeat(alter) : 'b'.repeat(-alter)}${value}`
