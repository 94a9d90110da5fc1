import { spellInKey, type MidiPitch } from '../music/pitch'
import { plural } from './amounts'

/** How notes are called: C D E, Do Re Mi, or German with H and B. */
export type NoteNames = 'letters' | 'solfege' | 'german'

/** The scale of C in each of them, to choose by. */
export const NOTE_NAME_SCALES: Readonly<Record<NoteNames, string>> = {
  letters: 'C D E F G A B',
  solfege: 'Do Re Mi Fa Sol La Si',
  german: 'C D E F G A H',
}

const SOLFEGE: Record<string, string> = { C: 'Do', D: 'Re', E: 'Mi', F: 'Fa', G: 'Sol', A: 'La', B: 'Si' }

/** The name as a player reads it: `F♯4`, `Fa♯4` or `Fis4` for `F#4`; without the octave when `octave` is false. */
export function displayName(spelled: string, octave = true, names: NoteNames = 'letters'): string {
  const [, letter, signs, number] = /^([A-G])(#*|b*)(-?\d*)$/.exec(spelled) ?? [undefined, spelled, '', '']
  const name =
    names === 'german'
      ? germanName(letter!, signs!)
      : (names === 'solfege' ? (SOLFEGE[letter!] ?? letter!) : letter!) +
        signs!.replaceAll('#', '♯').replaceAll('b', '♭')
  return octave ? name + number! : name
}

/**
 * A chord symbol as a player reads it: `F♯m7/E`; in German `Fism7/E`, `Hm`, and `B` for B flat; with note names by
 * syllables the root stays a letter (common practice).
 */
export function symbolText(symbol: string, names: NoteNames = 'letters'): string {
  const [, root, type, bass] = /^([A-G][#b]*)(.*?)(?:\/([A-G][#b]*))?$/.exec(symbol) ?? []
  if (root === undefined) return symbol
  const name = (one: string) => displayName(one, false, names === 'german' ? 'german' : 'letters')
  const kind = type!.replaceAll('#', '♯').replace(/b(?=\d)/g, '♭')
  return `${name(root)}${kind}${bass === undefined ? '' : `/${name(bass)}`}`
}

/** B is H and B♭ is B; sharps add "is", flats "es" (As, Es without the e). */
function germanName(letter: string, signs: string): string {
  if (letter === 'B' && signs.startsWith('b')) return signs === 'b' ? 'B' : 'H' + 'es'.repeat(signs.length)
  const root = letter === 'B' ? 'H' : letter
  if (signs.startsWith('#')) return root + 'is'.repeat(signs.length)
  const flats = 'es'.repeat(signs.length)
  return root === 'A' || root === 'E' ? root + flats.slice(1) : root + flats
}

/** How a key signature reads, without deciding between major and minor. `fifths`: positive sharps, negative flats. */
export const signatureText = (fifths: number): string =>
  fifths === 0 ? 'no sharps or flats' : plural(Math.abs(fifths), fifths > 0 ? 'sharp' : 'flat')

/** The name of a key as it would be written in a key signature (`fifths`: positive sharps). */
export const keyName = (pitch: MidiPitch, fifths: number, octave = false, names: NoteNames = 'letters'): string =>
  displayName(spellInKey(pitch, fifths), octave, names)
