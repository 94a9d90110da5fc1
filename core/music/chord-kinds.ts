import { Chord, ChordType, Interval } from 'tonal'

/**
 * A member of a chord: half steps over the root, and the letter it is spelled with, counted from the root's (a third is
 * 2).
 */
export interface Member {
  semitones: number
  letters: number
  degree: number
}

/** A kind of chord. `suffix`: as it is written behind the root; `cost`: how far from plain, as a name. */
export interface ChordKind {
  suffix: string
  members: readonly Member[]
  cost: number
  /** The same notes name a plainer chord on another root: considered only where the context says so. */
  isOtherName: boolean
}

/**
 * The kinds of chords that players name, plainest first, with the cost of the name: own choice after common practice (a
 * triad before a seventh, a seventh before a sixth or a suspension, those before ninths and above). Their notes are
 * tonal's.
 */
const NAMED: Readonly<Record<string, number>> = {
  '': 0,
  m: 0,
  '7': 0.3,
  maj7: 0.35,
  m7: 0.3,
  dim: 0.35,
  m7b5: 0.5,
  dim7: 0.5,
  aug: 0.5,
  sus4: 0.6,
  sus2: 0.65,
  '6': 0.7,
  m6: 0.75,
  '9': 0.8,
  maj9: 0.85,
  m9: 0.85,
  add9: 0.8,
  madd9: 0.85,
  '7sus4': 0.8,
  '69': 1,
  m69: 1.1,
  mMaj7: 0.9,
  '7#5': 1,
  '7b5': 1.05,
  'maj7#5': 1.1,
  '7b9': 1,
  '7#9': 1.05,
  '7#11': 1.2,
  'maj7#11': 1.2,
  '11': 1.1,
  m11: 1.1,
  '13': 1.1,
  maj13: 1.15,
  m13: 1.2,
  mMaj9: 1.2,
  '13sus4': 1.9,
  m7add11: 1.9,
}
/** The cost of any other chord type that tonal knows, and of each of its notes. */
const OTHER = { cost: 2, note: 0.1 }
/** Types that are the notes of a plainer chord on another root, or an unusual name for a plainer one. */
const OTHER_NAMES = new Set(['6', 'm6'])
const NOT_NAMED = new Set(['5', '4', 'sus24', '7no5', '9no5', '13no5', 'm#5', 'Mb5'])

/** All kinds of chords, plainest first. */
export const CHORD_KINDS: readonly ChordKind[] = kinds()

function kinds(): ChordKind[] {
  const named = Object.entries(NAMED).map(([suffix, cost]) => kindOf(suffix, cost))
  const known = new Set(named.map(setOf))
  const others = ChordType.all()
    .filter(type => !NOT_NAMED.has(type.aliases[0]!))
    .map(type => kindOf(type.aliases[0]!, OTHER.cost + OTHER.note * type.intervals.length))
    .filter(kind => !known.has(setOf(kind)))
  return [...named, ...others].sort((a, b) => a.cost - b.cost)
}

function kindOf(suffix: string, cost: number): ChordKind {
  const members = Chord.getChord(suffix === '' ? 'M' : suffix, 'C').intervals.map((name): Member => {
    const { semitones, num } = Interval.get(name)
    return { semitones: semitones! % 12, letters: (num! - 1) % 7, degree: num! }
  })
  return { suffix, cost, members, isOtherName: OTHER_NAMES.has(suffix) }
}

function setOf({ members }: ChordKind): string {
  return members
    .map(member => member.semitones)
    .sort((a, b) => a - b)
    .join()
}

/**
 * A perfect fifth may be left out of any chord, and the ninth of anything above it; all other members define the chord
 * (common practice).
 */
export const mayBeMissing = ({ members }: ChordKind, { degree, semitones }: Member): boolean =>
  (degree === 5 && semitones === 7) || ((degree === 9 || degree === 11) && members.some(other => other.degree > degree))
