import { strToU8 } from 'fflate'
import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoBytes, demoScore } from '../../tests/material/demo'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import { writeTrackFile, type PlacedEvent } from './midi/track-file'
import { writeArrangementMidi } from './midi/write-arrangement'
import { compressMusicXml } from './musicxml/archive'
import { readMusicXml } from './musicxml/read'
import { readSong } from './read-score'
import { UnusableInput } from './unusable'

const score = pianoScore([attributes() + quarterNotes('C4 D4 E4 F4')])

describe('a song in any format', () => {
  it('is known by its content, whatever the file is called', () => {
    expect(readSong(bytesOf(score), 'notes.txt').format).toBe('MusicXML')
    expect(readSong(compressMusicXml(score), 'notes').format).toBe('MusicXML')
    expect(readSong(writeArrangementMidi(demoScore(DEMO_FILES[0]!).arrangement), 'song.musicxml').format).toBe('MIDI')
    expect(readSong(strToU8('| C | F |'), 'song.mid').format).toBe('chord chart')
    expect(readSong(strToU8('{title: X}\n[C]la'), 'x.cho').arrangement.title).toBe('X')
  })
  it("has its file's name where it does not name itself", () => {
    expect(readSong(bytesOf(score), '/home/me/evening_walk-2.musicxml').arrangement.title).toBe('evening walk 2')
    expect(readSong(strToU8('| C |'), '').arrangement.title).toBe('Untitled')
    expect(readSong(bytesOf(score), 'x.musicxml', { title: 'Mine', composer: 'Me' }).arrangement).toMatchObject({
      title: 'Mine',
      composer: 'Me',
    })
  })
  it('can be engraved: its notes have the ids of the arrangement', () => {
    for (const bytes of [
      strToU8('| C / G/B / | Am |'),
      writeArrangementMidi(demoScore(DEMO_FILES[0]!).arrangement),
      demoBytes(DEMO_FILES[0]!),
    ]) {
      const { arrangement, musicXml } = readSong(bytes, 'x')
      for (const note of arrangement.notes)
        for (const id of [note.id, ...note.tiedIds]) expect(musicXml).toContain(`id="${id}"`)
    }
  })
  it('has its hands the other way round when the player says so, in the engraving too', () => {
    const bytes = demoBytes(DEMO_FILES[0]!)
    const [plain, swapped] = [readSong(bytes, 'x'), readSong(bytes, 'x', { swapHands: true })]
    const hands = (notes: typeof plain.arrangement.notes) => notes.map(note => `${note.id} ${note.hand}`).sort()
    expect(hands(swapped.arrangement.notes)).toEqual(
      hands(plain.arrangement.notes.map(note => ({ ...note, hand: note.hand === 'right' ? 'left' : 'right' }))),
    )
    expect(hands(readMusicXml(bytesOf(swapped.musicXml)).arrangement.notes)).toEqual(hands(swapped.arrangement.notes))
  })
  it('names each guess apart from what is not used', () => {
    const { guesses, arrangement } = readSong(bytesOf(score.replace('</measure>', '<figured-bass/></measure>')), 'x')
    expect(guesses).toEqual([])
    expect(arrangement.warnings).toEqual([{ kind: 'element', name: 'figured-bass', bar: '1' }])
  })
  it("shows a MIDI file's tracks, and gives them to whom the player says", () => {
    const bytes = writeArrangementMidi(demoScore(DEMO_FILES[0]!).arrangement)
    const { voices } = readSong(bytes, 'x')
    expect(voices.map(voice => [voice.name, voice.plays])).toEqual([
      ['Right hand', 'right'],
      ['Left hand', 'left'],
    ])
    const other = readSong(bytes, 'x', { voices: { 1: 'role' } })
    expect(other.arrangement.notes.every(note => note.hand === 'left')).toBe(true)
    expect(other.arrangement.others.map(role => role.notes.length)).toEqual([voices[0]!.notes])
    expect(() => readSong(bytes, 'x', { voices: { 1: 'role', 2: 'nobody' } })).toThrow('no track is given to a hand')
  })
  it('is never refused for its rhythm: nearly exact places among which some are too fine are written on a grid, and that is said', () => {
    // Nine of ten notes on the beat; the rest at odd ticks of a fine clock, as an edited recording has them.
    const events: PlacedEvent[] = Array.from({ length: 300 }, (_, index) => {
      const tick = 960 * index + (index % 11 === 7 ? 37 * (index % 13) + 11 : 0)
      const event = { channel: 0, noteNumber: 60 + ((index * 5) % 17) } as const
      return [
        { tick, order: 1, event: { ...event, deltaTime: 0, type: 'noteOn', velocity: 64 } },
        {
          tick: tick + 700 + 29 * (index % 7),
          order: 0,
          event: { ...event, deltaTime: 0, type: 'noteOff', velocity: 0 },
        },
      ] satisfies PlacedEvent[]
    }).flat()
    const { arrangement, guesses, musicXml } = readSong(writeTrackFile([events], 960), 'odd.mid')
    expect(arrangement.notes).toHaveLength(300)
    expect(guesses.map(one => one.kind)).toContain('off-the-grid')
    expect(readMusicXml(bytesOf(musicXml)).arrangement.notes).toHaveLength(300)
    expect(arrangement.notes.every((note, index) => Math.abs(note.onset.n / note.onset.d - index) < 1)).toBe(true)
  })
  it('with a key struck twice at one moment says how many notes were merged', () => {
    const twice = [0, 0, 480, 960]
      .map((tick, index): PlacedEvent[] => [
        {
          tick,
          order: 1,
          event: { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: 60 + (tick > 0 ? index : 0), velocity: 64 },
        },
        {
          tick: tick + 400 + index,
          order: 0,
          event: { deltaTime: 0, type: 'noteOff', channel: 0, noteNumber: 60 + (tick > 0 ? index : 0), velocity: 0 },
        },
      ])
      .flat()
    const { arrangement } = readSong(writeTrackFile([twice, twice.map(one => ({ ...one }))], 480), 'x.mid', {
      voices: { 1: 'right', 2: 'right' },
    })
    expect(arrangement.notes).toHaveLength(3)
    expect(arrangement.warnings).toContainEqual({ kind: 'merged-notes', notes: expect.any(Number) as number })
  })
  it.each([
    [new Uint8Array(), 'empty'],
    [strToU8('dear diary'), 'a chord chart'],
    [strToU8('RIFF....WAVE'), 'was expected'],
    [strToU8('<html/>'), 'score-partwise'],
  ])('says what it expected of %#', (bytes, words) => {
    expect(() => readSong(bytes, 'x')).toThrow(UnusableInput)
    expect(() => readSong(bytes, 'x')).toThrow(words)
  })
})
