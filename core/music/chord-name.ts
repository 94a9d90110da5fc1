import { Note } from 'tonal'
import { CHORD_KINDS, mayBeMissing, type ChordKind } from './chord-kinds'
import { spellChord, type ChordSpelling } from './chord-symbol'

/** A chord as heard: its name, and which of its notes are missing. */
export interface HeardChord extends ChordSpelling {
  /** Chord notes that are not played, such as the fifth of a seventh chord. */
  missing: string[]
}

/** Penalties of a reading, beside the cost of its type (own choice). */
const READING = {
  /** A missing note; the bass on the third, fifth or seventh, or above; and on a note outside the chord. */
  missing: 0.6,
  inversion: 0.9,
  highInversion: 1.3,
  foreignBass: 2,
  /** A note spelled as another; in chords that look alike from each of their notes only the spelling shows the root. */
  misspelled: 0.3,
  symmetrical: 1,
} as const

/**
 * Names a chord from its notes, lowest first, as spelled (`['E4', 'G4', 'C5']` is C, first inversion). A fifth may be
 * missing. Undefined for fewer than three different notes and for clusters without a name. The plainest reading of all:
 * plain kinds before rich ones, root position before inversions, as spelled before respelled. On all roots the same.
 */
export function nameChord(spelled: readonly string[]): HeardChord | undefined {
  const names = new Map<number, string>()
  for (const one of spelled) names.set(Note.chroma(one)!, names.get(Note.chroma(one)!) ?? Note.pitchClass(one))
  if (names.size < 3) return undefined
  const bass = Note.chroma(spelled[0]!)!
  const upper = new Map([...names].filter(([chroma]) => chroma !== bass))
  const readings = [...readingsOf(names, bass, names), ...(upper.size >= 3 ? readingsOf(upper, bass, names) : [])]
  const best = readings.reduce<Reading | undefined>(
    (least, one) => (least && least.cost <= one.cost + 1e-9 ? least : one),
    undefined,
  )
  return best && spelledOut(best, names, bass)
}

interface Reading {
  root: number
  kind: ChordKind
  cost: number
}

/** All chords on all roots made of exactly these notes. */
function readingsOf(notes: ReadonlyMap<number, string>, bass: number, names: ReadonlyMap<number, string>): Reading[] {
  const found: Reading[] = []
  for (const root of notes.keys()) {
    for (const kind of CHORD_KINDS) {
      const classes = kind.members.map(member => (root + member.semitones) % 12)
      if ([...notes.keys()].some(chroma => !classes.includes(chroma))) continue
      const absent = kind.members.filter((_, place) => !notes.has(classes[place]!))
      if (absent.length > 0 && (!absent.every(member => mayBeMissing(kind, member)) || notes.size < 3)) continue
      found.push({
        root,
        kind,
        cost:
          kind.cost +
          READING.missing * absent.length +
          bassCost(kind, classes.indexOf(bass)) +
          spellingCost(kind, root, names),
      })
    }
  }
  return found
}

function bassCost(kind: ChordKind, place: number): number {
  if (place === 0) return 0
  if (place < 0) return READING.foreignBass
  return kind.members[place]!.degree <= 7 ? READING.inversion : READING.highInversion
}

const letterOf = (name: string): number => 'CDEFGAB'.indexOf(name[0]!)

function spellingCost(kind: ChordKind, root: number, names: ReadonlyMap<number, string>): number {
  const rootLetter = letterOf(names.get(root)!)
  const wrong = kind.members.filter(member => {
    const name = names.get((root + member.semitones) % 12)
    return name !== undefined && letterOf(name) !== (rootLetter + member.letters) % 7
  }).length
  return wrong * (kind.suffix === 'aug' || kind.suffix === 'dim7' ? READING.symmetrical : READING.misspelled)
}

function spelledOut({ root, kind }: Reading, names: ReadonlyMap<number, string>, bass: number): HeardChord {
  const chord = spellChord(names.get(root)!, kind.suffix, names.get(bass))
  return { ...chord, missing: chord.notes.filter(note => !names.has(Note.chroma(note)!)) }
}
