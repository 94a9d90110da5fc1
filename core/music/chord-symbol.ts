import { Chord, Note } from 'tonal'

/** A chord as a symbol says it: root and bass as note names without octave, `type` as a suffix (`m7`, `maj7`, ``). */
export interface ChordSpelling { symbol: string, name: string, inversion: number | null, bass: string, notes: string[] }

/** A degree added to, altered in or taken from a chord: `value` 9 with `alter` −1 is a flat nine. */
export interface ChordDegree { value: number, alter: number, kind: 'add' | 'alter' | 'subtract' }

const MAJOR_SCALE_INTERVALS = ['1P', '2M', '3M', '4P', '5P', '6M', '7M', '8P', '9M', '10M', '11P', '12P', '13M']

/**
 * Spells a chord from its root, the suffix of its type and its bass: name, inversion and notes from the bass's
 * point of view of the root (`['F', 'A', 'C']` for F, whatever the inversion). The inversion counts the chord's
 * notes from the root; it is null for a bass that is not one of them.
 */
export function spellChord(root: string, suffix: string, bass = root, degrees: readonly ChordDegree[] = []): ChordSpelling {
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

function withDegree(notes: string[], root: string, degree: ChordDegree): string[] {
  const plainInterval = MAJOR_SCALE_INTERVALS[degree.value - 1]
  if (!plainInterval) return notes
  // A degree is counted as in a dominant chord (MusicXML, degree-alter): an added plain 7 is the minor seventh.
  const alter = degree.alter - (degree.value === 7 && degree.kind === 'add' ? 1 : 0)
  const altered = respell(Note.pitchClass(Note.transpose(root, plainInterval)), alter)
  const byLetter = (note: string) => (Note.get(note).step - Note.get(root).step + 7) % 7 === (degree.value - 1) % 7
  if (degree.kind === 'subtract') return notes.filter(note => !byLetter(note))
  if (degree.kind === 'alter') return notes.map(note => byLetter(note) ? altered : note)
  return notes.includes(altered) ? notes : [...notes, altered]
}

/** A note name moved by half steps under the same letter: B♭ and +1 is B. */
function respell(name: string, alter: number): string {
  const { letter, alt } = Note.get(name)
  const sum = alt + alter
  return letter + (sum > 0 ? '#'.repeat(sum) : 'b'.repeat(-sum))
}

const degreeSuffix = ({ value, alter, kind }: ChordDegree): string =>
  kind === 'subtract' ? `no${value}` : `${kind === 'add' && alter === 0 ? 'add' : ''}${alter > 0 ? '#'.repeat(alter) : 'b'.repeat(-alter)}${value}`
