import { Chord, Interval, Note } from 'tonal'
import { spellChord, spellSymbol, type ChordSpelling } from './chord-symbol'

/** A chord as it is heard: its name, and what of it is not played. */
export interface HeardChord extends ChordSpelling {
  /** Notes that belong to it and are not played: a seventh without its fifth. */
  missing: string[]
}

/**
 * Names a chord from its notes, lowest first, as spelled (`['E4', 'G4', 'C5']` is C, first inversion). A fifth may be missing. Undefined for
 * what is no chord of three notes and for clusters without a name. The plainest reading comes first: the one with the fewest notes
 * beyond a seventh chord, then the one that stands on its root.
 */
export function nameChord(spelled: readonly string[]): HeardChord | undefined {
  const names = [...new Set(spelled.map(one => Note.pitchClass(one)))]
  if (names.length < 2) return undefined
  const bass = names[0]!
  const readings = Chord.detect([...names], { assumePerfectFifth: names.length >= 3 }).flatMap((symbol) => {
    const found = readingOf(symbol, bass, names)
    return found ? [found] : []
  })
  if (names.length < 3) return readings.find(reading => reading.symbol.replace(/\/.*/, '').endsWith('5'))
  return readings.sort((a, b) => weight(a) - weight(b))[0]
}

function readingOf(detected: string, bass: string, names: readonly string[]): HeardChord | undefined {
  const symbol = detected.replace(/^([A-G][#b]*)M(?![a-z\d])/, '$1').replace(/^([A-G][#b]*)M7/, '$1maj7').replace(/no5/, '')
  const [, root] = /^([A-G](?:#{1,2}|b{1,2})?)/.exec(symbol) ?? []
  if (!root) return undefined
  const suffix = symbol.slice(root.length).replace(/\/[A-G][#b]*$/, '')
  let chord: ChordSpelling
  try {
    chord = suffix === '' || /^[\w#]+$/.test(suffix) ? spellSymbol(`${root}${suffix}${bass === root ? '' : `/${bass}`}`) : spellChord(root, suffix, bass)
  }
  catch { return undefined }
  const played = new Set(names.map(name => Note.chroma(name)))
  return { ...chord, missing: chord.notes.filter(note => !played.has(Note.chroma(note))) }
}

const weight = (chord: HeardChord): number =>
  Math.max(0, chord.notes.length - 4) * 3 + chord.missing.length * 2 + (chord.inversion === 0 ? 0 : chord.inversion === null ? 4 : 1) + (/[#b]\d|add|no/.test(chord.symbol.slice(1)) ? 2 : 0)

const NUMERALS = ['I', 'II', 'III', 'IV', 'V', 'VI', 'VII']
const MINOR_LIKE = /^(m(?!aj)|dim|°|o)/

/**
 * The roman numeral of a chord in a key: small for minor and diminished, ° for diminished, the rest of the type behind it (`ii7`, `V7`,
 * `♭VII`, `vii°`, `IVmaj7`). `tonic` is the key's note name; chords outside the key get a sign before the numeral.
 */
export function romanNumeral(symbol: string, tonic: string, isMinor = false): string {
  const [, root, rest] = /^([A-G][#b]*)(.*?)(?:\/[A-G][#b]*)?$/.exec(symbol) ?? []
  if (!root) return ''
  const interval = Interval.get(Interval.distance(tonic, root))
  const step = ((interval.step ?? 0) % 7 + 7) % 7
  const scale = isMinor ? [0, 2, 3, 5, 7, 8, 10] : [0, 2, 4, 5, 7, 9, 11]
  const off = ((interval.chroma ?? 0) - scale[step]! + 18) % 12 - 6
  const sign = off > 0 ? '♯'.repeat(off) : '♭'.repeat(-off)
  const isSmall = MINOR_LIKE.test(rest!)
  const isDiminished = /^dim|^m7b5/.test(rest!)
  const quality = rest!.replace(/^m7b5/, 'ø7').replace(/^dim/, '°').replace(/^m(?!aj)/, '')
  return `${sign}${isSmall ? NUMERALS[step]!.toLowerCase() : NUMERALS[step]!}${isDiminished && !/[°ø]/.test(quality) ? '°' : ''}${quality}`
}
