import { Interval, Note } from 'tonal'
import { nameMoved } from './transpose'

const NUMERALS = ['I', 'II', 'III', 'IV', 'V', 'VI', 'VII']
const MINOR_LIKE = /^(m(?!aj)|dim|°|o)/
const SCALES = { major: [0, 2, 4, 5, 7, 9, 11], minor: [0, 2, 3, 5, 7, 8, 10] }

/** A symbol's root and the rest without its bass; undefined for what is no symbol. */
function parts(symbol: string): { root: string; rest: string } | undefined {
  const [, root, rest] = /^([A-G][#b]*)(.*?)(?:\/[A-G][#b]*)?$/.exec(symbol) ?? []
  return root === undefined ? undefined : { root, rest: rest! }
}

/** The step of the scale a note stands on, from 0, and how far it lies off it. */
function stepIn(root: string, tonic: string, isMinor: boolean): { step: number; off: number } {
  const interval = Interval.get(Interval.distance(tonic, root))
  const step = (((interval.step ?? 0) % 7) + 7) % 7
  return { step, off: (((interval.chroma ?? 0) - SCALES[isMinor ? 'minor' : 'major'][step]! + 18) % 12) - 6 }
}

/**
 * The roman numeral of a chord in a key: small for minor and diminished, ° for diminished, the rest of the type behind
 * it (`ii7`, `V7`, `♭VII`, `vii°`, `IVmaj7`). `tonic` is the key's note name; chords outside the key get a sign before
 * the numeral. With the chord that comes `next`, what leads to it from outside the key is said as such (`V7/V`,
 * `vii°7/vi`; common practice).
 */
export function romanNumeral(symbol: string, tonic: string, isMinor = false, next?: string): string {
  const chord = parts(symbol)
  if (!chord) return ''
  const applied = next === undefined ? undefined : appliedTo(chord, tonic, isMinor, next)
  if (applied) return applied
  const { step, off } = stepIn(chord.root, tonic, isMinor)
  // The leading note of a minor key carries its own diminished chord.
  const isLeading = isMinor && step === 6 && off === 1
  return numeral(step, chord.rest, isLeading ? '' : off > 0 ? '♯'.repeat(off) : '♭'.repeat(-off))
}

function numeral(step: number, rest: string, sign = ''): string {
  const isSmall = MINOR_LIKE.test(rest)
  const isDiminished = /^dim|^m7b5/.test(rest)
  const quality = rest
    .replace(/^m7b5/, 'ø7')
    .replace(/^dim/, '°')
    .replace(/^m(?!aj|Maj)/, '')
  return `${sign}${isSmall ? NUMERALS[step]!.toLowerCase() : NUMERALS[step]!}${isDiminished && !/[°ø]/.test(quality) ? '°' : ''}${quality}`
}

/**
 * A dominant, or a diminished chord on a leading note, that is not of the key and goes where it leads: to a major or
 * minor chord of the key other than the tonic.
 */
function appliedTo(
  { root, rest }: { root: string; rest: string },
  tonic: string,
  isMinor: boolean,
  next: string,
): string | undefined {
  const target = parts(next)
  if (!target || /^(dim|m7b5|aug)/.test(target.rest)) return undefined
  const to = stepIn(target.root, tonic, isMinor)
  const rise = (Note.chroma(target.root)! - Note.chroma(root)! + 12) % 12
  const isDominant = rise === 5 && /^(7|9|11|13|$)/.test(rest)
  const isLeading = rise === 1 && /^(dim|m7b5)/.test(rest)
  if (to.off !== 0 || to.step === 0 || (!isDominant && !isLeading) || isOfKey(root, rest, tonic, isMinor))
    return undefined
  const goal = numeral(to.step, /^m(?!aj)/.test(target.rest) ? 'm' : '')
  return `${numeral(isDominant ? 4 : 6, rest)}/${goal}`
}

/** Whether a dominant-like chord is made of the key's own notes (in minor also with the raised leading note). */
function isOfKey(root: string, rest: string, tonic: string, isMinor: boolean): boolean {
  const third = /^(dim|m)/.test(rest) ? 3 : 4
  const fifth = /^(dim|m7b5)/.test(rest) ? 6 : 7
  const seventh = rest === 'dim7' ? [9] : /^(7|9|11|13|m7b5)/.test(rest) ? [10] : []
  const scale = new Set(isMinor ? [...SCALES.minor, 11] : SCALES.major)
  const from = Note.chroma(root)! - Note.chroma(tonic)! + 12
  return [0, third, fifth, ...seventh].every(step => scale.has((from + step) % 12))
}

/** How many fifths above the tonic each step of the scale lies. */
const FIFTHS_TO_STEPS = { major: [0, 2, 4, -1, 1, 3, 5], minor: [0, 2, -3, -1, 1, -4, -2] }
const DEGREE = /^([#♯b♭]?)(VII|VI|IV|V|III|II|I|vii|vi|iv|v|iii|ii|i)(.*)$/

/**
 * The chord symbol of a roman numeral in a key: `IVmaj7` in C is `Fmaj7`, `ii7` is `Dm7`, `vii°` is `Bdim`, `♭VII` is
 * `Bb` (a small numeral is minor). `tonic` is the key's note name. Throws a RangeError for what is no numeral.
 */
export function chordOfNumeral(numeralText: string, tonic: string, isMinor = false): string {
  const [, sign, degree, rest] = DEGREE.exec(numeralText.trim()) ?? []
  if (degree === undefined)
    throw new RangeError(
      `"${numeralText.slice(0, 20)}" is not a degree of the scale; a numeral such as IVmaj7, ii7 or ♭VII was expected`,
    )
  const step = NUMERALS.indexOf(degree.toUpperCase())
  const signed = sign === '' ? 0 : sign === '#' || sign === '♯' ? 7 : -7
  const root = nameMoved(tonic, FIFTHS_TO_STEPS[isMinor ? 'minor' : 'major'][step]! + signed)
  if (root === undefined)
    throw new RangeError(`"${numeralText.slice(0, 20)}" in ${tonic} would need more than a double sharp or flat`)
  const isSmall = degree === degree.toLowerCase()
  const kind = rest!.replace('ø7', 'm7b5').replace('ø', 'm7b5').replace('°', 'dim')
  return `${root}${isSmall && !/^(m|dim)/.test(kind) ? 'm' : ''}${kind}`
}
