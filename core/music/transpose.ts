import { barAt, type Arrangement, type ChordSymbol, type Note } from './arrangement'
import { inOrder } from './note-list'
import { isOnKeyboard, spellInKey, type MidiPitch } from './pitch'

/** The natural notes on the line of fifths, F to B. */
const ON_THE_LINE = 'FCGDAEB'
/** More signs than a double sharp or flat are not written. */
const MAX_SIGNS = 2

/**
 * The signature of a key that lies so many half steps higher: of enharmonic twins the one with at most six signs, six
 * sharps rather than six flats.
 */
export const signatureMoved = (fifths: number, halfSteps: number): number =>
  ((((fifths + 7 * halfSteps + 5) % 12) + 12) % 12) - 5

/**
 * A note name moved along the line of fifths (`fifths` 1: a fifth up; 7: a half step up under the same letter; −5: a
 * half step up under the next), its octave left off. Undefined where that needs more than a double sharp or flat.
 */
export function nameMoved(name: string, fifths: number): string | undefined {
  const [, letter, signs] = /^([A-G])(#+|b+|)/.exec(name)!
  const place = ON_THE_LINE.indexOf(letter!) + 7 * (signs!.startsWith('b') ? -signs!.length : signs!.length) + fifths
  const alter = Math.floor(place / 7)
  return Math.abs(alter) > MAX_SIGNS
    ? undefined
    : `${ON_THE_LINE[((place % 7) + 7) % 7]}${alter > 0 ? '#'.repeat(alter) : 'b'.repeat(-alter)}`
}

/** A pitch with a note name: `C#4`. */
export function spelledAs(name: string, pitch: MidiPitch): string {
  const alter = name.endsWith('b') && name.length > 1 ? -(name.length - 1) : name.length - 1
  return `${name}${Math.floor((pitch - alter) / 12) - 1}`
}

/**
 * All notes, signatures and chord symbols moved by so many half steps, each note by the interval between the two keys,
 * so that its place in the key is spelled as before (what would need more than a double sharp or flat is spelled by the
 * key). Throws a RangeError when notes would leave the 88 keys.
 */
export function transposed(arrangement: Arrangement, halfSteps: number): Arrangement {
  const moves = arrangement.bars.map(bar => signatureMoved(bar.fifths, halfSteps) - bar.fifths)
  const bars = arrangement.bars.map((bar, index) => ({ ...bar, fifths: bar.fifths + moves[index]! }))
  const move = <T extends Omit<Note, 'hand'>>(note: T): T => {
    const pitch = note.pitch + halfSteps
    if (!isOnKeyboard(pitch)) throw new RangeError('some notes would leave the 88 keys')
    const name = nameMoved(note.spelled, moves[note.barIndex]!)
    return { ...note, pitch, spelled: name ? spelledAs(name, pitch) : spellInKey(pitch, bars[note.barIndex]!.fifths) }
  }
  return {
    ...arrangement,
    bars,
    notes: arrangement.notes.map(move).sort(inOrder),
    others: arrangement.others.map(role => (role.percussion ? role : { ...role, notes: role.notes.map(move) })),
    chords: arrangement.chords.map(chord => {
      const { index } = barAt(arrangement, chord.onset)
      return chordMoved(chord, moves[index]!, name =>
        spellInKey(60 + ((chromaOf(name) + halfSteps + 144) % 12), bars[index]!.fifths).replace(/-?\d+$/, ''),
      )
    }),
  }
}

/** A symbol, or a chord's name, with its root and bass under other names. */
const withNames = (text: string, move: (name: string) => string): string =>
  text.replace(/^[A-G](?:#+|b+)?/, move).replace(/(?<=\/| over )[A-G](?:#+|b+)?$/, move)

/**
 * A chord symbol moved along the line of fifths: `Am7/G` by 1 is `Em7/D`. What would need more than a double sharp or
 * flat keeps its own name.
 */
export const symbolMoved = (symbol: string, fifths: number): string =>
  withNames(symbol, name => nameMoved(name, fifths) ?? name)

/** A chord symbol with all its names moved; `otherwise` names what cannot be. */
function chordMoved<Chord extends Omit<ChordSymbol, 'onset'>>(
  chord: Chord,
  fifths: number,
  otherwise: (name: string) => string,
): Chord {
  const move = (name: string) => nameMoved(name, fifths) ?? otherwise(name)
  const names = (text: string) => withNames(text, move)
  return {
    ...chord,
    symbol: names(chord.symbol),
    name: names(chord.name),
    bass: move(chord.bass),
    notes: chord.notes.map(move),
  }
}

const chromaOf = (name: string): number =>
  ({ C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 })[name[0] as 'C']! +
  (name.endsWith('b') && name.length > 1 ? -(name.length - 1) : name.length - 1)
