import { mean } from 'simple-statistics'
import type { VoiceAssignment } from '../music/voice'

export const KEYBOARD_NAME = /piano|klavier|pianoforte|keyboard|keys|clavier/i
export const RIGHT_NAME = /\b(right|r\.?h\.?|rechts|rechte|droite|destra)\b/i
export const LEFT_NAME = /\b(left|l\.?h\.?|links|linke|gauche|sinistra)\b/i
export const MELODY_NAME = /melod|vocal|voice|\blead\b|\bsing|gesang|chant|canto|\btune\b|\bsolo/i
export const BASS_NAME = /\bbass?\b|basso|bajo/i

/**
 * What a proposal looks at: a voice's name, its instrument where the file names one (General MIDI, from 0), and its
 * notes in quarter notes.
 */
export interface HeardVoice {
  name: string
  program?: number
  percussion?: boolean
  notes: readonly { onset: number; end: number; pitch: number }[]
}

/** Why it is proposed so, for the sentence that says it. */
export type ProposalKind = 'named' | 'keyboard' | 'one' | 'pair' | 'choir' | 'band'
export interface Proposal {
  plays: VoiceAssignment[]
  kind: ProposalKind
}

/** A keyboard part is the song's when it plays in this share of what is played at all; own choice. */
const SUBSTANTIAL = 0.4
/** A keyboard part of less range than this, in half steps, is one hand's or a fill. */
const TWO_HANDS_RANGE = 24
/** Voices that are proposed to be sung from: so many, each one note at a time. */
const CHOIR = { fewest: 3, most: 6 }
/** One note at a time: at most this many to a moment, on average; and so many for chords. */
const LINE = 1.15
const CHORDS = 1.6
/** Stretches in which it is looked whether a voice plays, quarter notes. */
const STRETCH = 4
const BASSES = { first: 32, last: 39 }
const PIANOS = 7
/** How much higher counts as much as playing all the time, half steps. */
const HIGHER = 24

/**
 * Who plays which of several voices, where the player has not said it: the hands by their names; else the keyboard part
 * where there is one; else of two the higher and the lower; of a choir the highest and the lowest with what lies
 * between shared out; of a band the melody right, and bass and harmony left. Drums are always another role.
 */
export function proposeAssignments(voices: readonly HeardVoice[]): Proposal {
  const pitched = voices.filter(voice => !voice.percussion && voice.notes.length > 0)
  const give = (kind: ProposalKind, plays: (voice: HeardVoice) => VoiceAssignment | undefined): Proposal => ({
    kind,
    plays: voices.map(voice => (voice.percussion ? 'role' : (plays(voice) ?? 'role'))),
  })
  const named = new Map(
    pitched.map(voice => [
      voice,
      RIGHT_NAME.test(voice.name) ? ('right' as const) : LEFT_NAME.test(voice.name) ? ('left' as const) : undefined,
    ]),
  )
  const hands = pitched.filter(voice => named.get(voice))
  if (hands.length === 1 && pitched.length === 2)
    return give('named', voice => named.get(voice) ?? (named.get(hands[0]!) === 'right' ? 'left' : 'right'))
  if (hands.length > 0) return give('named', voice => named.get(voice))
  if (pitched.length <= 1) return give('one', () => 'both')

  const played = presenceOf(pitched.flatMap(voice => voice.notes))
  const presence = new Map(pitched.map(voice => [voice, presenceOf(voice.notes).size / played.size]))
  const height = (voice: HeardVoice) => mean(voice.notes.map(note => note.pitch))
  const keyboards = keyboardsOf(pitched).filter(voice => presence.get(voice)! >= SUBSTANTIAL)
  if (keyboards.length === 1 && rangeOf(keyboards[0]!) >= TWO_HANDS_RANGE)
    return give('keyboard', voice => (voice === keyboards[0] ? 'both' : 'role'))
  const pair = keyboards.length === 2 ? keyboards : pitched.length === 2 ? pitched : undefined
  if (pair) {
    const [right, left] = height(pair[0]!) >= height(pair[1]!) ? pair : [pair[1], pair[0]]
    return give('pair', voice => (voice === right ? 'right' : voice === left ? 'left' : 'role'))
  }

  const thickness = new Map(pitched.map(voice => [voice, thicknessOf(voice.notes)]))
  const byHeight = [...pitched].sort((a, b) => height(b) - height(a))
  const isBass = (voice: HeardVoice) =>
    BASS_NAME.test(voice.name) ||
    (voice.program !== undefined && voice.program >= BASSES.first && voice.program <= BASSES.last)
  const isBand =
    voices.some(voice => voice.percussion) ||
    pitched.some(voice => MELODY_NAME.test(voice.name) || (voice.program !== undefined && isBass(voice)))
  if (
    !isBand &&
    pitched.length >= CHOIR.fewest &&
    pitched.length <= CHOIR.most &&
    pitched.every(voice => thickness.get(voice)! <= LINE)
  ) {
    return give('choir', voice => (voice === byHeight[0] ? 'right' : voice === byHeight.at(-1) ? 'left' : 'both'))
  }
  const best = (some: readonly HeardVoice[], worth: (voice: HeardVoice) => number) =>
    some.reduce<HeardVoice | undefined>(
      (most, voice) => (most && worth(most) >= worth(voice) ? most : voice),
      undefined,
    )
  const present = (voice: HeardVoice) => presence.get(voice)!
  const melodic = (voice: HeardVoice) => present(voice) + height(voice) / HIGHER - (thickness.get(voice)! - 1)
  const called = pitched.filter(voice => MELODY_NAME.test(voice.name) && !isBass(voice))
  const melody =
    best(called, present) ??
    best(
      pitched.filter(voice => !isBass(voice)),
      melodic,
    ) ??
    byHeight[0]!
  const rest = pitched.filter(voice => voice !== melody)
  const bass =
    best(rest.filter(isBass), present) ??
    best(
      rest.filter(voice => height(voice) < height(melody)),
      voice => present(voice) - height(voice) / HIGHER,
    )
  const harmony = rest.filter(voice => voice !== bass && thickness.get(voice)! >= CHORDS)
  return give('band', voice =>
    voice === melody ? 'right' : voice === bass || harmony.includes(voice) ? 'left' : 'role',
  )
}

/** Voices of a keyboard: by name, else by instrument where other voices have another. */
function keyboardsOf(voices: readonly HeardVoice[]): HeardVoice[] {
  const called = voices.filter(voice => KEYBOARD_NAME.test(voice.name))
  if (called.length > 0) return called
  const isPiano = ({ program }: HeardVoice) => program !== undefined && program <= PIANOS
  return voices.some(({ program }) => program !== undefined && program > PIANOS) ? voices.filter(isPiano) : []
}

/** The stretches in which something begins. */
const presenceOf = (notes: HeardVoice['notes']): Set<number> =>
  new Set(notes.map(note => Math.floor(note.onset / STRETCH)))

/** Notes to a moment, on average. */
const thicknessOf = (notes: HeardVoice['notes']): number =>
  notes.length / new Set(notes.map(note => Math.round(note.onset * 8))).size

const rangeOf = ({ notes }: HeardVoice): number =>
  notes.reduce((most, note) => Math.max(most, note.pitch), 0) -
  notes.reduce((least, note) => Math.min(least, note.pitch), 127)
