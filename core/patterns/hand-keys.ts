import type { Hand } from '../music/arrangement'
import type { MidiPitch } from '../music/pitch'
import type { Harmony } from '../music/song-harmony'
import { voiceChords, type VoicingRoom } from '../hands/voicing'
import { layBasses, type BassRoom } from './basses'
import { halfStepsAbove } from './chord-tones'
import type { HandPattern } from './hand-pattern'
import type { Limit } from './other-hand'
import { LINE_TONES, type ChordTone, type LineTone } from './pattern'
import { walkTo } from './walk'

/**
 * Where a hand's patterns lie. Close chords muddy below the C below middle C (common practice); the rest is own choice.
 */
export const HAND_ROOMS: Readonly<Record<Hand, { bass: BassRoom; chords: VoicingRoom }>> = {
  left: {
    bass: { lowest: 28, deep: 34, highest: 57, home: 41 },
    chords: { lowest: 48, highest: 71, centre: 54, mostNotes: 4 },
  },
  right: {
    bass: { lowest: 55, deep: 57, highest: 81, home: 62 },
    chords: { lowest: 60, highest: 84, centre: 66, mostNotes: 4 },
  },
}
/** Basses lie this much nearer to chords that the same hand plays above them, half steps. */
const NEARER_CHORDS = 2
/**
 * With a key below the C below middle C nothing else of a chord is struck nearer than a minor seventh: it stands alone,
 * with its octave, or with the seventh (common practice).
 */
export const MUDDY = { below: 48, least: 10 } as const

/** A chord in a bar and how far the hand may go there. */
export interface ChordPiece {
  readonly harmony: Harmony
  readonly limit: Limit
  readonly fifths: number
}
/** What a stroke of the pattern asks for: a tone of the chord of a piece, by its number. */
export interface AskedTone {
  readonly tone: ChordTone
  readonly octave: number
  readonly piece: number
}
/**
 * The keys that are struck for it; `isAsked`: by a name of its own, not as part of a chord that is laid as it lies
 * best.
 */
export interface StruckKeys {
  readonly keys: readonly MidiPitch[]
  readonly isAsked: boolean
}

export const isLine = (tone: string): tone is LineTone => (LINE_TONES as readonly string[]).includes(tone)
/** The names of a pattern's rows. */
const rowsOf = ({ cycles }: HandPattern): string[] => [
  ...new Set(cycles.flatMap(({ bars }) => bars.flatMap(rows => Object.keys(rows)))),
]
const toneOf = (name: string): string => name.replace(/['|,]+$/, '')
/** Whether a pattern has a line of its own in the bass, and whether it has the chord as the hand lies on it. */
export const hasLine = (pattern: HandPattern): boolean => rowsOf(pattern).some(name => isLine(toneOf(name)))
export const hasPosition = (pattern: HandPattern): boolean => rowsOf(pattern).some(name => !isLine(toneOf(name)))

/**
 * The keys of everything that a pattern asks for, stroke by stroke: over basses that lie near each other, and in
 * inversions that do. The chord's written bass lies lowest.
 */
export function keysOf(
  pattern: HandPattern,
  hand: Hand,
  pieces: readonly ChordPiece[],
  strokes: readonly AskedTone[],
): StruckKeys[] {
  const { bass: bassRoom, chords: chordRoom } = HAND_ROOMS[hand]
  const [isOverBass, isInPosition, rows] = [hasLine(pattern), hasPosition(pattern), rowsOf(pattern)]
  const isClose = rows.includes('guide')
  const roots = layBasses(
    pieces.map(({ harmony, limit }) => {
      const guide = isClose ? halfStepsAbove('guide', harmony) : MUDDY.least
      return {
        bass: harmony.bass,
        reachUp: reachUp(rows, harmony),
        ...limit,
        ...(guide < MUDDY.least ? { clearFrom: MUDDY.below } : {}),
      }
    }),
    { ...bassRoom, home: bassRoom.home + (isInPosition ? NEARER_CHORDS : 0) },
  )
  const asThree = rows.some(name => ['low', 'middle', 'high'].includes(toneOf(name)))
  const voicings = isInPosition
    ? voiceChords(
        pieces.map(({ harmony: { notes, bass }, limit }, index) => {
          // Over a bass of its own the rest lies free above it; otherwise a bass that is written, and that of the first
          // chord, lies lowest.
          if (isOverBass) {
            const upper = notes.length > 2 ? notes.filter(name => name !== bass) : notes
            return {
              notes: upper,
              ...limit,
              above: Math.max(limit.above ?? -1, roots[index]!),
              ...(index === 0 ? { bass: upper[0]! } : {}),
            }
          }
          return { notes, ...limit, ...(bass !== notes[0] || index === 0 ? { bass } : {}) }
        }),
        { ...chordRoom, mostNotes: asThree || isOverBass ? 3 : chordRoom.mostNotes },
      )
    : []
  const walks = walksOf(strokes, pieces, roots, bassRoom)
  return strokes.map(({ tone, octave, piece }, index): StruckKeys => {
    const root = roots[piece]!
    // Where the other hand leaves a chord no room there is its bass alone.
    if (!isLine(tone))
      return {
        keys: inPosition(tone, voicings[piece]!.length > 0 || isOverBass ? voicings[piece]! : [root], isOverBass),
        isAsked: false,
      }
    const key =
      tone === 'walk'
        ? walks.get(index)!
        : tone === 'approach'
          ? nextRoot(pieces, roots, piece) - 1
          : root + halfStepsAbove(tone, pieces[piece]!.harmony)
    return { keys: [key + 12 * octave], isAsked: tone !== 'guide' }
  })
}

/** How far above its bass a pattern reaches over a chord, half steps. */
function reachUp(rows: readonly string[], harmony: Harmony): number {
  return rows.reduce((most, name) => {
    const tone = toneOf(name)
    if (!isLine(tone) || tone === 'walk' || tone === 'approach') return most
    const marks = name.slice(tone.length)
    return Math.max(most, halfStepsAbove(tone, harmony) + (marks.startsWith(',') ? -12 : 12) * marks.length)
  }, 0)
}

/** The bass of the next chord that is another; where none comes any more, this one's fifth. */
function nextRoot(pieces: readonly ChordPiece[], roots: readonly MidiPitch[], piece: number): MidiPitch {
  const { symbol } = pieces[piece]!.harmony
  let next = piece + 1
  while (next < pieces.length && pieces[next]!.harmony.symbol === symbol) next++
  return roots[next] ?? roots[piece]! + 7
}

/**
 * Of a chord as it lies: its lowest, middle or highest key, all but the lowest, or all. Over a bass of its own all of
 * it is above.
 */
function inPosition(tone: ChordTone, keys: readonly MidiPitch[], isOverBass: boolean): readonly MidiPitch[] {
  if (keys.length === 0 || tone === 'chord') return keys
  if (tone === 'upper') return isOverBass || keys.length === 1 ? keys : keys.slice(1)
  return [keys[tone === 'low' ? 0 : tone === 'high' ? keys.length - 1 : keys.length === 2 ? 0 : keys.length >> 1]!]
}

/** The keys of steps that walk, by stroke: all up to the next note of another kind are found together. */
function walksOf(
  strokes: readonly AskedTone[],
  pieces: readonly ChordPiece[],
  roots: readonly MidiPitch[],
  { lowest, highest }: BassRoom,
): Map<number, MidiPitch> {
  const walks = new Map<number, MidiPitch>()
  for (let first = 0; first < strokes.length; first++) {
    if (strokes[first]!.tone !== 'walk') continue
    let last = first
    while (strokes[last + 1]?.tone === 'walk') last++
    const steps = strokes.slice(first, last + 1)
    const from = roots[strokes[first]!.piece]!
    const goal = strokes[last + 1]
    const below = Math.min(...steps.map(({ piece }) => pieces[piece]!.limit.below ?? 128))
    const above = Math.max(...steps.map(({ piece }) => pieces[piece]!.limit.above ?? -1))
    const keys = walkTo({
      from,
      to: goal ? roots[goal.piece]! : from,
      fifths: pieces[strokes[first]!.piece]!.fifths,
      chords: steps.map(({ piece }) => pieces[piece]!.harmony),
      lowest: Math.max(lowest, above + 1),
      highest: Math.min(highest, below - 1),
    })
    keys.forEach((key, index) => walks.set(first + index, key))
    first = last
  }
  return walks
}
