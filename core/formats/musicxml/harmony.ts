import type { XMLElement } from 'xmlbuilder'
import { parseChordSymbol, spellChord, type ChordDegree, type ChordSpelling } from '../../music/chord-symbol'
import type { Warnings } from './warnings'
import { child, children, textOf, type XmlElement } from './xml'

/** MusicXML's chord kinds (the `kind-value` list of the format) as the usual suffixes. */
const KIND_SUFFIXES: Record<string, string> = {
  major: '',
  minor: 'm',
  augmented: 'aug',
  diminished: 'dim',
  dominant: '7',
  'major-seventh': 'maj7',
  'minor-seventh': 'm7',
  'diminished-seventh': 'dim7',
  'augmented-seventh': '7#5',
  'half-diminished': 'm7b5',
  'major-minor': 'mMaj7',
  'major-sixth': '6',
  'minor-sixth': 'm6',
  'dominant-ninth': '9',
  'major-ninth': 'maj9',
  'minor-ninth': 'm9',
  'dominant-11th': '11',
  'minor-11th': 'm11',
  'dominant-13th': '13',
  'major-13th': 'maj13',
  'minor-13th': 'm13',
  'suspended-second': 'sus2',
  'suspended-fourth': 'sus4',
  power: '5',
}

/** The chord a <harmony> names; undefined, with a warning, for "no chord", functions and kinds without a name. */
export function readHarmony(element: XmlElement, warnings: Warnings, label: string): ChordSpelling | undefined {
  const kind = textOf(element, 'kind')
  const root = noteName(child(element, 'root'), 'root')
  if (kind === 'none') return undefined
  if (!root) {
    warnings.note({ kind: 'chord-by-function' }, label)
    return undefined
  }
  const suffix = KIND_SUFFIXES[kind]
  if (suffix === undefined) {
    warnings.note({ kind: 'chord-kind', name: kind }, label)
    return undefined
  }
  const degrees = children(element, 'degree').flatMap((degree): ChordDegree[] => {
    const value = Number(textOf(degree, 'degree-value'))
    const type = textOf(degree, 'degree-type')
    const alter = Math.round(Number(textOf(degree, 'degree-alter') || 0))
    return Number.isInteger(value) &&
      value >= 1 &&
      value <= 13 &&
      Math.abs(alter) <= 2 &&
      (type === 'add' || type === 'alter' || type === 'subtract')
      ? [{ value, alter, kind: type }]
      : []
  })
  return spellChord(root, suffix, noteName(child(element, 'bass'), 'bass') ?? root, degrees)
}

function noteName(element: XmlElement | undefined, prefix: 'root' | 'bass'): string | undefined {
  const step = textOf(element, `${prefix}-step`)
  const alter = Math.round(Number(textOf(element, `${prefix}-alter`) || 0))
  if (!/^[A-G]$/.test(step) || !(Math.abs(alter) <= 2)) return undefined
  return step + (alter > 0 ? '#'.repeat(alter) : 'b'.repeat(-alter))
}

/**
 * Writes the <harmony> of a chord symbol, `offset` divisions behind the event it stands before. Symbols that the format
 * has no kind for keep their words.
 */
export function writeHarmony(measure: XMLElement, symbol: string, offset: number): void {
  const { root, suffix, degrees, bass } = parseChordSymbol(symbol, Object.values(KIND_SUFFIXES))
  const harmony = measure.ele('harmony')
  writeNoteName(harmony.ele('root'), 'root', root)
  const kind = Object.keys(KIND_SUFFIXES).find(one => KIND_SUFFIXES[one] === suffix)
  const words = suffix + symbol.slice(root.length + suffix.length).replace(/\/.*$/, '')
  harmony.ele('kind', { text: words }, kind ?? 'other')
  if (bass !== root) writeNoteName(harmony.ele('bass'), 'bass', bass)
  for (const { value, alter, kind: type } of degrees) {
    const degree = harmony.ele('degree', { 'print-object': 'no' })
    degree.ele('degree-value', value)
    degree.ele('degree-alter', alter)
    degree.ele('degree-type', type)
  }
  if (offset > 0) harmony.ele('offset', offset)
}

function writeNoteName(element: XMLElement, prefix: 'root' | 'bass', name: string) {
  element.ele(`${prefix}-step`, name[0])
  const alter = name.slice(1).startsWith('#') ? name.length - 1 : 1 - name.length
  if (alter !== 0) element.ele(`${prefix}-alter`, alter)
}
