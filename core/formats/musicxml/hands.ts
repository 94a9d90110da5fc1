import { group } from 'd3-array'
import type { Hand } from '../../music/arrangement'
import type { VoiceAssignment, VoiceChoice } from '../../music/voice'
import { separateHands } from '../../hands/separate'
import { KEYBOARD_NAME, LEFT_NAME, proposeAssignments, RIGHT_NAME } from '../../hands/who-plays'
import { add, toDecimal } from '../../music/quarters'
import type { WrittenNote, WrittenPart } from './part'
import { collectWarnings, type Warnings } from './warnings'

/** Which hand plays a note (or, without one, a staff) of a part; undefined for a role that is neither hand. */
export type HandOf = (part: WrittenPart, staff: number, note?: WrittenNote) => Hand | undefined

/** Who plays each part, and which hand each of its notes. */
export interface Assigned {
  plays: VoiceAssignment[]
  handOf: HandOf
}

/**
 * Gives the parts to the hands: as the player says (by number from 1), and where nothing is said as proposed. What had
 * to be guessed is said in a warning.
 */
export function assignHands(parts: readonly WrittenPart[], warnings: Warnings, choice: VoiceChoice = {}): Assigned {
  if (Object.keys(choice).length === 0) return proposeHands(parts, warnings)
  // What is decided is no guess any more.
  const proposed = proposeHands(parts, collectWarnings())
  const plays = parts.map((_, index) => choice[index + 1] ?? proposed.plays[index]!)
  const shared = parts.filter((_, index) => plays[index] === 'both')
  // The two staves of one part are its hands; several parts, or one of a single staff, are shared out together.
  const [only] = shared
  const crossing = only && shared.length === 1 && only.staves >= 2 ? crossedOver(only) : undefined
  const playsOf = new Map(parts.map((part, index) => [part, plays[index]!]))
  const ownHand = (part: WrittenPart) => [playsOf.get(part)].find(own => own === 'right' || own === 'left')
  const hands =
    crossing || shared.length === 0
      ? undefined
      : shareOut(
          parts.filter(part => shared.includes(part) || ownHand(part)),
          ownHand,
        )
  for (const [part, own] of playsOf) if (own === 'role') warnings.note({ kind: 'no-hand', name: part.name || part.id })
  return {
    plays,
    handOf(part, staff, note) {
      const own = playsOf.get(part)
      if (own === 'right' || own === 'left') return own
      if (own !== 'both') return undefined
      if (crossing) return ((note && crossing.get(note)) ?? staff) === 1 ? 'right' : 'left'
      return (note && hands?.get(note)) ?? (part.clefs.get(staff) === 'F' ? 'left' : 'right')
    },
  }
}

/**
 * The two hands among a score's parts: the two staves of a keyboard part, two parts of one staff each; or of several
 * that are no keyboard's the highest and the lowest, which share out what lies between, or of a band's the melody and
 * the bass.
 */
function proposeHands(parts: readonly WrittenPart[], warnings: Warnings): Assigned {
  const twoStaves = parts.filter(part => part.staves >= 2)
  const keyboard = twoStaves.find(part => KEYBOARD_NAME.test(part.name)) ?? twoStaves[0]
  if (keyboard) {
    if (keyboard.staves > 2) warnings.note({ kind: 'many-staves', name: keyboard.name, staves: keyboard.staves })
    remarkOnOthers(parts, [keyboard], warnings)
    const crossing = crossedOver(keyboard)
    if (crossing.size > 0) warnings.note({ kind: 'guess-staves', notes: crossing.size })
    return {
      plays: parts.map(part => (part === keyboard ? 'both' : 'role')),
      handOf: (part, staff, note) =>
        part === keyboard ? (((note && crossing.get(note)) ?? staff) === 1 ? 'right' : 'left') : undefined,
    }
  }
  if (parts.length === 1) {
    const [only] = parts as [WrittenPart]
    const hand: Hand = only.clefs.get(1) === 'F' ? 'left' : 'right'
    const shared = sharedOut(only)
    if (shared) warnings.note({ kind: 'guess-one-staff' })
    return { plays: [shared ? 'both' : hand], handOf: (_part, _staff, note) => (note && shared?.get(note)) ?? hand }
  }
  const several = severalOf(parts)
  if (several?.kind === 'choir') {
    const { right, left } = several
    const outer = (part: WrittenPart) =>
      part === right ? ('right' as const) : part === left ? ('left' as const) : undefined
    const inner = shareOut(parts, outer)
    warnings.note({ kind: 'guess-voices', right: right.name || right.id, left: left.name || left.id })
    return {
      plays: parts.map(part => outer(part) ?? 'both'),
      handOf: (part, _staff, note) => outer(part) ?? (note && inner.get(note)) ?? 'right',
    }
  }
  const [right, left] = several ? [several.right, several.left] : pairOfParts(parts)
  remarkOnOthers(parts, [right, left], warnings)
  if (!RIGHT_NAME.test(right.name) || !LEFT_NAME.test(left.name)) {
    warnings.note({ kind: 'guess-parts', right: right.name || right.id, left: left.name || left.id })
  }
  const plays = (part: WrittenPart) =>
    part === right ? ('right' as const) : part === left ? ('left' as const) : undefined
  return { plays: parts.map(part => plays(part) ?? 'role'), handOf: plays }
}

/**
 * Of several parts of one staff that no name gives to a hand or a keyboard: a choir's highest and lowest, or a band's
 * melody and bass.
 */
function severalOf(
  parts: readonly WrittenPart[],
): { kind: 'choir' | 'band'; right: WrittenPart; left: WrittenPart } | undefined {
  const isNamed = parts.some(({ name }) => KEYBOARD_NAME.test(name) || RIGHT_NAME.test(name) || LEFT_NAME.test(name))
  if (isNamed || parts.filter(part => part.notes.length > 0).length < 3) return undefined
  const { kind, plays } = proposeAssignments(
    parts.map(({ name, notes }) => ({
      name,
      notes: notes
        .filter(note => !note.grace)
        .map(note => ({
          onset: note.barIndex * BAR_QUARTERS + toDecimal(note.onset),
          end: note.barIndex * BAR_QUARTERS + toDecimal(add(note.onset, note.duration)),
          pitch: note.pitch,
        })),
    })),
  )
  const right = parts.find((_, index) => plays[index] === 'right')
  // The notes of a score stay as they are: of what a band's left hand could play, it has the lowest alone.
  const mean = ({ notes }: WrittenPart) => notes.reduce((sum, note) => sum + note.pitch, 0) / notes.length
  const left = parts.filter((_, index) => plays[index] === 'left').sort((a, b) => mean(a) - mean(b))[0]
  return right && left && (kind === 'choir' || kind === 'band') ? { kind, right, left } : undefined
}

/**
 * A voice that lives on one staff and visits the other keeps its hand there (common practice), when it is away for less
 * than this share of its notes.
 */
const MAX_VISITS = 0.2

/** Notes on the other staff than their voice's own, with that own staff. */
function crossedOver(part: WrittenPart): Map<WrittenNote, number> {
  const crossing = new Map<WrittenNote, number>()
  for (const notes of group(part.notes, note => note.voice).values()) {
    const above = notes.filter(note => note.staff === 1)
    const below = notes.filter(note => note.staff !== 1)
    const [visits, home] = above.length >= below.length ? [below, above] : [above, below]
    if (visits.length === 0 || visits.length > MAX_VISITS * notes.length) continue
    // Files that number the voices of each staff anew use one number for two voices: then they sound at once.
    const busy = new Set(home.map(note => `${note.barIndex}:${toDecimal(note.onset)}`))
    const homeInBar = group(home, note => note.barIndex)
    const overlaps = visits.some(note =>
      homeInBar
        .get(note.barIndex)
        ?.some(
          other =>
            !note.grace &&
            !other.grace &&
            toDecimal(other.onset) < toDecimal(add(note.onset, note.duration)) &&
            toDecimal(note.onset) < toDecimal(add(other.onset, other.duration)) &&
            toDecimal(other.onset) !== toDecimal(note.onset),
        ),
    )
    const struckAtOnce = visits.filter(note => busy.has(`${note.barIndex}:${toDecimal(note.onset)}`)).length
    if (!overlaps && struckAtOnce < visits.length / 2) for (const note of visits) crossing.set(note, home[0]!.staff)
  }
  return crossing
}

/**
 * One hand reaches no further than this in a chord, and a melody for one hand seldom moves over more, half steps
 * (common practice).
 */
const ONE_HAND = { chord: 14, range: 31 }

/** The hands of a single staff that is more than one hand can play; undefined when one hand can. */
function sharedOut(part: WrittenPart): Map<WrittenNote, Hand> | undefined {
  const played = inTime([part])
  const pitches = played.map(note => note.pitch)
  const lowest = pitches.reduce((least, one) => Math.min(least, one), 127)
  const highest = pitches.reduce((most, one) => Math.max(most, one), 0)
  const chords = new Map<string, number[]>()
  for (const note of played) {
    const place = `${note.barIndex}:${toDecimal(note.onset)}`
    chords.set(place, [...(chords.get(place) ?? []), note.pitch])
  }
  const wide = [...chords.values()].filter(chord => Math.max(...chord) - Math.min(...chord) > ONE_HAND.chord).length
  if (wide === 0 || (highest - lowest <= ONE_HAND.range && wide < chords.size / 10)) return undefined
  return shareOut([part])
}

const inTime = (parts: readonly WrittenPart[]): WrittenNote[] =>
  parts
    .flatMap(part => part.notes)
    .filter(note => !note.grace)
    .sort((a, b) => a.barIndex - b.barIndex || toDecimal(a.onset) - toDecimal(b.onset))

/** Bars follow each other; how long each is does not matter to the hands. */
const BAR_QUARTERS = 8

/**
 * The notes of some parts shared out between the hands, by pitch, reach and what each hand is holding; parts that are a
 * hand's by `known` stay so.
 */
function shareOut(
  parts: readonly WrittenPart[],
  known: (part: WrittenPart) => Hand | undefined = () => undefined,
): Map<WrittenNote, Hand> {
  const played = inTime(parts)
  const handOf = new Map(parts.flatMap(part => part.notes.map(note => [note, known(part)] as const)))
  const loose = played.map(note => ({
    onset: note.barIndex * BAR_QUARTERS + toDecimal(note.onset),
    end: note.barIndex * BAR_QUARTERS + toDecimal(add(note.onset, note.duration)),
    pitch: note.pitch,
    hand: handOf.get(note),
  }))
  const hands = separateHands(loose, 0.6)
  return new Map(played.map((note, index) => [note, hands[index]!]))
}

function pairOfParts(parts: readonly WrittenPart[]): [WrittenPart, WrittenPart] {
  const namedRight = parts.find(part => RIGHT_NAME.test(part.name))
  const namedLeft = parts.find(part => LEFT_NAME.test(part.name))
  if (namedRight && namedLeft && namedRight !== namedLeft) return [namedRight, namedLeft]
  const keyboards = parts.filter(part => KEYBOARD_NAME.test(part.name))
  // A voice or solo stands above the piano in a score (common practice), so the lowest two parts are the hands.
  const pair = keyboards.length >= 2 ? keyboards : parts.slice(-2)
  return [pair[0]!, pair[1]!]
}

function remarkOnOthers(parts: readonly WrittenPart[], hands: readonly WrittenPart[], warnings: Warnings) {
  for (const part of parts) {
    if (!hands.includes(part)) warnings.note({ kind: 'no-hand', name: part.name || part.id })
  }
}
