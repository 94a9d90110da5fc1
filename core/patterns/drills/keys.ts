import { shuffler } from 'd3-array'
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import { Note } from 'tonal'
import { NoDrill, type DrillKeys } from './recipe'

/** A key as it is called, with its signature: positive sharps. */
export interface DrillKey {
  readonly tonic: string
  readonly isMinor: boolean
  readonly fifths: number
}

/** How far a minor key's signature lies from that of the major key on its tonic. */
const MINOR_FIFTHS = -3
/** More sharps or flats than this are written as the enharmonic twin, six of either as they come. */
const MAX_SIGNS = 6

/** The signature of a key on a tonic that is named; more than seven signs are none. */
export function keyOn(tonic: string, isMinor: boolean): DrillKey {
  if (!/^[A-G](#|b)?$/.test(tonic))
    throw new NoDrill(`"${tonic.slice(0, 10)}" is not a key; a note such as Bb or F# was expected`)
  const fifths = fifthsOf(tonic) + (isMinor ? MINOR_FIFTHS : 0)
  if (Math.abs(fifths) > 7)
    throw new NoDrill(`the key of ${tonic} ${isMinor ? 'minor' : 'major'} would have ${Math.abs(fifths)} signs`)
  return { tonic, isMinor, fifths }
}

/** How many fifths a note name lies above C. */
const fifthsOf = (name: string): number =>
  'FCGDAEB'.indexOf(name[0]!) - 1 + 7 * (name.endsWith('#') ? 1 : name.length > 1 ? -1 : 0)

/** The key on a pitch class, with as few signs as it can have. */
function plainest(chroma: number, isMinor: boolean): DrillKey {
  const names = ['C', 'C#', 'Db', 'D', 'D#', 'Eb', 'E', 'F', 'F#', 'Gb', 'G', 'G#', 'Ab', 'A', 'A#', 'Bb', 'B'].filter(
    name => Note.chroma(name) === chroma,
  )
  const keys = names.map(tonic => ({ tonic, isMinor, fifths: fifthsOf(tonic) + (isMinor ? MINOR_FIFTHS : 0) }))
  return keys
    .filter(({ fifths }) => Math.abs(fifths) <= MAX_SIGNS)
    .sort((a, b) => Math.abs(a.fifths) - Math.abs(b.fifths) || b.fifths - a.fifths)[0]!
}

/** A source of chance that is the same for the same seed. */
function chanceOf(seed: number): () => number {
  const generator = xoroshiro128plus(seed)
  return () => uniformFloat64(generator)
}

/** The keys that a drill goes through, in order. Throws NoDrill for a name that is none. */
export function drillKeys({ order, from = 'C', list, seed = 1 }: DrillKeys, isMinor: boolean): DrillKey[] {
  if (order === 'list') {
    if (!list || list.length === 0) throw new NoDrill('keys of the order "list" need a list of note names')
    return list.map(tonic => keyOn(tonic, isMinor))
  }
  const first = keyOn(from, isMinor)
  if (order === 'one') return [first]
  const start = Note.chroma(first.tonic)!
  const steps = Array.from({ length: 12 }, (_, index) => index)
  const chromas =
    order === 'fifths'
      ? steps.map(step => (start + 7 * step) % 12)
      : order === 'chromatic'
        ? steps.map(step => (start + step) % 12)
        : [start, ...shuffler(chanceOf(seed))(steps.slice(1).map(step => (start + step) % 12))]
  return chromas.map((chroma, index) => (index === 0 ? first : plainest(chroma, isMinor)))
}

/** The tonics of the major and the minor key that a signature stands for. */
export function keysWithSignature(fifths: number): { major: string; minor: string } {
  const name = (place: number) =>
    `${'FCGDAEB'[(((place + 1) % 7) + 7) % 7]}${place + 1 >= 7 ? '#' : place + 1 < 0 ? 'b' : ''}`
  return { major: name(fifths), minor: name(fifths - MINOR_FIFTHS) }
}
