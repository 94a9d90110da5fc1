import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import type { Arrangement } from '../music/arrangement'
import { quarters } from '../music/quarters'
import { inspectArrangement } from './json'
import { readMusicXml } from './musicxml/read'
import { readJsonSong } from './read-json'
import { readSong } from './read-score'

const bytes = (value: unknown) => new TextEncoder().encode(JSON.stringify(value))
/** What is meant by the notes: where, how long, what, by whom. */
const meant = ({ notes }: Arrangement) =>
  notes.map(one => [
    one.id,
    one.hand,
    one.barIndex,
    one.onset,
    one.duration,
    one.pitch,
    one.spelled,
    one.finger,
    one.grace?.before,
    one.articulations,
  ])

describe("the program's own JSON", () => {
  it.each(DEMO_FILES)('%s comes back as it was written, bar for bar and note for note', file => {
    const { arrangement } = demoScore(file)
    const again = readJsonSong(JSON.stringify(inspectArrangement(arrangement)))
    expect(meant(again)).toEqual(meant(arrangement))
    expect(
      again.bars.map(({ start, length, offset, meter, fifths, repeatEnd }) => [
        start,
        length,
        offset,
        meter,
        fifths,
        repeatEnd,
      ]),
    ).toEqual(
      arrangement.bars.map(({ start, length, offset, meter, fifths, repeatEnd }) => [
        start,
        length,
        offset,
        meter,
        fifths,
        repeatEnd,
      ]),
    )
    expect(again.order).toEqual(arrangement.order)
    expect([again.chords, again.tempos, again.dynamics, again.pedals, again.lyrics]).toEqual([
      arrangement.chords,
      arrangement.tempos,
      arrangement.dynamics,
      arrangement.pedals,
      arrangement.lyrics,
    ])
    // And once more, from itself.
    expect(inspectArrangement(again)).toEqual({ ...inspectArrangement(arrangement), warnings: [], unused: [] })
  })
  it('keeps triplets and tuplets exact, though their decimals are rounded', () => {
    const { arrangement } = readMusicXml(bytesOf(pianoScore([attributes() + quarterNotes('C4 D4 E4 F4')])))
    const shifted: Arrangement = {
      ...arrangement,
      notes: arrangement.notes.map((one, index) => ({ ...one, onset: quarters(index, 7), duration: quarters(1, 7) })),
    }
    expect(meant(readJsonSong(JSON.stringify(inspectArrangement(shifted))))).toEqual(meant(shifted))
  })
  it('is read as a song, exact or as documented, and its title may be changed', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    for (const document of [inspectArrangement(arrangement), arrangement]) {
      const song = readSong(bytes(document), 'song.json', { title: 'Another' })
      expect(song).toMatchObject({ format: 'JSON', arrangement: { title: 'Another' } })
      expect(meant(song.arrangement).map(one => one.slice(1))).toEqual(meant(arrangement).map(one => one.slice(1)))
      expect(song.musicXml).toContain(`id="${song.arrangement.notes[0]!.id}"`)
    }
  })
  it('what is wrong with it is said with the place', () => {
    const good = inspectArrangement(demoScore('lantern-ferry.musicxml').arrangement)
    for (const other of [{ ...good, format: 'other' }, { name: 'a package' }])
      expect(() => readSong(bytes(other), 'a.json')).toThrow(/^byte 0: a song in the format half-step\/arrangement/)
    expect(() => readSong(bytes({ ...good, notes: [{ ...good.notes[0], pitch: 'C' }] }), 'a.json')).toThrow(
      /notes\.0\.pitch/,
    )
    expect(() => readSong(bytes({ ...good, notes: [{ ...good.notes[0], onsetQuarter: 90_000 }] }), 'a.json')).toThrow(
      /notes\[0\]\.onset/,
    )
    expect(() =>
      readSong(bytes({ ...demoScore('lantern-ferry.musicxml').arrangement, order: [900] }), 'a.json'),
    ).toThrow(/order\[0\]: there is no such bar/)
    expect(() => readSong(new TextEncoder().encode('{"format": "half-'), 'a.json')).toThrow(/not valid JSON/)
  })
})
