import { arrange } from '#core/music/arrange'
import type { Arrangement } from '#core/music/arrangement'
import { add, quarters, type Quarters } from '#core/music/quarters'

/** A song made of phrases of known lengths, with the moments at which they end but for the last, quarter notes. */
export interface MadeSong {
  arrangement: Arrangement
  ends: number[]
}

const MAJOR = [0, 2, 4, 5, 7, 9, 11]
const LEFT_HANDS = ['none', 'whole', 'chords', 'octaves', 'broken'] as const
const LAST_NOTES = ['long', 'longest', 'rest'] as const

/** Numbers from 0 to 1, the same for the same seed. */
export function random(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296
  }
}

/**
 * A melody of phrases of so many bars: quarters, eighths and halves by chance, at the end a longer note or a note and a
 * rest; under it nothing, held or struck chords, octaves or broken chords; some begin with a pickup, in some a phrase
 * comes again.
 */
export function madeSong(seed: number, phraseBars: readonly number[]): MadeSong {
  const chance = random(seed)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!
  const beats = pick([4, 4, 3])
  const pickup = chance() < 0.3 ? 1 : 0
  const [leftHand, lastNote, comesAgain] = [pick(LEFT_HANDS), pick(LAST_NOTES), chance() < 0.5]
  const notes: { hand: 'right' | 'left'; onset: Quarters; end: Quarters; pitch: number }[] = []
  const put = (hand: 'right' | 'left', at: number, length: number, pitch: number) =>
    notes.push({ hand, onset: quarters(Math.round(2 * at), 2), end: quarters(Math.round(2 * (at + length)), 2), pitch })
  const known = new Map<number, ReturnType<typeof phrase>>()
  const ends: number[] = []
  let at = 0

  function phrase(bars: number): { at: number; length: number; step: number }[] {
    const tail = lastNote === 'longest' ? Math.min(beats, 3) : 2
    const whole = bars * beats - tail
    const found: { at: number; length: number; step: number }[] = []
    let step = 7 + Math.floor(chance() * 5)
    for (let place = 0; place < whole - 1e-6;) {
      const length = Math.min(
        whole - place,
        place % 1 ? 0.5 : pick([1, 1, 1, 0.5, 0.5, lastNote === 'longest' ? 1.5 : 1]),
      )
      found.push({ at: place, length, step })
      step = Math.max(4, Math.min(16, step + Math.round(chance() * 6 - 3)))
      place += length
    }
    return [...found, { at: whole, length: lastNote === 'rest' ? 1 : tail, step: pick([7, 9, 11, 8]) }]
  }

  for (const bars of phraseBars) {
    const made = (comesAgain && chance() < 0.6 ? known.get(bars) : undefined) ?? phrase(bars)
    if (!known.has(bars)) known.set(bars, made)
    for (const note of made)
      put('right', at + note.at, note.length, 48 + 12 * Math.floor(note.step / 7) + MAJOR[note.step % 7]!)
    at += bars * beats
    ends.push(at)
  }
  for (let line = pickup; line < at - 1e-6 && leftHand !== 'none'; line += beats) {
    const length = Math.min(beats, at - line)
    const root = pick([0, 3, 4, 5])
    const chord = [0, 2, 4].map(third => 36 + MAJOR[(root + third) % 7]! + (root + third >= 7 ? 12 : 0))
    if (leftHand === 'whole') for (const pitch of chord) put('left', line, length, pitch)
    for (let beat = 0; beat < length; beat++) {
      if (leftHand === 'chords') for (const pitch of chord) put('left', line + beat, 1, pitch)
      if (leftHand === 'octaves') put('left', line + beat, 1, chord[0]! - (beat % 2 ? 0 : 12))
      if (leftHand === 'broken')
        [beat % 2 ? 1 : 0, 2].forEach((tone, half) => put('left', line + beat + half / 2, 0.5, chord[tone]!))
    }
  }
  const frame = {
    title: 'Made',
    meters: [{ at: quarters(0), meter: { beats, beatType: 4 } }],
    fifths: 0,
    pickup: quarters(pickup),
    tempos: [],
  }
  return { arrangement: arrange(frame, notes), ends: ends.slice(0, -1) }
}

/** A song of sections of sixteen bars in four phrases, one a letter: what has the same letter is the same. */
export function songOfSections(letters: string): Arrangement {
  const inFour = (seed: number): Arrangement => {
    for (let next = seed; ; next += 100) {
      const { arrangement } = madeSong(next, [4, 4, 4, 4])
      if (
        arrangement.bars[0]!.meter.beats === 4 &&
        arrangement.bars.length === 16 &&
        arrangement.notes.some(note => note.hand === 'left')
      )
        return arrangement
    }
  }
  const notes = [...letters].flatMap((letter, place) =>
    inFour(letter.charCodeAt(0)).notes.map(({ hand, onset, duration, pitch }) => {
      const from = add(onset, quarters(64 * place))
      return { hand, onset: from, end: add(from, duration), pitch }
    }),
  )
  return arrange(
    {
      title: 'Sections',
      meters: [{ at: quarters(0), meter: { beats: 4, beatType: 4 } }],
      fifths: 0,
      pickup: quarters(0),
      tempos: [],
    },
    notes,
  )
}
