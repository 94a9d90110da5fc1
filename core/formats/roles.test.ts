/**
 * Who plays what in a song that was read before. Invented songs of several tracks and parts; what must stay is common
 * sense, no published source.
 */
import { describe, expect, it } from 'vitest'
import { applyChange } from '../edit/change'
import type { Arrangement } from '../music/arrangement'
import { toDecimal } from '../music/quarters'
import type { VoiceChoice } from '../music/voice'
import { writeTrackFile } from './midi/track-file'
import { ScoreDocument } from './musicxml/document'
import type { ReadScore } from './musicxml/read'
import { standScore } from './musicxml/stand-score'
import { readSong } from './read-score'
import { voicesOf, withHandsSwapped, withRoles } from './roles'

const TICKS = 480
function midi(
  tracks: readonly {
    name: string
    channel: number
    notes: readonly [pitch: number, onset: number, length: number][]
  }[],
): ReadScore {
  return readSong(
    writeTrackFile(
      tracks.map(({ name, channel, notes }) => [
        { tick: 0, order: 0, event: { deltaTime: 0, type: 'trackName', meta: true, text: name } },
        ...notes.flatMap(([noteNumber, onset, length]) => [
          {
            tick: onset * TICKS,
            order: 2,
            event: { deltaTime: 0, type: 'noteOn' as const, channel, noteNumber, velocity: 80 },
          },
          {
            tick: (onset + length) * TICKS,
            order: 1,
            event: { deltaTime: 0, type: 'noteOff' as const, channel, noteNumber, velocity: 0 },
          },
        ]),
      ]),
      TICKS,
    ),
    'band.mid',
  )
}
const BAND = midi([
  {
    name: 'Vocals',
    channel: 0,
    notes: [
      [72, 0, 1],
      [74, 1, 1],
      [76, 2, 2],
      [77, 4, 4],
    ],
  },
  {
    name: 'Strings',
    channel: 1,
    notes: [
      [55, 0, 4],
      [60, 0, 4],
      [64, 0, 4],
      [53, 4, 4],
      [57, 4, 4],
    ],
  },
  {
    name: 'Bass',
    channel: 2,
    notes: [
      [48, 0, 2],
      [43, 2, 2],
      [41, 4, 4],
    ],
  },
  {
    name: 'Kit',
    channel: 9,
    notes: [
      [36, 0, 1],
      [38, 2, 1],
    ],
  },
])
const part = (id: string, name: string, notes: string) => ({ id, name, notes })
const note = (step: string, octave: number, more = '') =>
  `<note><pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>4</duration><type>whole</type>${more}</note>`
const xml = (...parts: ReturnType<typeof part>[]) =>
  readSong(
    new TextEncoder().encode(
      `<score-partwise><part-list>${parts.map(({ id, name }) => `<score-part id="${id}"><part-name>${name}</part-name></score-part>`).join('')}</part-list>${parts
        .map(
          ({ id, notes }) =>
            `<part id="${id}"><measure number="1"><attributes><divisions>1</divisions></attributes>${notes}</measure></part>`,
        )
        .join('')}</score-partwise>`,
    ),
    'choir.xml',
  )
const CHOIR = xml(
  part('S', 'Soprano', note('C', 6)),
  part('A', 'Alto', note('E', 5, '<lyric><text>la</text></lyric>')),
  part('T', 'Tenor', note('G', 3)),
  part('B', 'Bass', note('C', 3)),
)

const sounding = ({ notes, others }: Arrangement) =>
  [
    ...notes.map(one => `${one.hand}${one.pitch}`),
    ...others.flatMap(role => role.notes.map(one => `${role.silent ? '-' : role.name}${one.pitch}`)),
  ].sort()
const plays = (score: ReadScore) =>
  voicesOf(score)
    .map(voice => voice.plays)
    .join(' ')
const pitches = ({ arrangement: { notes, others } }: ReadScore) =>
  [...notes, ...others.flatMap(role => role.notes)].map(one => one.pitch).sort((a, b) => a - b)

describe.each([
  ['tracks', BAND, 'right left left role'],
  ['parts', CHOIR, 'right both both left'],
] as const)('a song of several %s', (_, song, proposed) => {
  it('says who plays what', () => expect(plays(song)).toBe(proposed))
  it('is itself when nothing is decided otherwise', () => expect(withRoles(song, { 1: 'right' })).toBe(song))
  it.each<[VoiceChoice, string]>([
    [{ 1: 'role', 2: 'right' }, 'role right'],
    [{ 1: 'nobody', 2: 'right' }, 'nobody right'],
    [{ 1: 'left', 3: 'right' }, 'left'],
  ])('takes %o and can be put back', (choice, expected) => {
    const changed = withRoles(song, choice)
    expect(plays(changed)).toContain(expected)
    const back = withRoles(changed, Object.fromEntries(voicesOf(song).map(voice => [voice.number, voice.plays])))
    expect(plays(back)).toBe(proposed)
    expect(sounding(back.arrangement)).toEqual(sounding(song.arrangement))
  })
  it('must have a hand that plays', () =>
    expect(() => withRoles(song, { 1: 'role', 2: 'role', 3: 'nobody', 4: 'role' })).toThrow('for a hand'))
  it('keeps its bars and its title', () => {
    const { arrangement } = withRoles(
      { ...song, arrangement: { ...song.arrangement, title: 'Another title' } },
      { 1: 'role', 2: 'right' },
    )
    expect(arrangement.bars).toEqual(song.arrangement.bars)
    expect(arrangement.title).toBe('Another title')
  })
})

describe('other players', () => {
  it('lose no note of any track, whatever is decided', () => {
    for (const one of ['right', 'left', 'both', 'role', 'nobody'] as const) {
      for (const other of ['right', 'left', 'both', 'role', 'nobody'] as const)
        expect(pitches(withRoles(BAND, { 1: one, 2: other, 3: 'left' }))).toEqual(pitches(BAND))
    }
  })
  it('never get drums into a hand', () =>
    expect(plays(withRoles(BAND, { 4: 'right', 1: 'role' }))).toBe('role left left role'))
  it('are written in the MusicXML, without those whom nobody plays', () => {
    const names = ({ musicXml }: ReadScore) => [...musicXml.matchAll(/<part-name>([^<]*)/g)].map(match => match[1])
    expect(names(withRoles(BAND, { 1: 'role', 2: 'right' }))).toEqual(['Vocals', 'Piano'])
    expect(names(withRoles(BAND, { 1: 'nobody', 2: 'right' }))).toEqual(['Piano'])
  })
  it('keep a corrected note, its finger and its hand', () => {
    const first = CHOIR.arrangement.notes.find(one => one.pitch === 48)!
    const inner = CHOIR.arrangement.notes.find(one => one.pitch === 76)!
    const edited = [
      { kind: 'pitch', ids: [first.id], halfSteps: 2 },
      { kind: 'finger', id: first.id, finger: 5 },
      { kind: 'hand', ids: [inner.id], hand: 'left' },
    ] as const
    const arrangement = edited.reduce<Arrangement>(
      (before, change) =>
        applyChange(before, { ...change, ...('ids' in change ? { ids: [...change.ids] } : {}) } as never),
      CHOIR.arrangement,
    )
    const changed = withRoles(new ScoreDocument(CHOIR).revised(arrangement), { 1: 'role' })
    expect(changed.arrangement.notes.find(one => one.id === first.id)).toMatchObject({
      pitch: 50,
      finger: 5,
      hand: 'left',
    })
  })
  it('strike no key twice at once in one hand, and end a note whose key is struck again', () => {
    const twice = midi([
      {
        name: 'Vocals',
        channel: 0,
        notes: [
          [72, 0, 4],
          [74, 4, 4],
        ],
      },
      {
        name: 'Flute',
        channel: 1,
        notes: [
          [72, 0, 1],
          [72, 2, 2],
          [79, 4, 4],
        ],
      },
      { name: 'Bass', channel: 2, notes: [[41, 0, 8]] },
    ])
    const both = withRoles(withRoles(twice, { 1: 'role' }), { 1: 'both', 2: 'both' })
    const struck = both.arrangement.notes.filter(one => one.pitch === 72)
    expect(struck.map(one => [toDecimal(one.onset), toDecimal(one.duration)])).toEqual([
      [0, 2],
      [2, 2],
    ])
    expect(pitches(both)).toEqual(pitches(twice))
  })
  it('are not given to a voice that is not there', () =>
    expect(() => withRoles(BAND, { 9: 'right' })).toThrow('voice 9'))
  it('leave the document of a score as it is', () =>
    expect(withRoles(CHOIR, { 1: 'role', 2: 'right' }).musicXml).toBe(CHOIR.musicXml))
  it('have their words, and nobody has none', () => {
    expect(withRoles(CHOIR, { 2: 'role' }).arrangement.lyrics).toHaveLength(1)
    expect(withRoles(CHOIR, { 2: 'nobody' }).arrangement.lyrics).toEqual([])
  })
})

describe('hands the other way round', () => {
  it.each([
    ['tracks', BAND],
    ['parts', CHOIR],
  ] as const)('of %s are what they were when swapped twice', (_, song) => {
    const swapped = withHandsSwapped(song)
    expect(swapped.arrangement.notes.map(one => one.hand)).not.toEqual(song.arrangement.notes.map(one => one.hand))
    expect(sounding(withHandsSwapped(swapped).arrangement)).toEqual(sounding(song.arrangement))
  })
})

describe('what is played from', () => {
  const names = (score: ReadScore) => [...standScore(score).matchAll(/<part-name>([^<]*)/g)].map(match => match[1])
  const heads = (score: ReadScore) =>
    [...standScore(score).matchAll(/<note id="([^"]*)"/g)].map(match => match[1]).sort()
  it('has the staves that the hands play, and others where they carry words', () => {
    expect(names(BAND)).toEqual(['Piano'])
    expect(names(withRoles(CHOIR, { 2: 'role', 3: 'role' }))).toEqual(['Soprano', 'Alto', 'Bass'])
    expect(names(withRoles(CHOIR, { 2: 'nobody', 3: 'role' }))).toEqual(['Soprano', 'Bass'])
    expect(names(withRoles(CHOIR, { 1: 'role', 2: 'right', 3: 'role' }))).toEqual(['Alto', 'Bass'])
  })
  it('has two staves where more than two parts are shared out, with the same noteheads', () => {
    expect(names(CHOIR)).toEqual(['Piano'])
    expect(heads(CHOIR)).toEqual(CHOIR.arrangement.notes.map(one => one.id).sort())
  })
  it('is the document itself where its rhythm cannot be written anew', () => {
    const strange = {
      ...CHOIR.arrangement,
      notes: CHOIR.arrangement.notes.map((one, index) => (index === 0 ? { ...one, duration: { n: 1, d: 7919 } } : one)),
    }
    expect(standScore({ ...CHOIR, arrangement: strange })).toBe(CHOIR.musicXml)
  })
  it('is the document itself where the hands play all of it', () => {
    const piano = withRoles(CHOIR, { 2: 'nobody', 3: 'nobody' })
    expect(standScore({ ...piano, arrangement: { ...piano.arrangement, partPlays: ['right', 'left'] } })).toBe(
      CHOIR.musicXml,
    )
  })
})
