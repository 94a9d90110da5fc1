/** Small inputs that ask for much work: refused by a named limit, whatever the machine. */
import { describe, expect, it } from 'vitest'
import { applyChange } from '#core/edit/change'
import { readTake } from '#core/formats/midi/read-take'
import { writeTrackFile, type PlacedEvent } from '#core/formats/midi/track-file'
import { proposeParts } from '#core/parts/propose'
import { readSong } from '#core/formats/read-score'
import { demoScore } from './material/demo'
import { LIMITS } from '#core/music/limits'

const bytes = (text: string) => new TextEncoder().encode(text)
const struck = (tick: number, pitch = 60): PlacedEvent[] => [
  { tick, order: 1, event: { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: pitch, velocity: 64 } },
  { tick: tick + 10, order: 0, event: { deltaTime: 0, type: 'noteOff', channel: 0, noteNumber: pitch, velocity: 0 } },
]
const midi = (events: PlacedEvent[], ticks = 480) => writeTrackFile([events], ticks)
const hours = (count: number) => Math.round(count * 3600 * 2 * 480)

describe('a chart', () => {
  it.each([
    ['a directive of blanks', `{a${' '.repeat(1000)}x\n`],
    ['nothing but line ends', '\n'.repeat(190_000)],
    ['nothing but brackets', '['.repeat(190_000)],
    ['braces', '{c'.repeat(90_000)],
  ])('of %s is refused at once', (_what, text) => {
    expect(() => readSong(bytes(text), 'a.txt')).toThrow(/expected|characters/)
  })
  it.each([
    ['brackets', '['.repeat(1_900)],
    ['a symbol without end', `[C${'7'.repeat(1_000)}]`],
    ['blanks', `x${' '.repeat(1_900)}x`],
  ])('is read past %s', (_what, line) => {
    expect(readSong(bytes(`[C]\n${line}\n`), 'a.cho').arrangement.bars).toHaveLength(1)
  })
  it('has a limit for a line, for sections and for a symbol, and says where', () => {
    expect(() => readSong(bytes(`{t: x}\n${'[C]a '.repeat(1_000)}`), 'a.cho')).toThrow(
      `line 2: it has 5000 characters; at most ${LIMITS.chartLine} are read`,
    )
    expect(() => readSong(bytes('[Verse]\n| C |\n'.repeat(LIMITS.sections + 1)), 'a.txt')).toThrow(
      `more than ${LIMITS.sections} sections`,
    )
    expect(() => readSong(bytes(`| C${'b5'.repeat(30)} |`), 'a.txt')).toThrow(
      `at most ${LIMITS.symbolCharacters} are read`,
    )
  })
  it('of very many bars is cut into no more parts than can be kept', () => {
    expect(proposeParts(readSong(bytes(`| C | G |\n`.repeat(1_200)), 'a.txt').arrangement).length).toBeLessThanOrEqual(
      LIMITS.cuts,
    )
  })
  it('reads directives with a colon, with a blank, and with neither', () => {
    const { arrangement } = readSong(bytes('{ title :  A name }\n{tempo 72}\n{soc}\n[C]la [G]la\n{eoc}'), 'a.cho')
    expect([arrangement.title, arrangement.tempos[0]!.quarterBpm, arrangement.rehearsals.map(one => one.name)]).toEqual(
      ['A name', 72, ['Chorus']],
    )
  })
})

describe('a MIDI file', () => {
  it('counts its bars in its own meters before any is made', () => {
    const short: PlacedEvent = {
      tick: 0,
      order: 0,
      event: {
        deltaTime: 0,
        type: 'timeSignature',
        meta: true,
        numerator: 1,
        denominator: 32,
        metronome: 24,
        thirtyseconds: 8,
      },
    }
    expect(() => readSong(midi([short, ...struck(0), ...struck(480 * 1_000)]), 'a.mid')).toThrow(
      `more than ${LIMITS.bars} bars`,
    )
    expect(() => readSong(midi([...struck(0), ...struck(480 * 4 * LIMITS.bars)]), 'a.mid')).toThrow(
      `more than ${LIMITS.bars} bars`,
    )
  })
  it('has so many notes, and so many at one moment', () => {
    expect(() =>
      readSong(
        midi(Array.from({ length: LIMITS.notes + 1 }, (_, index) => struck(2 * index, 40 + (index % 40))).flat()),
        'a.mid',
      ),
    ).toThrow(`more than ${LIMITS.notes} notes`)
    expect(() =>
      readSong(
        midi(Array.from({ length: LIMITS.atOnce + 1 }, (_, index) => struck(0, 21 + (index % 88))).flat()),
        'a.mid',
      ),
    ).toThrow(`more than ${LIMITS.atOnce} notes begin at one moment`)
  })
  it('of a performance lasts no longer than a take may', () => {
    expect(readTake(midi([...struck(0), ...struck(hours(0.9))])).notes).toHaveLength(2)
    expect(() => readTake(midi([0, 24, 48].flatMap(at => struck(hours(at)))))).toThrow(
      'it lasts 2880 minutes from the first key to the last; at most 60 are read',
    )
  })
  it('is not trusted with its lengths: whatever byte of it is turned, it is read or refused', () => {
    const good = midi(Array.from({ length: 12 }, (_, index) => struck(240 * index, 60 + (index % 5))).flat())
    for (let at = 14; at < good.length; at++) {
      for (const value of [0x00, 0x7f, 0x80, 0xf0, 0xff]) {
        const turned = Uint8Array.from(good)
        turned[at] = value
        try {
          readTake(turned)
        } catch (error) {
          expect((error as Error).name, `byte ${at}: ${value}`).toBe('UnusableInput')
        }
      }
    }
  })
})

describe('a correction', () => {
  const { arrangement } = demoScore('lantern-ferry.musicxml')
  const late = (quarter: number) => ({
    kind: 'append' as const,
    notes: [{ hand: 'right' as const, onset: { n: quarter, d: 1 }, duration: { n: 1, d: 1 }, pitch: 60 }],
  })
  it('appends no more bars than a song may have', () => {
    expect(applyChange(arrangement, late(8)).bars.length).toBeGreaterThan(arrangement.bars.length)
    for (const quarter of [LIMITS.bars * 4, 2_000_000, 1_000_000_000])
      expect(() => applyChange(arrangement, late(quarter))).toThrow(`a song has at most ${LIMITS.bars} bars`)
  })
  it('appends a phrase with its keys one after the other, and none twice at once', () => {
    const at = (n: number, pitch = 60) => ({
      hand: 'right' as const,
      onset: { n, d: 2 },
      duration: { n: 1, d: 2 },
      pitch,
    })
    const longer = applyChange(arrangement, { kind: 'append', notes: [at(2), at(0), at(1), at(0, 64)] })
    expect(
      longer.notes
        .slice(-4)
        .map(note => [
          note.onset.n / note.onset.d -
            longer.bars[arrangement.bars.length]!.start.n / longer.bars[arrangement.bars.length]!.start.d,
          note.pitch,
        ]),
    ).toEqual([
      [0, 60],
      [0, 64],
      [0.5, 60],
      [1, 60],
    ])
    expect(new Set(longer.notes.map(note => note.id)).size).toBe(longer.notes.length)
    expect(() =>
      applyChange(arrangement, { kind: 'append', notes: [at(0), { ...at(0), duration: { n: 1, d: 1 } }] }),
    ).toThrow('this key is held there already')
  })
})
