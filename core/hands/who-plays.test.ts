/**
 * Who is proposed to play what, and what one hand can hold. Ranges of voices and instruments, and an octave for a hand,
 * are common practice; names and programs are General MIDI's.
 */
import { describe, expect, it } from 'vitest'
import { splitBetweenHands, ONE_HAND, type VoiceNote } from './deal-out'
import { proposeAssignments, type HeardVoice } from './who-plays'

/** Notes of a length one after the other, from quarter `from`. */
const line = (pitches: readonly number[], length = 1, from = 0): VoiceNote[] =>
  pitches.map((pitch, index) => ({ onset: from + index * length, end: from + (index + 1) * length, pitch }))
const chords = (count: number, pitches: readonly number[], length = 2): VoiceNote[] =>
  Array.from({ length: count }, (_, index) =>
    pitches.map(pitch => ({ onset: index * length, end: (index + 1) * length, pitch })),
  ).flat()
const repeated = (pitches: readonly number[], times: number) => Array.from({ length: times }, () => pitches).flat()
const voice = (name: string, notes: VoiceNote[], more: Partial<HeardVoice> = {}): HeardVoice => ({
  name,
  notes,
  ...more,
})
const plays = (...voices: HeardVoice[]) => proposeAssignments(voices).plays.join(' ')

const TUNE = line(repeated([72, 74, 76, 72, 71, 69, 67, 71], 4))
const BASS = line(repeated([36, 43, 40, 43], 4), 2)
const PAD = chords(16, [55, 60, 64])
const DRUMS = voice('Kit', line(repeated([36, 42, 38, 42], 8)), { percussion: true })

describe('a proposal', () => {
  it('of a band gives the melody to the right hand, and bass and harmony to the left', () => {
    const band = [
      voice('Lead vocal', TUNE, { program: 53 }),
      DRUMS,
      voice('Strings', PAD, { program: 48 }),
      voice('Bass', BASS, { program: 33 }),
      voice('Riff', line([67, 67, 69], 0.5, 8), { program: 30 }),
    ]
    expect(plays(...band)).toBe('right role left left role')
    // Neither the order nor names that say nothing change it.
    expect(
      proposeAssignments([...band].reverse())
        .plays.reverse()
        .join(' '),
    ).toBe('right role left left role')
    expect(plays(...band.map((one, index) => ({ ...one, name: `Track ${index + 1}` })))).toBe(
      'right role left left role',
    )
    // Nor does a file that names no instruments.
    expect(plays(...band.map((one, index) => ({ ...one, name: `Track ${index + 1}`, program: undefined })))).toBe(
      'right role left left role',
    )
  })
  it('takes the melody that is named before one that is higher', () => {
    expect(
      plays(voice('Flute', line(TUNE.map(note => note.pitch + 12))), voice('Vocals', TUNE), voice('Bass', BASS), DRUMS),
    ).toBe('role right left role')
  })
  it('takes a keyboard part with two hands before a band', () => {
    const piano = voice('Piano', [...TUNE, ...BASS])
    expect(plays(voice('Vocals', TUNE), piano, voice('Bass', BASS), DRUMS)).toBe('role both role role')
    expect(
      plays(voice('', TUNE, { program: 73 }), { ...piano, name: '', program: 1 }, voice('', BASS, { program: 33 })),
    ).toBe('role both role')
  })
  it('takes no keyboard part that only plays a fill', () => {
    const fill = voice('Piano', line([84, 83, 81, 79, 48, 50], 0.25, 16))
    expect(plays(voice('Vocals', TUNE), fill, voice('Bass', BASS), DRUMS)).toBe('right role left role')
  })
  it('of two keyboard parts takes the higher and the lower, and leaves the rest', () => {
    expect(plays(voice('Piano 2', BASS), voice('Vocals', TUNE), voice('Piano 1', TUNE))).toBe('left role right')
  })
  it('of a choir takes the outer voices, and shares out what lies between', () => {
    const lines = [79, 69, 62, 50].map((pitch, index) =>
      voice(['Soprano', 'Alto', 'Tenor', 'Basso'][index]!, line(repeated([pitch, pitch + 2], 8))),
    )
    expect(plays(...lines)).toBe('right both both left')
    expect(plays(...lines.map(({ notes }) => voice('', [...notes])).reverse())).toBe('left both both right')
  })
  it('is the same an octave higher or lower', () => {
    for (const by of [-12, 12]) {
      expect(
        plays(
          voice(
            'a',
            TUNE.map(note => ({ ...note, pitch: note.pitch + by })),
          ),
          voice(
            'b',
            PAD.map(note => ({ ...note, pitch: note.pitch + by })),
          ),
          voice(
            'c',
            BASS.map(note => ({ ...note, pitch: note.pitch + by })),
          ),
          DRUMS,
        ),
      ).toBe('right left left role')
    }
  })
  it('gives one voice to both hands, and drums to none', () => {
    expect(plays(voice('Anything', TUNE))).toBe('both')
    expect(plays(DRUMS, voice('Anything', TUNE))).toBe('role both')
  })
})

describe('what one hand can hold', () => {
  const left = (...voices: VoiceNote[][]) => splitBetweenHands(voices.map(notes => ({ plays: 'left' as const, notes })))
  const held = ({ hands }: ReturnType<typeof left>) => hands.map(({ note }) => note)
  /** What sounds together at some moment, notes that only touch left out. */
  const stacks = (notes: readonly VoiceNote[]) =>
    notes.map(({ onset }) =>
      notes.filter(other => other.onset <= onset && other.end > onset + 0.06).map(note => note.pitch),
    )

  it('is never more than an octave, or four keys', () => {
    for (const inner of [PAD, chords(32, [48, 52, 55, 59, 62, 65], 1), line(repeated([50, 62, 47, 59], 8), 0.5)]) {
      for (const stack of stacks(held(left(BASS, inner)))) {
        expect(Math.max(...stack) - Math.min(...stack)).toBeLessThanOrEqual(ONE_HAND.span)
        expect(stack.length).toBeLessThanOrEqual(ONE_HAND.keys)
      }
    }
  })
  it('is the whole bass, and of the chords what lies within reach of it', () => {
    const near = BASS.map(note => ({ ...note, pitch: note.pitch + 12 }))
    const dealt = left(near, PAD)
    expect(held(dealt).filter(note => near.includes(note)).length).toBe(near.length)
    // Over C the fifth and the octave, over G all three, over E the third and up.
    expect(stacks(held(dealt)).slice(0, 2)).toEqual([
      [48, 55, 60],
      [48, 55, 60],
    ])
  })
  it('lets a chord go when the bass moves out of reach', () => {
    const dealt = left(line([48, 36], 2), chords(1, [55, 60], 4))
    expect(held(dealt).map(({ pitch, end }) => [pitch, end])).toEqual([
      [48, 2],
      [55, 2],
      [60, 2],
      [36, 4],
    ])
  })
  it('loses nothing: what is not held stays with its voice', () => {
    const dealt = left(BASS, PAD, chords(16, [67, 71]))
    expect(held(dealt).length + dealt.left.flat().length).toBe(BASS.length + PAD.length + 32)
    expect(dealt.left[0]).toEqual([])
  })
  it('is not asked of one voice, nor of what both hands share', () => {
    const wide = chords(4, [36, 48, 60, 64, 67])
    expect(left(wide).left.flat()).toEqual([])
    expect(
      splitBetweenHands([
        { plays: 'both', notes: wide },
        { plays: 'both', notes: PAD },
      ]).hands.every(one => one.hand === undefined),
    ).toBe(true)
  })
  it("is nothing of another role, or nobody's", () => {
    expect(
      splitBetweenHands([
        { plays: 'role', notes: PAD },
        { plays: 'nobody', notes: BASS },
        { plays: 'right', notes: TUNE },
      ]),
    ).toEqual({
      hands: TUNE.map(note => ({ note, hand: 'right', voice: 2 })),
      left: [PAD, BASS, []],
    })
  })
})
