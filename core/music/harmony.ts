import { barAt, positionIn, type Arrangement } from './arrangement'
import { CHORD_KINDS, type ChordKind } from './chord-kinds'
import { pulses } from './meter'
import type { ScoreSpan } from './passage'
import { add, compare, toDecimal, type Quarters } from './quarters'

/** Costs for the length of a quarter note; own choice, tuned on hymns and songs (docs/learning-songs.md). */
const HARMONY = {
  /** A sounding note outside the chord, and the surcharge on the beat, where it is less likely to be a passing note. */
  foreign: 1.25,
  onBeat: 0.6,
  /** The third, fifth or seventh not sounding all along; the root must sound. */
  missing: [0, 0.4, 0.08, 0.45],
  /** The root not yet sounding when the chord begins. */
  lateRoot: 0.5,
  /** A suspended, added or higher note not sounding at an event: it defines the chord, or is a passing note. */
  absent: 0.85,
  /** The seventh not sounding at a moment. */
  laterSeventh: 0.15,
  /** The bass on root, third, fifth, seventh, above; or on none of them. */
  bass: [0, 0.15, 0.3, 0.3, 0.5],
  foreignBass: 0.6,
  /** A chord note spelled as another, by an editor, or by this program from the key. */
  misspelled: 0.5,
  misspelledByRule: 0.01,
  /** Another chord, one that comes off the beat, and one with a note suspended, added or above the seventh. */
  change: 0.15,
  offBeat: 0.22,
  rich: 0.3,
  /** A root outside the key; and the factor on the cost of the type's name. */
  chromatic: 0.06,
  kind: 0.25,
}
/**
 * The most events, and quarter notes, that one chord is identified from; a longer chord continues from span to span.
 */
const MAX_EVENTS = 16
const MAX_QUARTERS = 8
const MAX_OFF_BEAT = 4
/** The most weight of one event, quarter notes: a held chord says no more. */
const LONGEST = 4
/** Richer chords are named where struck as such, but not looked for among passing notes. */
const RICHEST = 1.2

/** A harmony from a moment on: the root and the bass as pitch classes, the kind, and all that sounds in it. */
export interface HeardHarmony {
  onset: Quarters
  end: Quarters
  root: number
  kind: ChordKind
  bass: number
  sounding: number
  moments: readonly SoundingEvent[]
}
/**
 * What sounds in a harmony from a moment to the next: its length, quarter notes, and pitch classes as bits of a number,
 * with their letters from C.
 */
export interface SoundingEvent {
  length: number
  sounding: number
  letters: readonly (number | undefined)[]
}

interface HarmonicEvent extends SoundingEvent {
  onset: Quarters
  isOnBeat: boolean
  bass: number
  fifths: number
}
interface Candidate {
  root: number
  kind: ChordKind
  entry: number
  set: number
  seventh: number
  plain: number
  bass: readonly number[]
  members: { bit: number; missing: number }[]
}

/** Types considered: of those made of the same notes only the plainest. */
const LISTENED = CHORD_KINDS.filter(kind => kind.cost <= RICHEST && !kind.isOtherName)
/** Root, third, fifth, seventh, or another note. */
const place = (degree: number): number => ([1, 3, 5, 7].includes(degree) ? (degree - 1) / 2 : 4)
const CANDIDATES: readonly Candidate[] = Array.from({ length: 12 }, (_, root) =>
  LISTENED.map((kind): Candidate => {
    const bitOf = (semitones: number) => 1 << ((root + semitones) % 12)
    const setOf = (list: readonly { semitones: number }[]) =>
      list.reduce((set, { semitones }) => set | bitOf(semitones), 0)
    const plain = kind.members.filter(({ degree }) => place(degree) < 4)
    const bass = Array.from({ length: 12 }, (_, chroma) => {
      const member = kind.members.find(({ semitones }) => (root + semitones) % 12 === chroma)
      return member ? HARMONY.bass[place(member.degree)]! : HARMONY.foreignBass
    })
    // An altered fifth is missed, and so is a fifth that alone tells a suspended chord from two notes.
    const hasThird = kind.members.some(({ degree }) => degree === 3)
    return {
      root,
      kind,
      entry: plain.length < kind.members.length ? HARMONY.rich : 0,
      set: setOf(kind.members),
      seventh: setOf(kind.members.filter(({ degree }) => degree === 7)),
      plain: setOf(plain),
      bass,
      members: plain.map(({ semitones, degree }) => ({
        bit: bitOf(semitones),
        missing: degree === 5 && (semitones !== 7 || !hasThird) ? HARMONY.missing[3]! : HARMONY.missing[place(degree)]!,
      })),
    }
  }),
).flat()

/** The candidates as parallel arrays, for speed: root bit, plain members, cost to begin, and cost by bass. */
const ROOTS = Int32Array.from(CANDIDATES, ({ root }) => 1 << root)
const PLAIN = Int32Array.from(CANDIDATES, ({ plain }) => plain)
const ENTRY = Float64Array.from(CANDIDATES, ({ entry }) => entry)
const BASS = Float64Array.from(CANDIDATES.flatMap(({ bass }) => bass))

/**
 * The harmonies that sound, over a whole song: the cheapest way of all through stretches of moments and the chords that
 * they might be (dynamic programming, as Pardo and Birmingham 2002, Algorithms for chordal analysis, Computer Music
 * Journal 26, score stretches by notes that fit, do not fit and are missing; unchecked). Broken chords are heard as
 * one, passing notes as such. With a stretch only what sounds in it is heard. Empty for no notes. Linear in the notes.
 */
export function harmoniesOf(arrangement: Arrangement, stretch?: ScoreSpan): HeardHarmony[] {
  const moments = harmonicEventsOf(arrangement, stretch)
  if (moments.length === 0) return []
  const count = CANDIDATES.length
  const misspelled = arrangement.tracks ? HARMONY.misspelledByRule : HARMONY.misspelled
  const own = moments.map(moment => eventCosts(moment, misspelled))
  // The cheapest path to each event by the chord that ends there, and over all chords.
  const costs = [new Float64Array(count)]
  const least = [{ cost: 0, chord: -1 }]
  const from = [new Int32Array(count)]
  for (let end = 1; end <= moments.length; end++) {
    const best = new Float64Array(count).fill(Number.POSITIVE_INFINITY)
    const origin = new Int32Array(count)
    const sums = new Float64Array(count)
    let [union, length] = [0, 0]
    for (let begin = end - 1; begin >= Math.max(0, end - MAX_EVENTS); begin--) {
      const moment = moments[begin]!
      union |= moment.sounding
      length += moment.length
      if (begin < end - 1 && length > MAX_QUARTERS) break
      const momentOwn = own[begin]!
      const change = least[begin]!.cost + (begin === 0 ? 0 : HARMONY.change + (moment.isOnBeat ? 0 : HARMONY.offBeat))
      const before = costs[begin]!
      for (let chord = 0; chord < count; chord++) sums[chord]! += momentOwn[chord]!
      // What begins between the beats is short.
      if (!moment.isOnBeat && begin > 0 && end - begin > MAX_OFF_BEAT) continue
      const rootsHere = moment.sounding
      for (let chord = 0; chord < count; chord++) {
        let cost = sums[chord]!
        // Already costlier, whatever came before. And a chord needs its root.
        if (cost + least[begin]!.cost >= best[chord]! || !(union & ROOTS[chord]!)) continue
        const absent = PLAIN[chord]! & ~union
        if (absent !== 0)
          for (const member of CANDIDATES[chord]!.members) if (absent & member.bit) cost += member.missing * length
        const entering = change + ENTRY[chord]!
        cost +=
          (BASS[12 * chord + moment.bass]! + (rootsHere & ROOTS[chord]! ? 0 : HARMONY.lateRoot)) * length +
          (begin === 0 || entering < before[chord]! ? entering : before[chord]!)
        if (cost < best[chord]! - 1e-9) {
          best[chord] = cost
          origin[chord] = begin
        }
      }
    }
    let chord = 0
    for (let other = 1; other < count; other++) if (best[other]! < best[chord]! - 1e-9) chord = other
    costs.push(best)
    from.push(origin)
    least.push({ cost: best[chord]!, chord })
  }
  const found: { begin: number; end: number; chord: number }[] = []
  let chord = least.at(-1)!.chord
  for (let end = moments.length; end > 0;) {
    const begin = from[end]![chord]!
    if (found[0]?.chord === chord) found[0].begin = begin
    else found.unshift({ begin, end, chord })
    const change = least[begin]!.cost + HARMONY.change + (moments[begin]!.isOnBeat ? 0 : HARMONY.offBeat)
    if (begin > 0 && change + ENTRY[chord]! < costs[begin]![chord]!) chord = least[begin]!.chord
    end = begin
  }
  return found.map(({ begin, end, chord: index }): HeardHarmony => {
    const { root, kind } = CANDIDATES[index]!
    const inside = moments.slice(begin, end)
    const last = inside.at(-1)!
    return {
      onset: inside[0]!.onset,
      end: moments[end]?.onset ?? add(last.onset, { n: Math.max(1, Math.round(last.length * 64)), d: 64 }),
      root,
      kind,
      bass: inside[0]!.bass,
      sounding: inside.reduce((set, one) => set | one.sounding, 0),
      moments: inside,
    }
  })
}

/** The cost of each chord at an event, without missing notes and bass. */
function eventCosts(
  { length, isOnBeat, sounding, letters, fifths }: HarmonicEvent,
  misspelledCost: number,
): Float64Array {
  const tonic = (((fifths * 7) % 12) + 12) % 12
  const foreignCost = HARMONY.foreign + (isOnBeat ? HARMONY.onBeat : 0)
  return Float64Array.from(CANDIDATES, ({ root, kind, set, plain, seventh }) => {
    let foreign = 0
    for (let rest = sounding & ~set; rest !== 0; rest &= rest - 1) foreign++
    let absent = 0
    for (let rest = set & ~plain & ~sounding; rest !== 0; rest &= rest - 1) absent++
    const rootLetter = letters[root]
    let misspelled = 0
    if (rootLetter !== undefined) {
      for (const { semitones, letters: third } of kind.members) {
        const letter = letters[(root + semitones) % 12]
        if (letter !== undefined && letter !== (rootLetter + third) % 7) misspelled++
      }
    }
    const isChromatic = ![0, 2, 4, 5, 7, 9, 11].includes((root - tonic + 12) % 12)
    return (
      length *
      (foreign * foreignCost +
        absent * HARMONY.absent +
        (seventh & ~sounding ? HARMONY.laterSeventh : 0) +
        misspelled * misspelledCost +
        kind.cost * HARMONY.kind +
        (isChromatic ? HARMONY.chromatic : 0))
    )
  })
}

/** The sounding events, including other pitched roles. */
function harmonicEventsOf(arrangement: Arrangement, stretch?: ScoreSpan): HarmonicEvent[] {
  const notes = [
    ...arrangement.notes,
    ...arrangement.others.filter(role => !role.percussion && !role.silent).flatMap(role => role.notes),
  ]
    .filter(
      note =>
        !note.grace &&
        (!stretch ||
          (compare(note.onset, stretch.to) < 0 && compare(add(note.onset, note.duration), stretch.from) > 0)),
    )
    .map(note => ({
      onset: note.onset,
      from: toDecimal(note.onset),
      to: toDecimal(add(note.onset, note.duration)),
      pitch: note.pitch,
      letter: 'CDEFGAB'.indexOf(note.spelled[0]!),
    }))
    .sort((a, b) => a.from - b.from)
  const onsets = [...new Map(notes.map(note => [note.from, note.onset])).values()]
    .filter(onset => !stretch || compare(onset, stretch.from) >= 0)
    .sort(compare)
  let sounding: typeof notes = []
  let next = 0
  return onsets.map((onset, index): HarmonicEvent => {
    const at = toDecimal(onset)
    while (next < notes.length && notes[next]!.from <= at + 1e-9) sounding.push(notes[next++]!)
    sounding = sounding.filter(note => note.to > at + 1e-9)
    const end = index + 1 < onsets.length ? toDecimal(onsets[index + 1]!) : Math.max(...sounding.map(note => note.to))
    const letters: (number | undefined)[] = Array.from({ length: 12 })
    for (const { pitch, letter } of sounding) letters[pitch % 12] = letter
    const bar = barAt(arrangement, onset)
    const beat = positionIn(bar, onset).beat - 1
    return {
      onset,
      length: Math.min(end - at, LONGEST),
      isOnBeat: pulses(bar.meter).some(pulse => Math.abs(pulse - beat) < 1e-6),
      letters,
      fifths: bar.fifths,
      sounding: sounding.reduce((set, note) => set | (1 << (note.pitch % 12)), 0),
      bass: sounding.reduce((lowest, note) => Math.min(lowest, note.pitch), 127) % 12,
    }
  })
}
